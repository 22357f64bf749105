import type { Event } from '../core/events/event.js';
import { jsonCells } from '../core/output/json-lines.js';
import { compileHunt } from '../core/wick/compile.js';
import { toSql } from '../core/wick/emit-sql/emit.js';
import { caseRecords, conditionCases } from '../core/wick/tests/condition-cases.js';
import { makeEvents } from '../core/wick/tests/events.js';
import { stepCases, stepRecords } from '../core/wick/tests/step-cases.js';
import { readHuntRow, readRowEvent } from './store/hunt-rows.js';
import { testDatabase, type TestDatabase } from './tests/database.js';
import { storeEvents } from './tests/events.js';

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
    const { text, values } = toSql(plan, 100);
    const { rows } = await database.pool.query(text, [...values]);
    expect(rows.map((row) => shortId(readRowEvent(plan, row)?.id))).toEqual(holds);
  });
});

describe('steps in SQL', () => {
  let database: TestDatabase;
  beforeAll(async () => {
    database = await testDatabase();
    await storeEvents(database.pool, stored(makeEvents(stepRecords)));
  });
  afterAll(() => database.drop());

  it.each(stepCases)('%i: from all, %s', async (_decision, steps, columns, expected) => {
    const plan = compileHunt(`from all\n${steps}`, { window: day, now: day.to });
    const { text, values } = toSql(plan, 100);
    const { rows } = await database.pool.query(text, [...values]);
    expect(plan.columns.map((column) => column.name)).toEqual(columns);
    expect(rows.map((row) => jsonCells(plan.columns, readHuntRow(plan, row)).map(shortId))).toEqual(expected);
  });
});
