import { DAY, formatInstant, parseInstant, SECOND } from '../../core/base/instant.js';
import { MAX_CARD_ROWS } from '../../core/boards/board.js';
import type { Event } from '../../core/events/event.js';
import { makeEvents } from '../../core/wick/tests/events.js';
import { storeEvents } from '../tests/events.js';
import { Caller, testServer, type TestServer } from '../tests/server.js';

// A service account that does in ten days what no person does in years: its dossier is as whole as any, and no longer.

const EVENTS = 100_000;
const window = { from: '2026-11-05T00:00:00Z', to: '2026-11-15T00:00:00Z' };
const start = parseInstant(window.from) ?? 0;
const every = (10 * DAY) / EVENTS;

const stored: readonly Event[] = makeEvents(
  Array.from({ length: EVENTS }, (_, i) => ({
    time: formatInstant(start + Math.floor((i * every) / SECOND) * SECOND),
    kind: i % 3 === 0 ? 'signin' : i % 3 === 1 ? 'query' : 'object',
    user: 'svc-backup',
    user_id: 's-17',
    host: `hold-${i % 60}`,
    src_ip: `10.40.${i % 12}.${i % 250}`,
    application: ['vault', 'store', 'ledger'][i % 3] ?? null,
    entity: `table-${i % 900}`,
    resource: `bucket-${i % 700}`,
    records: 1 + (i % 5000),
    outcome: i % 97 === 0 ? 'failure' : 'success',
    operation: `copy.${i % 40}`,
  })),
).map((event, i) => ({ ...event, source: 'harbour-id', id: i.toString(16).padStart(32, '0') }));

let server: TestServer;
let reader: Caller;
beforeAll(async () => {
  server = await testServer();
  server.clock.now = parseInstant(window.to) ?? 0;
  await storeEvents(server.database.pool, stored);
  reader = await new Caller(server).signIn('reader');
}, 120_000);
afterAll(() => server.stop());

it('its dossier tells who it is, and leaves no card out', async () => {
  const { status, json } = await reader.call(
    'GET',
    `/dossiers/user/svc-backup?from=${window.from}&to=${window.to}`,
  );
  expect(status).toBe(200);
  expect(json.known).not.toBeNull();
  expect(json.names.map(({ value }: { value: string }) => value)).toContain('s-17');
  const response = await reader.fetch('POST', '/boards/answers', {
    board: json.board,
    window,
    inputs: json.inputs ?? { subject: 'svc-backup', names: 'svc-backup', ids: 's-17' },
  });
  const pieces = (await response.text())
    .trim()
    .split('\n')
    .map((line) => JSON.parse(line));
  const done = pieces.at(-1);
  expect(pieces.filter(({ piece }) => piece === 'mistake')).toEqual([]);
  expect(done).toMatchObject({ piece: 'done', failed: 0 });
  expect(done.cards).toBeGreaterThan(5);
  for (const { rows } of pieces) expect((rows ?? []).length).toBeLessThanOrEqual(MAX_CARD_ROWS);
});

it('its figures are those of its events, none left out', async () => {
  const count = async (text: string): Promise<unknown> =>
    (await reader.call('POST', '/hunts/run', { text, window })).json.rows[0];
  expect(await count("from all\nwhere about user 'svc-backup'\ntally count() as events")).toEqual([EVENTS]);
  expect(
    await count(
      "from all\nwhere about user 'svc-backup' and outcome = 'failure'\ntally count() as events, count(distinct host) as hosts",
    ),
  ).toEqual([Math.ceil(EVENTS / 97), 60]);
});

it('what others do in it is not drowned by it', async () => {
  await storeEvents(
    server.database.pool,
    makeEvents([
      {
        time: '2026-11-14T23:00:00Z',
        user: 'svc-backup',
        src_ip: '203.0.113.77',
        outcome: 'success',
        operation: 'session.start',
      },
    ]).map((event) => ({ ...event, source: 'harbour-id', id: 'f'.repeat(32) })),
  );
  const { json } = await reader.call(
    'GET',
    '/dossiers/user/svc-backup?from=2026-11-14T12:00:00Z&to=2026-11-15T00:00:00Z',
  );
  expect(JSON.stringify(json.firsts)).toContain('203.0.113.77');
});
