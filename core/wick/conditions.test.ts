import { compileHunt } from './compile.js';
import { runInMemory } from './in-memory/run.js';
import { caseRecords, conditionCases } from './tests/condition-cases.js';
import { makeEvents } from './tests/events.js';

const events = makeEvents(caseRecords);
const day = { from: Date.parse('2026-11-14') * 1000, to: Date.parse('2026-11-15') * 1000 };

describe('conditions, by decision of the language', () => {
  it.each(conditionCases)('%i: where %s', (_decision, condition, holds) => {
    const plan = compileHunt(`from signin\nwhere ${condition}\nsort time`, { window: day, now: day.to });
    expect(runInMemory(plan, events).events.map((event) => event?.id)).toEqual(holds);
  });
});
