import { send, signInRecord, testServer, type TestServer } from '../tests/server.js';
import { allSightings, rollBatches } from './sightings-sql.js';
import { transaction } from '../db/transaction.js';
import { compactCounts } from './compact-counts.js';
import { checkDerived } from './check.js';
import { keepToRetention } from '../sources/retention.js';

let server: TestServer;
beforeEach(async () => {
  server = await testServer();
});
afterEach(() => server.stop());

const record = (day: number, hour: number, user: string): string =>
  signInRecord({ at: new Date(Date.UTC(2026, 10, day, hour, 3)).toISOString(), user });
const sshd = (day: number, text: string): string => `<86>Nov ${day} 08:03:12 gate-01 sshd[77]: ${text}`;
const roll = (most: number): Promise<number> =>
  transaction(server.database.pool, (client) => rollBatches(client, most));
const differences = async (): Promise<unknown[]> =>
  (await checkDerived(server.database.pool)).map(({ table, different, example }) => [
    table,
    different,
    example,
  ]);
const nothingDiffers = ['event_hours', 'operation_hours', 'lag_hours', 'user_days', 'sightings'].map(
  (table) => [table, 0, null],
);
const sightings = async (pair: string): Promise<unknown[]> =>
  (
    await server.database.pool.query(
      `SELECT one, other, to_char(first, 'DD HH24') AS first, to_char(last, 'DD HH24') AS last, events
         FROM (${allSightings}) AS s WHERE pair = $1 ORDER BY 1, 2`,
      [pair],
    )
  ).rows.map((row) => Object.values(row as object));

it('agrees with a recount at every moment: before, while and after batches are rolled, late events included', async () => {
  await send(server, 'harbour-id', [record(12, 9, 'teo.marrash'), record(12, 10, 'runa.keel')].join('\n'));
  await send(server, 'dock-auth', sshd(13, 'Accepted password for runa.keel from 10.20.4.61 port 5 ssh2'));
  await send(server, 'harbour-id', record(13, 9, 'teo.marrash'));
  expect(await differences()).toEqual(nothingDiffers);
  expect(await roll(2)).toBe(2);
  expect(await differences()).toEqual(nothingDiffers);
  // A late event comes before what is known, in a batch of its own.
  await send(server, 'harbour-id', record(11, 7, 'teo.marrash'));
  expect(await differences()).toEqual(nothingDiffers);
  while ((await roll(1)) > 0);
  expect(await differences()).toEqual(nothingDiffers);
  expect(await sightings('user and host')).toEqual([['runa.keel', 'gate-01', '13 08', '13 08', 1]]);
  expect(
    (await sightings('user and address')).map((row) =>
      (row as unknown[]).slice(0, 1).concat((row as unknown[]).slice(2)),
    ),
  ).toEqual([
    ['runa.keel', '12 10', '12 10', 1],
    ['runa.keel', '13 08', '13 08', 1],
    ['teo.marrash', '11 07', '11 07', 1],
    ['teo.marrash', '12 09', '12 09', 1],
    ['teo.marrash', '13 09', '13 09', 1],
  ]);
});

it('tells what differs', async () => {
  await send(server, 'harbour-id', record(12, 9, 'teo.marrash'));
  await server.database.pool.query('UPDATE event_hours SET events = events + 1');
  await server.database.pool.query('DELETE FROM lag_hours');
  expect(
    (await checkDerived(server.database.pool)).map(({ table, different }) => [table, different]),
  ).toEqual([
    ['event_hours', 2],
    ['operation_hours', 0],
    ['lag_hours', 1],
    ['user_days', 0],
    ['sightings', 0],
  ]);
});

