import { fireEvent, screen, waitFor } from '@testing-library/react';
import type { JSX } from 'react';
import { fakeApi, refuse, show } from '../../tests/page.js';
import { useHeld } from './use-held.js';

const TEXT = 'from all\njoin ( from all ) as b on user';
const window = { from: '2026-11-13T00:00:00Z', to: '2026-11-14T00:00:00Z' };

function Part(): JSX.Element {
  const { held, cost, release } = useHeld(TEXT, window, {}, []);
  return (
    <button type="button" onClick={release}>
      {held ? `held, ${cost?.events ?? 'unknown'}` : 'runs'}
    </button>
  );
}
const said = (): string | null => screen.getByRole('button').textContent;

beforeEach(() => sessionStorage.clear());

it('a dear hunt that came in an address waits until somebody says so; reloading does not ask again', async () => {
  fakeApi({ 'POST /hunts/cost': { events: 5_000_000, small: false } });
  const first = show(<Part />);
  // Nothing runs while it is not known what it costs.
  expect(said()).toBe('held, unknown');
  await screen.findByText('held, 5000000');
  fireEvent.click(screen.getByRole('button'));
  expect(said()).toBe('runs');
  first.unmount();
  show(<Part />);
  expect(said()).toBe('runs');
});

it.each([
  ['a small one', { events: 10, small: true }],
  ['one with a mistake', refuse(422, 'No step is called "frm".')],
])('%s runs by itself', async (_name, answer) => {
  fakeApi({ 'POST /hunts/cost': answer });
  show(<Part />);
  await waitFor(() => expect(said()).toBe('runs'));
});
