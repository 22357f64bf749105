import { act, fireEvent, screen, waitFor } from '@testing-library/react';
import type { JSX } from 'react';
import { fakeApi, lines, refuse, show } from '../tests/page.js';
import { useHuntRun } from './use-hunt-run.js';

const window = { from: '2026-11-28T00:00:00Z', to: '2026-11-29T00:00:00Z' };
const columns = [{ name: 'user', type: 'text', field: 'user' }];
const begin = { piece: 'columns', columns, notes: ['a note'], how: ['one statement'] };
const rows = (...names: string[]): object => ({
  piece: 'rows',
  rows: names.map((name) => [name]),
  events: names.map(() => null),
});
const end = { piece: 'end', complete: true, milliseconds: 12 };
const coverage = { days: 2, of: 30, since: '2026-11-27T00:00:00Z' };

const NO_BLANKS = {};
const NOTHING: readonly string[] = [];

function Run({
  text,
  held = false,
  limit = 10,
}: {
  text: string;
  held?: boolean;
  limit?: number;
}): JSX.Element {
  const { run, start, stop } = useHuntRun(text, window, NO_BLANKS, NOTHING, limit, false, held);
  return (
    <>
      <p data-testid="run">{JSON.stringify(run)}</p>
      <button type="button" onClick={start}>
        run
      </button>
      <button type="button" onClick={stop}>
        stop
      </button>
    </>
  );
}
const run = (): Record<string, unknown> =>
  JSON.parse(screen.getByTestId('run').textContent) as Record<string, unknown>;
const until = (wanted: Record<string, unknown>): Promise<void> =>
  waitFor(() => expect(run()).toMatchObject(wanted));

test('rows gather as they come; then it is done, and the steps are told', async () => {
  const steps = [{ line: 1, keyword: 'from', rows: 3, share: null }];
  const api = fakeApi({
    'POST /hunts/run': lines(begin, rows('teo'), rows('runa', 'joris'), end, {
      piece: 'steps',
      steps,
      remarks: ['a remark'],
    }),
  });
  show(<Run text="from signin" />);
  await until({ status: 'done', rows: [['teo'], ['runa'], ['joris']], complete: true, milliseconds: 12 });
  await until({ steps, notes: ['a note', 'a remark'], how: ['one statement'] });
  expect(api.asked[0]?.body).toEqual({ text: 'from signin', window, limit: 10, parameters: {}, carried: [] });
});

test('a picture takes the place of what came before, with how much of the window it rests on', async () => {
  fakeApi({
    'POST /hunts/run': lines(
      begin,
      { piece: 'picture', rows: [['one']], events: [null], coverage },
      { piece: 'picture', rows: [['one more']], events: [null], coverage: { ...coverage, days: 9 } },
      { piece: 'coverage', coverage: { ...coverage, days: 12 } },
    ),
  });
  show(<Run text="from signin" />);
  await until({ rows: [['one more']], coverage: { days: 12 }, status: 'running' });
});

test('while it waits its turn it says how many go before', async () => {
  fakeApi({ 'POST /hunts/run': lines({ piece: 'waiting', before: 2 }) });
  show(<Run text="from signin" />);
  await until({ status: 'running', before: 2 });
});

test('what an earlier run found stays until the next one has columns', async () => {
  const api = fakeApi({ 'POST /hunts/run': lines(begin, rows('teo'), end) });
  show(<Run text="from signin" />);
  await until({ status: 'done' });
  api.answer('POST /hunts/run', new Promise(() => undefined));
  fireEvent.click(screen.getByText('run'));
  await until({ status: 'running', rows: [['teo']] });
  fireEvent.click(screen.getByText('stop'));
  await until({ status: 'stopped', rows: [['teo']] });
});

test('a mistake is told with its place; a stream that breaks says to run again', async () => {
  const api = fakeApi({ 'POST /hunts/run': refuse(422, 'No kind of event is called "auth".') });
  show(<Run text="from auth" />);
  await until({ status: 'failed', problem: { detail: 'No kind of event is called "auth".' } });
  api.answer('POST /hunts/run', () => {
    throw new Error('broken');
  });
  fireEvent.click(screen.getByText('run'));
  await until({ status: 'failed', problem: { status: 0 } });
});

test('a failure on the way keeps the rows that came', async () => {
  const problem = { type: '', title: '', status: 503, code: 'stopped', detail: 'It took too long.' };
  fakeApi({ 'POST /hunts/run': lines(begin, rows('teo'), { piece: 'failure', problem }) });
  show(<Run text="from signin" />);
  await until({ status: 'failed', rows: [['teo']], problem: { detail: 'It took too long.' } });
});

test('one that is held runs only when somebody asks; an empty text never', async () => {
  const api = fakeApi({ 'POST /hunts/run': lines(begin, end) });
  const { rerender } = show(<Run text="from signin" held />);
  expect(run()).toMatchObject({ status: 'idle' });
  fireEvent.click(screen.getByText('run'));
  await until({ status: 'done' });
  expect(api.asked).toHaveLength(1);
  rerender(<Run text="  " />);
  await act(() => Promise.resolve());
  expect(api.asked).toHaveLength(1);
});
