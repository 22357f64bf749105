import type { Event } from '../core/events/event.js';
import { jsonCells } from '../core/output/json-lines.js';
import { compileHunt } from '../core/wick/compile.js';
import { caseRecords, conditionCases } from '../core/wick/tests/condition-cases.js';
import { makeEvents } from '../core/wick/tests/events.js';
import { stepCases, stepRecords } from '../core/wick/tests/step-cases.js';
import { timeCases, timeRecords } from '../core/wick/tests/time-cases.js';
import { testDatabase, type TestDatabase } from './tests/database.js';
import { storeEvents } from './tests/events.js';
import { runPlan } from './tests/run-plan.js';

// The same tables as the in-memory engine answers, put to PostgreSQL.

const day = { from: Date.parse('2026-11-14') * 1000, to: Date.parse('2026-11-15') * 1000 };

/** Ids of the store are 32 hexadecimal digits; the cases say e1, e2… */
const storedId = (id: string): string => id.slice(1).padStart(32, '0');
const shortId = (value: unknown): unknown =>
  typeof value === 'string' && /^0{20,}\d+$/.test(value) ? `e${Number(value)}` : value;

const stored = (events: readonly Event[]): Event[] =>
  events.map((event) => ({ ...event, id: storedId(event.id) }));

describe('conditions in SQL', () => {
  let database: TestDatabase;
  beforeAll(async () => {
    database = await testDatabase();
    await storeEvents(database.pool, stored(makeEvents(caseRecords)));
  });
  afterAll(() => database.drop());

  it.each(conditionCases)('%i: where %s', async (_decision, condition, holds) => {
    const plan = compileHunt(`from signin\nwhere ${condition}\nsort time`, { window: day, now: day.to });
    const { opens } = await runPlan(database.pool, plan);
    expect(opens.map(([event]) => shortId(event?.id))).toEqual(holds);
  });
});

describe.each([
  ['steps', stepRecords, stepCases, day],
  ['steps through time', timeRecords, timeCases, { from: Date.parse('2026-11-13') * 1000, to: day.to }],
] as const)('%s in SQL', (_name, records, cases, window) => {
  let database: TestDatabase;
  beforeAll(async () => {
    database = await testDatabase();
    await storeEvents(database.pool, stored(makeEvents(records)));
  });
  afterAll(() => database.drop());

  it.each([...cases])('%i: from all, %s', async (_decision, steps, columns, expected) => {
    const plan = compileHunt(`from all\n${steps}`, { window, now: window.to });
    const { rows } = await runPlan(database.pool, plan);
    expect(plan.columns.map((column) => column.name)).toEqual(columns);
    expect(rows.map((row) => jsonCells(plan.columns, row).map(shortId))).toEqual(expected);
  });
});
