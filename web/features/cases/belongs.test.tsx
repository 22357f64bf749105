import { fireEvent, screen, waitFor, within } from '@testing-library/react';
import type { CaseDetail } from '../../../core/wire/cases.js';
import { fakeApi, refuse, removeAsked, show } from '../../tests/page.js';
import { BelongsPart, LinkCase, SplitCase } from './BelongsPart.js';

const one = {
  id: 7,
  number: '26-7',
  title: 'Somebody else is Teo',
  watchers: ['runa.keel'],
  links: [{ id: 4, number: '26-4', title: 'The spray', state: 'closed', why: 'the same address' }],
  pinned: [
    { id: 1, kind: 'alert', title: 'Desk taken over' },
    { id: 2, kind: 'file', title: '<b>mail</b>.eml' },
  ],
} as unknown as CaseDetail;
const told: unknown[] = [];
const part = (mayChange = true, more: Partial<CaseDetail> = {}) => (
  <BelongsPart
    one={{ ...one, ...more }}
    search=""
    mayChange={mayChange}
    onWatch={(watching) => told.push(['watch', watching])}
    onFile={(file) => told.push(['file', file.name])}
    onUnlink={(to) => told.push(['unlink', to])}
    onDialog={(name) => told.push(['dialog', name])}
  />
);
beforeEach(() => told.splice(0));
const press = (name: string): void => {
  fireEvent.click(screen.getByRole('button', { name }));
};

it('says who follows a case and what belongs together with it, and offers what can be done', () => {
  show(part(), { role: 'analyst' });
  expect(screen.getByText('runa.keel')).toBeTruthy();
  const link = screen.getByRole('link', { name: /26-4 The spray/ });
  expect(link.getAttribute('href')).toBe('/cases/4');
  expect(screen.getByText('closed, the same address')).toBeTruthy();
  press('Follow');
  press('Link a case');
  press('Split');
  fireEvent.change(screen.getByLabelText('Pin a file'), {
    target: { files: [new File(['x'], 'mail.eml')] },
  });
  removeAsked(/^Unlink case 26-4/);
  expect(told).toEqual([
    ['watch', true],
    ['dialog', 'link'],
    ['dialog', 'split'],
    ['file', 'mail.eml'],
    ['unlink', 4],
  ]);
});

it('whoever reads may follow, and nothing else', () => {
  show(part(false), { role: 'reader' });
  expect(screen.getAllByRole('button').map((button) => button.textContent)).toEqual(['Follow']);
  expect(screen.queryByLabelText('Pin a file')).toBeNull();
});

it('a split needs a title and something to go over; texts of pins are texts', () => {
  const split = jest.fn();
  show(<SplitCase one={one} failure={null} busy={false} onSplit={split} onClose={jest.fn()} />);
  const dialog = within(screen.getByRole('dialog'));
  const send = dialog.getByRole<HTMLButtonElement>('button', { name: 'Into a new case' });
  expect(send.disabled).toBe(true);
  fireEvent.change(dialog.getByLabelText('Title of the new case'), { target: { value: ' The mail ' } });
  fireEvent.click(dialog.getByLabelText('file: <b>mail</b>.eml'));
  fireEvent.click(dialog.getByLabelText('alert: Desk taken over'));
  fireEvent.click(dialog.getByLabelText('alert: Desk taken over'));
  fireEvent.click(send);
  expect(split).toHaveBeenCalledWith('The mail', [2]);
});

it('a link is made with another case and what they have in common; what is refused is told', async () => {
  fakeApi({
    'GET /cases': {
      cases: [
        { id: 7, number: '26-7', title: 'This one' },
        { id: 9, number: '26-9', title: 'Other' },
      ],
      next: null,
    },
  });
  const link = jest.fn();
  const { unmount } = show(
    <LinkCase one={one} failure={null} busy={false} onLink={link} onClose={jest.fn()} />,
  );
  await screen.findByRole('option', { name: '26-9 Other' });
  expect(screen.queryByRole('option', { name: '26-7 This one' })).toBeNull();
  fireEvent.change(screen.getByLabelText('Which case'), { target: { value: '9' } });
  fireEvent.change(screen.getByLabelText('What they have in common'), { target: { value: 'the host' } });
  press('Link');
  expect(link).toHaveBeenCalledWith(9, 'the host');
  unmount();
  fakeApi({ 'GET /cases': refuse(500, 'x') });
  show(
    <LinkCase one={one} failure={new Error('It is gone.')} busy={false} onLink={link} onClose={jest.fn()} />,
  );
  await waitFor(() => expect(screen.getByText('It is gone.')).toBeTruthy());
});
