import { Caller, send, signInRecord, testServer, type TestServer } from '../tests/server.js';
import { storeEvents } from '../tests/events.js';
import type { Event } from '../../core/events/event.js';

let server: TestServer;
let reader: Caller;
const window = { from: '2026-11-14T00:00:00Z', to: '2026-11-15T00:00:00Z' };
beforeAll(async () => {
  server = await testServer();
  reader = await new Caller(server).signIn('reader');
  const records = [
    signInRecord({ at: '2026-11-14T08:00:00.125Z', denied: 'bad_secret' }),
    signInRecord({ at: '2026-11-14T08:20:00Z', address: '198.18.40.77' }),
    signInRecord({ at: '2026-11-14T09:00:00Z', user: 'ines.vaal' }),
    signInRecord({ at: '2026-11-13T09:00:00Z', user: 'Teo.Marrash', action: 'token.refresh' }),
  ];
  await send(server, 'harbour-id', records.join('\n'));
});
afterAll(() => server.stop());

const run = (text: string, more: object = {}, headers: Record<string, string> = {}) =>
  reader.call('POST', '/hunts/run', { text, window, ...more }, headers);

it('answers a hunt: columns, rows, the event each row is, and how many rows passed each step', async () => {
  const { status, json } = await run("from signin\nwhere user = 'Teo.Marrash'\nshow time, outcome, src_ip");
  expect(status).toBe(200);
  expect(json).toMatchObject({
    columns: [
      { name: 'time', type: 'time', field: 'time' },
      { name: 'outcome', type: 'text', field: 'outcome' },
      { name: 'src_ip', type: 'address', field: 'src_ip' },
    ],
    rows: [
      ['2026-11-14T08:20:00Z', 'success', '198.18.40.77'],
      ['2026-11-14T08:00:00.125Z', 'failure', '10.20.4.11'],
    ],
    complete: true,
    steps: [
      { line: 1, keyword: 'from', rows: 3 },
      { line: 2, keyword: 'where', rows: 2 },
      { line: 3, keyword: 'show', rows: 2 },
    ],
    notes: [],
  });
  expect(json.events[0]).toEqual({
    id: expect.stringMatching(/^[0-9a-f]{32}$/),
    time: '2026-11-14T08:20:00Z',
  });
  const table = await run('from signin\ntally count() per user', { limit: 1 });
  expect(table.json).toMatchObject({ rows: [['ines.vaal', 1]], events: [null], complete: false });
});

it('a hunt is weighed before it is run: how many events, and whether that is little', async () => {
  const cost = async (text: string): Promise<unknown> =>
    (await reader.call('POST', '/hunts/cost', { text, window })).json;
  expect(await cost('from signin')).toEqual({ events: 3, small: true });
  // As if many more of that hour had been counted.
  const more = `INSERT INTO event_hours (hour, source, kind, events) VALUES ('2026-11-14T08:00:00Z', 'more', 'signin', 200000)`;
  await server.database.pool.query(more);
  expect(await cost('from all')).toMatchObject({ small: true });
  expect(await cost('from all\njoin ( from all ) as b on user')).toMatchObject({ small: false });
  await server.database.pool.query(`DELETE FROM event_hours WHERE source = 'more'`);
});

it('sends the same in pieces to whoever asks for lines', async () => {
  const response = await reader.fetch(
    'POST',
    '/hunts/run',
    { text: 'from signin', window },
    { Accept: 'application/x-ndjson' },
  );
  const pieces = (await response.text())
    .trim()
    .split('\n')
    .map((line) => JSON.parse(line));
  expect(pieces.map((piece) => piece.piece)).toEqual(['columns', 'rows', 'end', 'steps']);
  expect(pieces[1].rows).toHaveLength(3);
  expect(pieces[0].columns.map((column: { name: string }) => column.name)).not.toContain('raw');
});

it('refuses a mistaken hunt with its place and the nearest word', async () => {
  expect(await run("from signin\nwhere usr = 'x'")).toMatchObject({
    status: 422,
    json: {
      code: 'unknown-field',
      place: { line: 2, column: 7, end: 10, suggestion: 'user' },
      detail: expect.stringContaining('Did you mean "user"?'),
    },
  });
  expect(await reader.call('POST', '/hunts/check', { text: 'from signin' })).toEqual({
    status: 200,
    json: {},
  });
  expect(
    (await reader.call('POST', '/hunts/check', { text: 'from signin\nwhere x in list none' })).json.code,
  ).toBe('unknown-field');
  expect(await run('from signin', { window: { from: window.to, to: window.from } })).toMatchObject({
    status: 400,
  });
});

