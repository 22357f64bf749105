import { jsonCells } from '../output/json-lines.js';
import { compileHunt } from './compile.js';
import { runInMemory } from './in-memory/run.js';
import { makeEvents } from './tests/events.js';
import { stepCases, stepRecords } from './tests/step-cases.js';
import { timeCases, timeRecords } from './tests/time-cases.js';

const events = makeEvents(stepRecords);
const days = { from: Date.parse('2026-11-13') * 1000, to: Date.parse('2026-11-15') * 1000 };
const eventsOfDays = makeEvents(timeRecords);
const day = { from: Date.parse('2026-11-14') * 1000, to: Date.parse('2026-11-15') * 1000 };

describe('steps, by decision of the language', () => {
  it.each(stepCases)('%i: from all, %s', (_decision, steps, columns, rows) => {
    const plan = compileHunt(`from all\n${steps}`, { window: day, now: day.to });
    const result = runInMemory(plan, events);
    expect(result.columns.map((column) => column.name)).toEqual(columns);
    expect(result.rows.map((row) => jsonCells(result.columns, row))).toEqual(rows);
  });

  it.each(timeCases)('%i: through time, %s', (_decision, steps, columns, rows) => {
    const plan = compileHunt(`from all\n${steps}`, { window: days, now: days.to });
    const result = runInMemory(plan, eventsOfDays);
    expect(result.columns.map((column) => column.name)).toEqual(columns);
    expect(result.rows.map((row) => jsonCells(result.columns, row))).toEqual(rows);
  });

  it('counts the rows that passed each step', () => {
    const text =
      "from all\nwhere kind = 'signin'\nwhere outcome = 'failure'\ntally count() per user\nfirst 5";
    expect(runInMemory(compileHunt(text, { window: day, now: day.to }), events).steps).toEqual([
      6, 4, 2, 1, 1,
    ]);
  });
});

describe('the window', () => {
  const ids = (text: string, window = day): (string | undefined)[] =>
    runInMemory(compileHunt(text, { window, now: day.to }), events).events.map((event) => event?.id);

  it('19: includes its start and leaves out its end', () => {
    const window = {
      from: Date.parse('2026-11-14T08:00:00Z') * 1000,
      to: Date.parse('2026-11-14T08:10:00Z') * 1000,
    };
    expect(ids('from all', window)).toEqual(['e1']);
  });

  it('19: is replaced by "over", with dates as their midnight', () => {
    expect(ids("from all over '2026-11-14T09:30' to '2026-11-15'")).toEqual(['e6', 'e5']);
    expect(ids('from all over last 15h')).toEqual(['e6', 'e5', 'e4']);
  });

  it('chooses kinds and sources, which may be unknown', () => {
    expect(ids('from query')).toEqual(['e6', 'e5']);
    expect(ids('FROM Query, SIGNIN\nfirst 1')).toEqual(['e6']);
    expect(ids('from source test\nfirst 1')).toEqual(['e6']);
    expect(ids("from source never-heard, 'of it'")).toEqual([]);
  });
});
