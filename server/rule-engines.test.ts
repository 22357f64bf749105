import fc from 'fast-check';
import { planOfRules } from '../core/detect/rule-plan.js';
import { Sweeper } from '../core/detect/sweep.js';
import type { LogSourceEntry } from '../core/detect/log-sources.js';
import { parseRules } from '../core/sigma/parse-rules.js';
import type { DetectionRule } from '../core/sigma/rule-model.js';
import { SigmaError } from '../core/sigma/sigma-error.js';
import { runInMemory } from '../core/wick/in-memory/run.js';
import type { Event } from '../core/events/event.js';
import { testDatabase, type TestDatabase } from './tests/database.js';
import { storeEvents } from './tests/events.js';
import { runPlan } from './tests/run-plan.js';
import { END, events, START } from './tests/wick/events.js';
import { detections } from './tests/rules.js';

const RUNS = Number(process.env['UNDER_LAMP_PROPERTY_RUNS'] ?? 300);
const RULES_A_SET = 12;

let database: TestDatabase;
beforeAll(async () => {
  database = await testDatabase();
});
afterAll(() => database.drop());

const entries: readonly LogSourceEntry[] = [
  { logsource: { category: 'authentication' }, kinds: ['signin'], sources: [], fields: { User: 'user' } },
  // Logs of one product, told apart by what their records say; a rule for the product takes all of them.
  {
    logsource: { product: 'p', service: 'failures' },
    kinds: [],
    sources: [],
    fields: {},
    where: { outcome: ['failure'] },
  },
  {
    logsource: { product: 'p', service: 'files', category: 'authentication' },
    kinds: ['data'],
    sources: [],
    fields: { user: 'target_user' },
    where: { operation: ['file.*'], reason: ['*'] },
  },
];

/** Ids of the events that a rule matches, each way it can be run. */
async function allWays(rule: DetectionRule, stored: readonly Event[]): Promise<Record<string, string[]>> {
  const names = [...new Set(stored.map(({ source }) => source ?? ''))];
  const sources = names.map((source) => ({ source, logsource: { product: 'p' } }));
  const plan = planOfRules([rule], sources, entries, { from: START, to: END }, END);
  const sweeper = new Sweeper([rule], { product: 'p' }, entries);
  const at = plan.columns.findIndex(({ slot }) => slot === 'id');
  const idsOf = (rows: readonly (readonly unknown[])[]): string[] =>
    rows.map((row) => String(row[at])).sort();
  return {
    streaming: stored
      .filter((event) => event.time >= START && event.time < END)
      .filter((event) => sweeper.sweep(event, event.time).matched.length > 0)
      .map(({ id }) => id)
      .sort(),
    inMemory: idsOf(runInMemory(plan, stored).rows),
    sql: idsOf((await runPlan(database.pool, plan)).rows),
  };
}

test('a rule matches the same events at intake, as SQL and in memory', async () => {
  let matched = 0;
  await fc.assert(
    fc.asyncProperty(
      events,
      fc.array(detections, { minLength: RULES_A_SET, maxLength: RULES_A_SET }),
      async (stored, texts) => {
        await database.pool.query(
          'TRUNCATE events, event_hours, operation_hours, user_days, lag_hours, sightings',
        );
        await storeEvents(database.pool, stored);
        for (const text of texts) {
          let rule;
          try {
            [rule] = parseRules(text);
          } catch (error) {
            if (error instanceof SigmaError) continue;
            throw error;
          }
          const { streaming, inMemory, sql } = await allWays(rule as DetectionRule, stored);
          expect({ text, ids: sql }).toEqual({ text, ids: streaming });
          expect({ text, ids: inMemory }).toEqual({ text, ids: streaming });
          matched += streaming?.length ?? 0;
        }
      },
    ),
    { numRuns: Math.ceil(RUNS / RULES_A_SET), endOnFailure: true },
  );
  // Rules that never match would prove nothing.
  expect(matched).toBeGreaterThan(RUNS / 10);
}, 600_000);

test('a search of the record as it came in finds the same, too', async () => {
  const [rule] = parseRules(
    "title: Searched\nlogsource: {}\ndetection: {s: {'|re': '^-- no$'}, condition: s}\n",
  );
  if (rule?.type !== 'detection' || rule.predicate.op !== 'keyword') throw new Error('This is a keyword.');
  const searched: DetectionRule = { ...rule, predicate: { ...rule.predicate, record: true } };
  let more = 0;
  await fc.assert(
    fc.asyncProperty(events, async (stored) => {
      await database.pool.query(
        'TRUNCATE events, event_hours, operation_hours, user_days, lag_hours, sightings',
      );
      await storeEvents(database.pool, stored);
      const { streaming, inMemory, sql } = await allWays(searched, stored);
      expect([inMemory, sql]).toEqual([streaming, streaming]);
      more += (streaming?.length ?? 0) - ((await allWays(rule, stored)).streaming?.length ?? 0);
    }),
    { numRuns: 40, endOnFailure: true },
  );
  expect(more).toBeGreaterThan(0);
}, 120_000);
