import { jsonCells } from '../core/output/json-lines.js';
import { compileHunt } from '../core/wick/compile.js';
import { makeEvents } from '../core/wick/tests/events.js';
import { lookUpCases, lookUpLists, lookUpRecords } from '../core/wick/tests/look-up-cases.js';
import { Lists } from './lists/service.js';
import { testDatabase, type TestDatabase } from './tests/database.js';
import { storeEvents } from './tests/events.js';
import { runPlan } from './tests/run-plan.js';

// What is looked up in memory, put to PostgreSQL.

const options = {
  window: { from: Date.parse('2026-11-14') * 1000, to: Date.parse('2026-11-15') * 1000 },
  now: Date.parse('2026-11-15') * 1000,
  lists: lookUpLists,
};

let database: TestDatabase;
beforeAll(async () => {
  database = await testDatabase();
  const events = makeEvents(lookUpRecords).map((event, i) => ({ ...event, id: String(i).padStart(32, '0') }));
  await storeEvents(database.pool, events);
  const lists = new Lists(database.pool);
  for (const { name, match, key, rows } of lookUpLists)
    await lists.put(name, { match, key, rows: [...rows] });
});
afterAll(() => database.drop());

it.each(lookUpCases)('17: %s', async (steps, columns, expected) => {
  const plan = compileHunt(`from all\nsort time\n${steps}`, options);
  const { rows } = await runPlan(database.pool, plan);
  expect(plan.columns.map(({ name }) => name)).toEqual(columns);
  expect(rows.map((row) => jsonCells(plan.columns, row))).toEqual(expected);
});

it('knows the columns of lists as they are stored, and rows that have expired are on none', async () => {
  const lists = new Lists(database.pool);
  expect((await lists.all()).find(({ name }) => name === 'people')?.columns).toEqual([
    'login',
    'boss',
    'floor',
    'left',
  ]);
  await lists.put('people', {
    match: 'exact',
    key: 'login',
    rows: [{ login: 'teo.marrash', floor: 1, expires: '2020-01-01' }],
  });
  const plan = compileHunt(
    "from all\nwhere user = 'teo.marrash'\nlook up user in list people\nshow people.floor",
    options,
  );
  expect((await runPlan(database.pool, plan)).rows).toEqual([[null]]);
});
