import { fireEvent, screen, waitFor } from '@testing-library/react';
import type { CaseDetail } from '../../../core/wire/cases.js';
import { fakeApi, show } from '../../tests/page.js';
import { gravest } from './gravest.js';
import { ReportBar } from './ReportBar.js';
import { SubjectsPart } from './SubjectsPart.js';

const subject = (kind: string, name: string, role: string | null = null) => ({ kind, name, role });
const one = (more: object = {}): CaseDetail =>
  ({
    id: 7,
    title: 'A desk that talks at night',
    severity: null,
    subjects: [
      subject('ship', 'sv-mirren'),
      subject('address', '203.0.113.77'),
      subject('host', 'quay-tk-07', 'used'),
    ],
    pinned: [
      { id: 1, level: 'low' },
      { id: 2, level: 'high' },
    ],
    notes: [],
    tasks: [],
    ...more,
  }) as unknown as CaseDetail;
const part = (mayChange = true, of = one()) => (
  <SubjectsPart one={of} search="" mayChange={mayChange} onRole={(...said) => told.push(said)} />
);
const told: unknown[] = [];
beforeEach(() => told.splice(0));

it('names stand by their roles, lead to their dossiers, and get a role', () => {
  show(part(), { role: 'analyst' });
  expect(screen.getByText('3 names')).toBeTruthy();
  expect(screen.getByRole('link', { name: '203.0.113.77' }).getAttribute('href')).toBe(
    '/dossier/address/203.0.113.77',
  );
  // What is of no kind we know has no dossier.
  expect(screen.queryByRole('link', { name: 'sv-mirren' })).toBeNull();
  fireEvent.change(screen.getByLabelText('What 203.0.113.77 is'), { target: { value: 'attacker' } });
  fireEvent.change(screen.getByLabelText('What quay-tk-07 is'), { target: { value: '' } });
  expect(told).toEqual([
    [expect.objectContaining({ name: '203.0.113.77' }), 'attacker'],
    [expect.objectContaining({ name: 'quay-tk-07' }), null],
  ]);
});

it('an alert is raised about any that has a dossier, those with a role first, as grave as what is pinned', async () => {
  const api = fakeApi({
    'POST /alerts': { id: 12, title: 'x', subject: 'quay-tk-07', lastEvent: '2026-11-30T00:00:00Z' },
    'POST /cases/7/pins': {},
  });
  show(part(), { role: 'analyst' });
  fireEvent.click(screen.getByRole('button', { name: 'Raise an alert' }));
  const about = await screen.findByLabelText<HTMLSelectElement>('About');
  expect([...about.options].map(({ text }) => text)).toEqual(['host quay-tk-07', 'address 203.0.113.77']);
  fireEvent.click(screen.getByRole('button', { name: 'Raise it' }));
  await waitFor(() => expect(api.changes()).toHaveLength(2));
  expect(api.changes()[0]?.body).toMatchObject({
    kind: 'host',
    name: 'quay-tk-07',
    title: 'A desk that talks at night',
    level: 'high',
  });
});

it('whoever reads gives no role and raises nothing; a case about nobody we know offers nothing to raise', () => {
  const first = show(part(false), { role: 'reader' });
  expect(screen.queryByLabelText('What 203.0.113.77 is')).toBeNull();
  expect(screen.queryByRole('button', { name: 'Raise an alert' })).toBeNull();
  first.unmount();
  show(part(true, one({ subjects: [subject('ship', 'sv-mirren')] })), { role: 'analyst' });
  expect(screen.queryByRole('button', { name: 'Raise an alert' })).toBeNull();
});

it('many names without a role fold', () => {
  const many = Array.from({ length: 11 }, (_, i) => subject('user', `crew${i}`));
  show(part(true, one({ subjects: many })), { role: 'analyst' });
  expect(screen.getByText('3 more names')).toBeTruthy();
});

it('a case is as grave as somebody said, else as the gravest of what is pinned', () => {
  expect(gravest(one())).toBe('high');
  expect(gravest(one({ severity: 'low' }))).toBe('low');
  expect(gravest(one({ pinned: [] }))).toBeNull();
});

it('the report says what it holds, and names what is no longer as it was pinned', async () => {
  fakeApi({
    'GET /cases/7/verify': {
      holds: false,
      pins: [
        { id: 1, title: 'Desk taken over', holds: true },
        { id: 2, title: '<b>mail</b>.eml', holds: false },
      ],
    },
  });
  show(<ReportBar one={one()} />, { role: 'reader' });
  expect(await screen.findByText(/No longer as pinned: <b>mail<\/b>.eml/)).toBeTruthy();
  expect(screen.getByText('2 pins, 0 notes, 0 tasks, 1 subject')).toBeTruthy();
  for (const [name, form] of [
    ['Preview', 'html'],
    ['Markdown', 'markdown'],
    ['STIX 2.1', 'stix'],
    ['File', 'json'],
  ] as const)
    expect(screen.getByRole('link', { name }).getAttribute('href')).toBe(
      `/api/v1/cases/7/report?form=${form}`,
    );
});
