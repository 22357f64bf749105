import { DAY } from '../../core/base/instant.js';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { testDatabase, type TestDatabase } from '../tests/database.js';
import { letGo } from './let-go.js';

const NOW = Date.parse('2026-11-29T00:00:00Z') * 1000;

let database: TestDatabase;
beforeAll(async () => {
  database = await testDatabase();
  // The data is older than numbers of cases.
  await database.pool.query("ALTER TABLE cases ALTER COLUMN number SET DEFAULT '26-1'");
  await database.pool.query(readFileSync(join(process.cwd(), 'server/tests/baseline-data.sql'), 'utf8'));
});
afterAll(() => database.drop());

const set = (text: string): Promise<unknown> => database.pool.query(text);

it('what is in use stays', async () => {
  await set(`UPDATE batches SET received = '2026-11-28'`);
  await set(`UPDATE api_tokens SET expires = '2027-01-01'`);
  await set(`UPDATE rule_replays SET at = '2026-11-28'`);
  await set(`UPDATE answer_tokens SET expires = '2026-12-01'`);
  expect(await letGo(database.pool, NOW)).toEqual({
    batches: 0,
    deliveries: 0,
    tokens: 0,
    replays: 0,
    forwards: 0,
    boards: 0,
    buttons: 0,
    evidence: 0,
  });
});

it('what is done with goes once its time is over; what waits stays however old it is', async () => {
  await set(`INSERT INTO batches (source, stored, known, set_aside, received, rolled)
    VALUES ('gate-04', 0, 0, 0, '2026-01-01', true), ('gate-04', 0, 0, 0, '2026-01-01', false)`);
  await set(`INSERT INTO deliveries (alert, action, state, finished, created)
    SELECT a.id, '{}', s.state, '2026-01-01', '2026-01-01'
      FROM alerts AS a, (VALUES ('sent'), ('dead'), ('waiting')) AS s (state)`);
  await set(`UPDATE api_tokens SET expires = '2026-01-01'`);
  await set(`UPDATE rule_replays SET at = '2026-01-01'`);
  await set(`UPDATE answer_tokens SET expires = '2026-11-28'`);
  await set(`INSERT INTO boards (owner, document, removed)
    SELECT u.name, '{}', r.at FROM (SELECT name FROM users LIMIT 1) AS u,
      (VALUES ('2026-01-01'::timestamptz), ('2026-11-28'), (NULL)) AS r (at)`);
  expect(await letGo(database.pool, NOW)).toMatchObject({
    batches: 1,
    deliveries: 2,
    tokens: 1,
    replays: 1,
    boards: 1,
    buttons: 1,
  });
});

it('evidence goes with its events, once the alert is settled', async () => {
  const old = `'2026-01-01T00:00:00Z'`;
  await set(`INSERT INTO alert_events SELECT id, gen_random_uuid(), ${old} FROM alerts`);
  expect(await letGo(database.pool, NOW)).toMatchObject({ evidence: 0 });
  await set(`UPDATE alerts SET state = 'settled', verdict = 'harmless'`);
  expect(await letGo(database.pool, NOW + DAY)).toMatchObject({ evidence: 1 });
  const { rows } = await database.pool.query('SELECT count(*)::int AS n FROM alert_events');
  expect(rows).toEqual([{ n: 1 }]);
});
