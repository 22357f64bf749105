import { fireEvent, screen, waitFor, within } from '@testing-library/react';
import { fakeApi, refuse, removeAsked, show } from '../../tests/page.js';
import type { IntakeRuleWire } from '../../../core/wire/intake-rules.js';
import { IntakeRulesPage } from './IntakeRulesPage.js';
import { asksWords, textToWhen, toBody, toFields, whenToText } from './rule-form.js';

const rule = (more: Partial<IntakeRuleWire> = {}): IntakeRuleWire => ({
  id: 1,
  title: 'Checks of the balancer',
  on: true,
  source: null,
  when: { agent: 'balancer*', status: ['200', '503'] },
  holds: null,
  tags: ['balancer'],
  forward: [],
  discard: false,
  recipe: null,
  met: 1234,
  lastMet: '2026-11-14T08:00:00Z',
  forwarded: 0,
  waiting: 0,
  givenUp: 0,
  notForwarded: 0,
  said: null,
  ...more,
});
const answers = (rules: IntakeRuleWire[]): Record<string, unknown> => ({
  'GET /intake-rules': { rules },
  'GET /tags': { tags: [{ name: 'balancer', colour: 'umber', about: 'no person' }] },
  'GET /sources': { sources: [] },
  'GET /recipes': { recipes: [{ name: 'web-access', title: 'Access logs' }] },
});
const type = (label: string, text: string): void => {
  fireEvent.change(screen.getByLabelText(label), { target: { value: text } });
};
const press = (name: string | RegExp): void => {
  fireEvent.click(screen.getByRole('button', { name }));
};

describe('conditions as lines', () => {
  it('go to and fro', () => {
    const when = { agent: 'balancer*', status: ['200', '503'], user: null };
    expect(whenToText(when)).toBe('agent = balancer*\nstatus = 200\nstatus = 503\nuser =');
    expect(textToWhen(whenToText(when))).toEqual(when);
    expect(textToWhen('  \n')).toBeNull();
    expect(textToWhen('path = /a=b')).toEqual({ path: '/a=b' });
    expect(() => textToWhen('agent = x\nnothing')).toThrow('Line 2');
    const body = toBody(toFields(rule({ forward: ['sink', 'collector'] })));
    expect(body).toMatchObject({ tags: ['balancer'], forward: ['sink', 'collector'], recipe: null });
  });

  it('are told in words', () => {
    expect(asksWords({ when: { agent: ['a', 'b'], user: null }, holds: 'x' })).toBe(
      'agent = a or b and no user and holds “x”',
    );
    expect(asksWords({ when: null, holds: null })).toBe('every record');
  });
});

it('rules stand in their order with what they ask, do, and met; a tag has its word and its meaning', async () => {
  fakeApi(answers([rule(), rule({ id: 2, title: 'Off', on: false, givenUp: 3, tags: [], discard: true })]));
  show(<IntakeRulesPage />, { at: '/sources/~way-in', role: 'admin' });
  await screen.findByText('Checks of the balancer');
  expect(screen.getAllByText('1,234')).toHaveLength(2);
  expect(screen.getAllByText('agent = balancer* and status = 200 or 503')).toHaveLength(2);
  expect(screen.getByText('3 not sent')).toBeTruthy();
  await waitFor(() => expect(screen.getAllByTitle('no person').length).toBeGreaterThan(0));
});

it('a rule is added as its form says, and what is refused stays with the reason', async () => {
  const api = fakeApi({ ...answers([]), 'POST /intake-rules': refuse(422, 'There is no recipe "x".') });
  show(<IntakeRulesPage />, { at: '/sources/~way-in', role: 'admin' });
  await screen.findByText('No rules of the way in yet');
  press('New rule');
  type('What it is for', 'Scanner');
  type('Fields, as the source names them', 'agent = scan*');
  type('Tags, with commas between', 'scanner, noise');
  press('Add the rule');
  await screen.findByText('There is no recipe "x".');
  expect(api.changes()[0]?.body).toEqual({
    title: 'Scanner',
    on: true,
    source: null,
    when: { agent: 'scan*' },
    holds: null,
    tags: ['scanner', 'noise'],
    forward: [],
    discard: false,
    recipe: null,
  });
  type('Fields, as the source names them', 'nothing');
  press('Add the rule');
  await screen.findByText(/Line 1 of the fields/);
  expect(api.changes()).toHaveLength(1);
});

it('is tried on stored records before it is kept', async () => {
  const api = fakeApi({
    ...answers([rule()]),
    'POST /intake-rules/try': {
      looked: 500,
      met: 7,
      records: [{ source: 'web-edge', raw: '<b>raw</b>', became: 'event', what: 'web · web.request' }],
    },
  });
  show(<IntakeRulesPage />, { at: '/sources/~way-in', role: 'admin' });
  fireEvent.click(await screen.findByText('Checks of the balancer'));
  press('Try on stored records');
  const told = await screen.findByRole('region', { name: 'What it would have done' });
  expect(within(told).getByText('7 of the newest 500 meet it')).toBeTruthy();
  expect(within(told).getByText('<b>raw</b>')).toBeTruthy();
  expect(api.changes().map(({ path }) => path)).toEqual(['/intake-rules/try']);
});

it('is moved, and removed after asking', async () => {
  const api = fakeApi({
    ...answers([rule(), rule({ id: 2, title: 'Second' })]),
    'PUT /intake-rules/order': {},
    'DELETE /intake-rules/2': {},
  });
  show(<IntakeRulesPage />, { at: '/sources/~way-in', role: 'admin' });
  fireEvent.click(await screen.findByText('Second'));
  press('Move up');
  await waitFor(() => expect(api.changes()[0]?.body).toEqual({ ids: [2, 1] }));
  removeAsked(/^Remove this rule/);
  await waitFor(() =>
    expect(api.changes().at(-1)).toMatchObject({ method: 'DELETE', path: '/intake-rules/2' }),
  );
});

it('a reader sees all of it and can change nothing', async () => {
  fakeApi(answers([rule()]));
  show(<IntakeRulesPage />, { at: '/sources/~way-in', role: 'reader' });
  fireEvent.click(await screen.findByText('Checks of the balancer'));
  await screen.findByText('Only an admin may change this.');
  expect(screen.queryByRole('button', { name: 'New rule' })).toBeNull();
  expect(screen.getByRole('button', { name: 'Keep the rule' })).toHaveProperty('disabled', true);
});