it('partial counts are summed up without a change of what they say', async () => {
  for (let i = 0; i < 6; i++) await send(server, 'harbour-id', record(13, 9, `user${i % 2}`));
  const held = async (): Promise<number> =>
    (await server.database.pool.query<{ n: number }>('SELECT count(*)::int AS n FROM event_hours')).rows[0]
      ?.n ?? 0;
  const before = await held();
  // Days of the last thirty by the clock of the database.
  await server.database.pool.query(
    `UPDATE event_hours SET hour = date_trunc('hour', now(), 'UTC') - interval '2 days'`,
  );
  expect(await compactCounts(server.database.pool, new AbortController().signal)).toBeGreaterThanOrEqual(
    before - 1,
  );
  expect(await held()).toBe(1);
  const { rows } = await server.database.pool.query<{ events: number }>('SELECT events FROM event_hours');
  expect(rows).toEqual([{ events: before }]);
  expect(await compactCounts(server.database.pool, new AbortController().signal)).toBe(0);
});

it('counts nothing twice when workers roll the same batches at once, or a record comes again', async () => {
  for (let i = 0; i < 12; i++) await send(server, 'harbour-id', record(12, i, 'teo.marrash'));
  await send(server, 'harbour-id', record(12, 1, 'teo.marrash'));
  await Promise.all(Array.from({ length: 4 }, () => roll(5)));
  while ((await roll(5)) > 0);
  expect(await differences()).toEqual(nothingDiffers);
});

describe('retention', () => {
  const keep = (source: string, days: number | null): Promise<unknown> =>
    server.database.pool.query('UPDATE sources SET retention_days = $2 WHERE name = $1', [source, days]);
  const held = async (): Promise<unknown[]> =>
    (
      await server.database.pool.query(
        `SELECT source, to_char("time", 'DD') AS day, count(*) AS n FROM events GROUP BY 1, 2 ORDER BY 1, 2`,
      )
    ).rows.map((row) => Object.values(row as object));
  // The server's clock says 14 November, noon.
  const now = Date.parse('2026-11-14T12:00:00Z') * 1000;

  beforeEach(async () => {
    for (const day of [10, 11, 12, 13]) {
      await send(server, 'harbour-id', record(day, 9, 'teo.marrash'));
      await send(
        server,
        'dock-auth',
        sshd(day, 'Accepted password for runa.keel from 10.20.4.61 port 5 ssh2'),
      );
    }
  });

  it('keeps everything where nothing is said', async () => {
    await keep('dock-auth', 1);
    await keep('harbour-id', null);
    expect(await keepToRetention(server.database.pool, now)).toEqual({ droppedDays: [], removed: 3 });
    expect(await held()).toEqual([
      ['dock-auth', '13', 1],
      ...['10', '11', '12', '13'].map((day) => ['harbour-id', day, 1]),
    ]);
    expect(await differences()).toEqual(nothingDiffers);
  });

  it('drops whole days that nobody keeps, and takes single sources out of the others', async () => {
    await keep('dock-auth', 1);
    await keep('harbour-id', 3);
    expect(await keepToRetention(server.database.pool, now)).toEqual({
      droppedDays: ['2026-11-10'],
      removed: 2,
    });
    expect(await held()).toEqual([
      ['dock-auth', '13', 1],
      ...['11', '12', '13'].map((day) => ['harbour-id', day, 1]),
    ]);
    expect(await keepToRetention(server.database.pool, now)).toEqual({ droppedDays: [], removed: 0 });
    while ((await roll(5)) > 0);
    expect(await differences()).toEqual(nothingDiffers);
    // That something was seen stays known after its events are gone.
    const { rows } = await server.database.pool.query<{ one: string; first: string; events: number }>(
      `SELECT one, to_char(first, 'DD') AS first, events FROM sightings WHERE pair = 'user and address' AND day = '-infinity' ORDER BY one`,
    );
    expect(rows).toEqual([
      { one: 'runa.keel', first: '10', events: 0 },
      { one: 'teo.marrash', first: '10', events: 0 },
    ]);
    // What was sent before and comes again now is stored anew; the day is made again.
    expect((await send(server, 'harbour-id', record(10, 9, 'teo.marrash'))).json).toMatchObject({
      stored: 1,
    });
  });
});