it('hunts in SQL stay data whatever they hold', async () => {
  const hostile = "'; DROP TABLE events; --";
  const { json } = await run(
    `from signin\nwhere user = '${hostile.replaceAll("'", "''")}' or has '$1' or original."x'"" y" like '%"%'\nset "a""b" = '\\'\nshow "a""b" as "c""d'; --"`,
  );
  expect(json.rows).toEqual([]);
  expect(json.columns).toEqual([{ name: 'c"d\'; --', type: 'text', field: null }]);
  expect((await run('from signin')).json.rows).toHaveLength(3);
});

it('a step that would make too many rows is refused with its line, before any are made', async () => {
  const fill = (every: string, over: string) =>
    reader.call('POST', '/hunts/run', {
      text: `from signin over ${over}\ntally count() as n, every ${every}\nfill`,
      window,
    });
  expect(await fill('1s', "'2026-11-01' to '2026-11-15'")).toMatchObject({
    status: 422,
    json: {
      code: 'too-much',
      detail: expect.stringMatching(/^Line 3 \(fill\) would give more than 100,000/),
    },
  });
  const { json } = await fill('1h', "'2026-11-14' to '2026-11-15'");
  expect(json.rows).toHaveLength(24);
  expect(json.rows.filter(([, n]: [string, number]) => n > 0)).toHaveLength(2);
});

it('counts events over time by outcome', async () => {
  const { json } = await reader.call('POST', '/hunts/timeline', {
    text: 'from signin\ntally count() per user',
    window,
    bars: 24,
  });
  expect(json).toEqual({
    window,
    seconds: 3600,
    split: 'outcome',
    bars: [
      { time: '2026-11-14T08:00:00Z', split: 'failure', other: false, count: 1 },
      { time: '2026-11-14T08:00:00Z', split: 'success', other: false, count: 1 },
      { time: '2026-11-14T09:00:00Z', split: 'success', other: false, count: 1 },
    ],
  });
});

it('counts over time what a column that is only shown lets pass', async () => {
  const { json } = await reader.call('POST', '/hunts/timeline', {
    text: "from signin\nshow time, lower(outcome) as came_to\nwhere came_to = 'failure'\nhide came_to",
    window,
    bars: 5,
  });
  expect(json.bars.map(({ split, count }: { split: string; count: number }) => [split, count])).toEqual([
    ['failure', 1],
  ]);
});

it('splits bars by any field of single values, and names the nearest for another', async () => {
  const split = (field: string) =>
    reader.call('POST', '/hunts/timeline', { text: 'from signin', window, bars: 5, split: field });
  const { json } = await split('user');
  expect(json.bars.map(({ split: user }: { split: string }) => user)).toContain('teo.marrash');
  expect(await split('tags')).toMatchObject({ status: 422 });
  expect(await split('usr')).toMatchObject({
    status: 422,
    json: { detail: expect.stringContaining('"user"') },
  });
});

it('knows the values seen for a field', async () => {
  const values = async (field: string, prefix: string): Promise<unknown> =>
    (await reader.call('GET', `/fields/values?${new URLSearchParams({ field, prefix }).toString()}`)).json
      .values;
  expect(await values('user', '')).toEqual([
    { value: 'teo.marrash', count: 3 },
    { value: 'ines.vaal', count: 1 },
  ]);
  expect(await values('user', "INES'%")).toEqual([]);
  expect(await values('user', 'INES')).toEqual([{ value: 'ines.vaal', count: 1 }]);
  expect(await reader.call('GET', '/fields/values?field=usr')).toMatchObject({
    status: 422,
    json: { detail: expect.stringContaining('"user"') },
  });
});

