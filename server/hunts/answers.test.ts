import type { Event } from '../../core/events/event.js';
import { makeEvents } from '../../core/wick/tests/events.js';
import { storeEvents } from '../tests/events.js';
import { Caller, testServer, type TestServer } from '../tests/server.js';

// What the steps and blanks of the language come to over the wire.

let server: TestServer;
let reader: Caller;
const window = { from: '2026-11-10T00:00:00Z', to: '2026-11-14T12:00:00Z' };

const stored: Event[] = makeEvents([
  { time: '2026-11-11T08:00:00Z', user: 'a', outcome: 'failure', message: 'try 1 of a', lat: 60, lon: 10 },
  { time: '2026-11-12T08:00:00Z', user: 'a', outcome: 'failure', message: 'try 2 of a', lat: 60, lon: 10 },
  { time: '2026-11-12T08:05:00Z', user: 'a', outcome: 'success', message: '=in', lat: -23, lon: -46 },
  { time: '2026-11-13T09:00:00Z', user: 'b', outcome: 'success', message: 'in, "b"' },
  { time: '2026-11-14T09:00:00Z', user: 'c', outcome: 'success' },
]).map((event, i) => ({ ...event, source: 'harbour-id', id: String(i + 1).padStart(32, '0') }));

beforeAll(async () => {
  server = await testServer();
  await storeEvents(server.database.pool, stored);
  reader = await new Caller(server).signIn('reader');
});
afterAll(() => server.stop());

const run = async (text: string, more: object = {}): Promise<any> =>
  (await reader.call('POST', '/hunts/run', { text, window, ...more })).json;

it('blanks are filled in by the request; one that is missing is told at its place', async () => {
  const text = "ask who 'User'\nfrom signin\nwhere user = $who\ntally count() as n";
  expect((await run(text, { parameters: { who: 'A' } })).rows).toEqual([[3]]);
  const { status, json } = await reader.call('POST', '/hunts/run', { text, window });
  expect([status, json]).toMatchObject([422, { code: 'missing-value', place: { line: 1, column: 5 } }]);
  expect((await reader.call('POST', '/hunts/check', { text })).status).toBe(200);
  const timeline = await reader.call('POST', '/hunts/timeline', { text, window, parameters: { who: 'b' } });
  expect(timeline.json.bars).toEqual([expect.objectContaining({ split: 'success', count: 1 })]);
});

it('rows of tables open the events they were made of', async () => {
  const streaks = await run(
    "from all\nstreak outcome = 'failure' until outcome = 'success' per user as n\nwhere n > 0",
  );
  expect(streaks.events).toEqual([{ id: '3'.padStart(32, '0'), time: '2026-11-12T08:05:00Z' }]);
  const journeys = await run('from all\ntravel per user faster than 900');
  expect(journeys.events).toEqual([
    {
      id: '3'.padStart(32, '0'),
      time: '2026-11-12T08:05:00Z',
      name: 'to',
      also: [{ name: 'from', id: '2'.padStart(32, '0'), time: '2026-11-12T08:00:00Z' }],
    },
  ]);
  expect(journeys.remarks).toEqual(['Line 2: 2 rows without a known place were skipped.']);
  expect((await run('from all\ntally count() per user')).events).toEqual([null, null, null]);
});

it('what is reckoned outside of the database comes out like any step', async () => {
  const shapes = await run('from all\nshapes of message');
  expect(shapes.rows.map(([template, events]: [string, number]) => [template, events])).toEqual([
    ['=*', 1],
    ['in, "b"', 1],
    ['try * of a', 2],
  ]);
  expect(shapes.steps.at(-1)).toMatchObject({ keyword: 'shapes', rows: 3 });
  const read = await run(
    "from all\nread message matching 'try (?<n>[0-9]+)'\nwhere n is not null\nshow n\nsort n",
  );
  expect(read.rows).toEqual([['1'], ['2']]);
});

it('goes back day by day only as far as it must, and says how it went', async () => {
  const found = await run('from all\nshow user', { limit: 2 });
  expect(found.rows).toEqual([['c'], ['b']]);
  expect(found.complete).toBe(false);
  expect(found.how.join(' ')).toContain('newest day back');
  expect((await run('from all\nshow user', { limit: 5 })).complete).toBe(true);
  const tally = await run('from all\ntally count() per outcome');
  expect(tally.how.join(' ')).toContain('counts kept by the hour');
  expect(tally.rows).toEqual([
    ['failure', 2],
    ['success', 3],
  ]);
});

describe('exports', () => {
  const address = (more: Record<string, string>): string =>
    `/hunts/export?${new URLSearchParams({ format: 'csv', text: 'from all\nshow user, message', from: window.from, to: window.to, ...more }).toString()}`;

  it('give all rows as CSV that a spreadsheet takes for text, or as JSON lines', async () => {
    const csv = await reader.fetch('GET', address({}));
    expect(csv.headers.get('content-disposition')).toContain('hunt.csv');
    expect((await csv.text()).split('\r\n')).toEqual([
      'user,message',
      'c,',
      'b,"in, ""b"""',
      "a,'=in",
      'a,try 2 of a',
      'a,try 1 of a',
      '',
    ]);
    const lines = await reader.fetch(
      'GET',
      address({
        format: 'jsonl',
        text: "ask who 'User'\nfrom all\nwhere user = $who\nshow user",
        parameters: '{"who":"b"}',
      }),
    );
    expect(await lines.text()).toBe('{"user":"b"}\n');
  });

  it('are refused in plain words before the first row', async () => {
    expect(await reader.call('GET', address({ text: 'from al' }))).toMatchObject({ status: 422 });
    expect(await reader.call('GET', address({ format: 'xls' }))).toMatchObject({ status: 400 });
    expect(await reader.call('GET', address({ parameters: '[1]' }))).toMatchObject({
      status: 400,
      json: { detail: expect.stringContaining('JSON object of texts') },
    });
    expect((await new Caller(server).fetch('GET', address({}))).status).toBe(401);
  });
});
