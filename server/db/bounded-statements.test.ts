import { testDatabase, type TestDatabase } from '../tests/database.js';
import { allRows, streamRows } from './bounded-statements.js';

let database: TestDatabase;
beforeAll(async () => {
  database = await testDatabase();
});
afterAll(() => database.drop());

const limits = () => ({ milliseconds: 600_000, signal: new AbortController().signal });
const stream = (text: string, given = limits()) => streamRows(database.pool, { text, values: [] }, given);
/** Statements of others that the database is busy with. */
async function busyWith(words: string): Promise<number> {
  const [row] = await allRows<{ n: number }>(
    database.pool,
    {
      text: `SELECT count(*)::int AS n FROM pg_stat_activity
              WHERE state = 'active' AND pid <> pg_backend_pid() AND query LIKE '%' || $1 || '%'`,
      values: [words],
    },
    limits(),
  );
  return row?.n ?? 0;
}

test('rows come whole and in order, however many fetches they take', async () => {
  for (const many of [0, 1, 999, 1000, 1001, 2000, 2500]) {
    const found: number[] = [];
    for await (const rows of stream(`SELECT i FROM generate_series(1, ${many}) AS i`))
      found.push(...rows.map(({ i }) => i as number));
    expect(found).toEqual(Array.from({ length: many }, (_, i) => i + 1));
  }
});

test('whoever wants no more does not wait for what was fetched ahead, and leaves nothing running', async () => {
  // The second fetch would take hours.
  const slow = `SELECT i, CASE WHEN i > 1500 THEN pg_sleep(3600)::text END AS ahead FROM generate_series(1, 5000) AS i`;
  let seen = 0;
  for await (const rows of stream(slow)) {
    seen += rows.length;
    break;
  }
  expect(seen).toBe(1000);
  expect(await busyWith('pg_sleep(3600)')).toBe(0);
  // The connection goes on to serve others.
  for await (const rows of stream('SELECT 1 AS one')) expect(rows).toEqual([{ one: 1 }]);
});

test('a mistake in what is fetched ahead is told when its turn comes, and not before', async () => {
  let seen = 0;
  const failing = async (): Promise<void> => {
    for await (const rows of stream('SELECT 1 / (1500 - i) AS n FROM generate_series(1, 3000) AS i')) {
      seen += rows.length;
      await new Promise((go) => setImmediate(go));
    }
  };
  await expect(failing()).rejects.toThrow('division by zero');
  expect(seen).toBe(1000);
});

test('it is stopped while the next rows are fetched', async () => {
  const stop = new AbortController();
  const stopped = async (): Promise<void> => {
    for await (const _ of stream(
      'SELECT CASE WHEN i > 1500 THEN pg_sleep(3601)::text END AS ahead FROM generate_series(1, 5000) AS i',
      { ...limits(), signal: stop.signal },
    ))
      stop.abort();
  };
  await expect(stopped()).rejects.toThrow('The hunt was stopped.');
  expect(await busyWith('pg_sleep(3601)')).toBe(0);
});