it('lists can be put and are found by conditions, each in its own way', async () => {
  const analyst = await new Caller(server).signIn('analyst');
  const put = (name: string, body: object) => analyst.call('PUT', `/lists/${name}`, body);
  await put('people', { match: 'exact', key: 'who', rows: [{ who: ' TEO.marrash', dept: 'fares' }] });
  await put('rented', { match: 'network', key: 'net', rows: [{ net: '198.18.0.0/15' }] });
  await put('odd-names', { match: 'wildcard', key: 'name', rows: [{ name: 'in?s.*' }, { name: '100%' }] });
  const users = async (condition: string): Promise<unknown> =>
    (await run(`from signin\nwhere ${condition}\ntally count() per user`)).json.rows;
  expect(await users('user in list people')).toEqual([['teo.marrash', 2]]);
  expect(await users('user not in list People')).toEqual([['ines.vaal', 1]]);
  expect(await users('src_ip in list rented')).toEqual([['teo.marrash', 1]]);
  expect(await users('user in list odd-names')).toEqual([['ines.vaal', 1]]);
  expect((await run('from signin\nwhere user in list peple')).json).toMatchObject({
    code: 'unknown-list',
    place: { suggestion: 'people' },
  });
  expect(await put('bad', { match: 'network', key: 'net', rows: [{ net: 'x' }] })).toMatchObject({
    status: 422,
    json: { detail: expect.stringContaining('Row 1') },
  });
  expect(
    (await analyst.call('GET', '/lists')).json.lists.map((list: { name: string; rows: number }) => [
      list.name,
      list.rows,
    ]),
  ).toEqual([
    ['odd-names', 2],
    ['people', 1],
    ['rented', 1],
  ]);
});

it('says so where the window reaches before what is still held', async () => {
  const notes = async (): Promise<unknown> => (await run('from signin')).json.notes;
  expect(await notes()).toEqual([]);
  const hold = (day: string | null): Promise<unknown> =>
    server.database.pool.query('UPDATE sources SET held_from = $1', [day]);
  // The day after the window begins.
  await hold(new Date(Date.parse(window.from) + 86_400_000).toISOString().slice(0, 10));
  expect(await notes()).toEqual([
    expect.stringMatching(
      /^Of dock-auth, harbour-id only events from \d{4}-\d\d-\d\d on are held; earlier ones were let go\.$/,
    ),
  ]);
  await hold(null);
  expect(await notes()).toEqual([]);
});

it('stops the statement when whoever asked goes away', async () => {
  const start = Date.parse(window.from) * 1000;
  const events = Array.from({ length: 4000 }, (_, i): Event => ({
    id: (1_000_000 + i).toString(16).padStart(32, '0'),
    time: start + i,
    received: start,
    source: 'x',
    kind: 'system',
    message: `${i} ${'lorem ipsum '.repeat(20)}`,
    original: {},
    raw: '',
  }));
  await storeEvents(server.database.pool, events);
  const cookie = (reader as unknown as { cookie: string }).cookie;
  const running = async (): Promise<number> => {
    const { rows } = await server.database.pool.query<{ n: number }>(
      `SELECT count(*) AS n FROM pg_stat_activity WHERE datname = current_database() AND state = 'active' AND query LIKE 'WITH s1%'`,
    );
    return rows[0]?.n ?? 0;
  };
  const until = async (wanted: (n: number) => boolean): Promise<void> => {
    while (!wanted(await running())) await new Promise((resolve) => setImmediate(resolve));
  };
  // More often than there are connections: one that is not given back would be missed.
  for (let i = 0; i < 6; i++) {
    const controller = new AbortController();
    const asked = fetch(`${server.base}/hunts/run`, {
      method: 'POST',
      headers: { Cookie: cookie, 'Content-Type': 'application/json' },
      // Edit distances of long texts: minutes of work if nobody stops it.
      body: JSON.stringify({
        text: "from system\nwhere similarity(message, concat(message, 'x', raw)) < 0",
        window,
      }),
      signal: controller.signal,
    });
    const failed = expect(asked).rejects.toThrow('abort');
    await until((n) => n > 0);
    controller.abort();
    await failed;
    await until((n) => n === 0);
  }
  expect((await run('from signin')).status).toBe(200);
});

it('gives its connections back when whoever reads a long answer goes away in the middle', async () => {
  const start = Date.parse(window.from) * 1000;
  const many = Array.from({ length: 9000 }, (_, i): Event => ({
    id: (9_000_000 + i).toString(16).padStart(32, '0'),
    time: start + i,
    received: start,
    source: 'x',
    kind: 'log',
    message: 'long '.repeat(200),
    original: {},
    raw: '',
  }));
  await storeEvents(server.database.pool, many);
  const cookie = (reader as unknown as { cookie: string }).cookie;
  for (let i = 0; i < 6; i++) {
    const controller = new AbortController();
    const response = await fetch(`${server.base}/hunts/run`, {
      method: 'POST',
      headers: { Cookie: cookie, 'Content-Type': 'application/json', Accept: 'application/x-ndjson' },
      body: JSON.stringify({ text: 'from log', window, limit: 10_000 }),
      signal: controller.signal,
    });
    await response.body?.getReader().read();
    controller.abort();
  }
  expect((await run('from log\ntally count()')).json.rows).toEqual([[9000]]);
});
