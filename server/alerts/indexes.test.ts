import { testDatabase, type TestDatabase } from '../tests/database.js';
import { ALERTS_ABOUT, readQueue } from './sql.js';

let database: TestDatabase;
beforeAll(async () => {
  database = await testDatabase();
});
afterAll(() => database.drop());

/** How a statement would be answered if reading whole tables were out of the question. */
async function planOf(text: string, values: readonly unknown[]): Promise<string> {
  const client = await database.pool.connect();
  try {
    await client.query('SET enable_seqscan = off');
    const { rows } = await client.query<{ 'QUERY PLAN': string }>(`EXPLAIN ${text}`, [...values]);
    return rows.map((row) => row['QUERY PLAN']).join('\n');
  } finally {
    await client.query('RESET enable_seqscan');
    client.release();
  }
}

const anyOf = (who: string): unknown[] => [null, null, null, null, null, null, who];

test.each(['open', 'mine'] as const)(
  'the queue of those that are %s is read in the order of its index',
  async (part) => {
    const first = await planOf(readQueue(part), [...anyOf('x'), 10, null, null, null]);
    expect(first).toContain('using alerts_queue');
    // The order comes with the index: what is sorted are the few rows of the page alone, once they are shown.
    expect(first.split('CTE shown')[1]?.split('CTE Scan')[0]).not.toContain('Sort');
    const next = await planOf(readQueue(part), [...anyOf('x'), 10, 2, '1764374400000000', 7]);
    expect(next).toContain('using alerts_queue');
  },
);

test('alerts about a subject are found by any name that theirs holds', async () => {
  const plan = await planOf(ALERTS_ABOUT, [['teo.marrash', 'u-1002']]);
  expect(plan).toContain('alerts_named');
});
