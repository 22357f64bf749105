import { fireEvent, screen, waitFor } from '@testing-library/react';
import type { JSX } from 'react';
import { fakeApi, lines, refuse, show } from '../../tests/page.js';
import { useReplay } from './use-replay.js';

const window = { from: '2026-11-28T00:00:00Z', to: '2026-11-29T00:00:00Z' };
const picture = (complete: boolean, matches: number): object => ({ complete, matches });

function Page({ id = null }: { id?: string | null }): JSX.Element {
  const { replay, run, stop } = useReplay(id);
  return (
    <>
      <p data-testid="replay">{JSON.stringify(replay)}</p>
      <button type="button" onClick={() => run('title: One', window)}>
        run
      </button>
      <button type="button" onClick={stop}>
        stop
      </button>
    </>
  );
}
const replay = (): Record<string, unknown> =>
  JSON.parse(screen.getByTestId('replay').textContent) as Record<string, unknown>;
const until = (wanted: Record<string, unknown>): Promise<void> =>
  waitFor(() => expect(replay()).toMatchObject(wanted));

test('pictures come one after another; the last one says that it is complete', async () => {
  const api = fakeApi({ 'POST /rules/replay': lines(picture(false, 1), picture(true, 3)) });
  show(<Page id="r1" />);
  expect(replay()).toMatchObject({ status: 'none', picture: null });
  fireEvent.click(screen.getByText('run'));
  await until({ status: 'complete', picture: { matches: 3 }, text: 'title: One', window });
  expect(api.changes()[0]?.body).toEqual({ text: 'title: One', window, id: 'r1' });
});

test('a rule that is not kept yet says no id', async () => {
  const api = fakeApi({ 'POST /rules/replay': lines(picture(true, 0)) });
  show(<Page />);
  fireEvent.click(screen.getByText('run'));
  await until({ status: 'complete' });
  expect(api.changes()[0]?.body).toEqual({ text: 'title: One', window });
});

test('one that is stopped keeps what it has shown; run again, that stays until the next picture', async () => {
  const api = fakeApi({ 'POST /rules/replay': lines(picture(false, 1)) });
  show(<Page />);
  fireEvent.click(screen.getByText('run'));
  await until({ status: 'running', picture: { matches: 1 } });
  fireEvent.click(screen.getByText('stop'));
  await until({ status: 'stopped', picture: { matches: 1 } });
  api.answer('POST /rules/replay', new Promise(() => undefined));
  fireEvent.click(screen.getByText('run'));
  await until({ status: 'running', picture: { matches: 1 }, problem: null });
});

test('a refusal is told with its reason', async () => {
  fakeApi({ 'POST /rules/replay': refuse(422, 'Line 3: no such field.') });
  show(<Page />);
  fireEvent.click(screen.getByText('run'));
  await until({ status: 'failed', problem: { detail: 'Line 3: no such field.' } });
});
