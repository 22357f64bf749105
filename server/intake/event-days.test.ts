import { testDatabase, type TestDatabase } from '../tests/database.js';

let database: TestDatabase;
beforeAll(async () => {
  database = await testDatabase();
});
afterAll(() => database.drop());

it('a new day is made beside those who read, with all indexes, once', async () => {
  const reader = await database.pool.connect();
  try {
    await reader.query('BEGIN');
    await reader.query('SELECT count(*) FROM events');
    const maker = await database.pool.connect();
    try {
      // Whoever had to wait for the reader would wait for ever.
      await maker.query(`SET lock_timeout = '5s'`);
      await maker.query(`SELECT make_event_day('2026-11-14')`);
      await maker.query(`SELECT make_event_day('2026-11-14')`);
    } finally {
      maker.release(true);
    }
    await reader.query('COMMIT');
  } finally {
    reader.release();
  }
  const { rows } = await database.pool.query<{ indexes: number; partition: string }>(
    `SELECT (SELECT count(*)::int FROM pg_index WHERE indrelid = i.inhrelid) AS indexes, i.inhrelid::regclass::text AS partition
       FROM pg_inherits i WHERE i.inhparent = 'events'::regclass`,
  );
  const { rows: all } = await database.pool.query<{ indexes: number }>(
    `SELECT count(*)::int AS indexes FROM pg_index WHERE indrelid = 'events'::regclass`,
  );
  // Those of all days, and the one by id.
  expect(rows).toEqual([{ indexes: (all[0]?.indexes ?? 0) + 1, partition: 'events_20261114' }]);
  expect(rows[0]?.indexes).toBeGreaterThan(6);
});
