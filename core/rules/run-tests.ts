import { parseInstant, SECOND, type Instant } from '../base/instant.js';
import type { Json, JsonObject } from '../base/json.js';
import { partOfPack } from '../detect/part-of-pack.js';
import type { LogSourceEntry } from '../detect/log-sources.js';
import { Sweeper, sweepWindows, type PlacedHit } from '../detect/sweep.js';
import { columnDef, isColumnName } from '../events/columns.js';
import type { Event } from '../events/event.js';
import type { HuntRule, Rule, RuleTest } from '../sigma/rule-model.js';
import { compileHunt } from '../wick/compile.js';
import { HuntError } from '../wick/hunt-error.js';
import type { Environment } from '../wick/in-memory/environment.js';
import { runInMemory } from '../wick/in-memory/run.js';
import type { ListRef } from '../wick/plan.js';
import { judgeHunt, windowOf } from './hunt-trigger.js';

/** How a test went. */
export interface TestResult {
  readonly name: string;
  readonly must: RuleTest['must'];
  readonly passed: boolean;
  readonly line: number;
  /** What happened, in words. */
  readonly said: string;
}

/** When the first event of a test happened where it does not say so; the others follow a second apart. */
const FIRST_TIME: Instant = 1_767_225_600 * SECOND;

function valueOf(name: string, value: Json): Json {
  if (!isColumnName(name)) return value;
  const { type, identity } = columnDef(name);
  if (type === 'time' && typeof value === 'string') return parseInstant(value);
  if (type === 'text' && typeof value === 'number') return String(value);
  return identity === true && typeof value === 'string' ? value.trim().toLowerCase() : value;
}

/** An event of a test: fields of ours become columns, all others the source's own. */
function eventOf(fields: Readonly<Record<string, Json>>, i: number): Event {
  const columns: Record<string, Json> = {};
  const own: Record<string, Json> = {};
  for (const [name, value] of Object.entries(fields)) {
    if (name === 'original') Object.assign(own, value as JsonObject);
    else if (isColumnName(name)) columns[name] = valueOf(name, value);
    else own[name] = value;
  }
  const time = typeof columns['time'] === 'number' ? columns['time'] : FIRST_TIME + i * SECOND;
  return {
    source: 'test',
    raw: JSON.stringify(fields),
    ...columns,
    id: i.toString(16).padStart(32, '0'),
    time,
    original: own,
  };
}

function judge({ name, must, line }: RuleTest, matches: number): TestResult {
  const matched = matches > 0;
  return {
    name,
    must,
    line,
    passed: matched === (must === 'match'),
    said: matched ? (matches === 1 ? 'it matches' : `it matches ${matches} times`) : 'it does not match',
  };
}

/**
 * Runs the tests that are kept with a rule: each one's events alone, whatever log source they would have.
 * @param rules the pack it stands in
 */
export function runRuleTests(
  rules: readonly Rule[],
  at: number,
  entries: readonly LogSourceEntry[],
): TestResult[] {
  const tests = rules[at]?.settings.tests ?? [];
  if (tests.length === 0) return [];
  // What else the pack holds would silence the rule where it counts it.
  const part = partOfPack(rules, at).map((rule) => ({
    ...rule,
    settings: { ...rule.settings, onMatch: 'alert' as const },
  }));
  const own = part.length - 1;
  const sweeper = new Sweeper(part, 'any', entries);
  return tests.map((test) => {
    const hits: PlacedHit<number>[] = [];
    let matched = 0;
    test.events.map(eventOf).forEach((event, i) => {
      const swept = sweeper.sweep(event, event.time);
      if (swept.matched.includes(own)) matched++;
      for (const hit of swept.hits) hits.push({ ...hit, order: i, place: i });
    });
    const windows = sweepWindows(part, hits, 'in their order').filter(({ rule }) => rule === own);
    return judge(test, matched + windows.length);
  });
}

/** As {@link runRuleTests}, of a hunt: it runs a second after the last of a test's events. */
export function runHuntTests(
  hunt: HuntRule,
  lists: readonly ListRef[],
  environment: Environment,
): TestResult[] {
  return hunt.settings.tests.map((test) => {
    const events = test.events.map(eventOf);
    const to = Math.max(...events.map(({ time }) => time)) + SECOND;
    const window =
      hunt.runs.how === 'live'
        ? { from: Math.min(...events.map(({ time }) => time)), to }
        : windowOf(hunt, to + hunt.lateness);
    try {
      const plan = compileHunt(hunt.hunt, { window, now: to, lists });
      const inside = events.filter(({ time }) => time >= plan.window.from && time < plan.window.to);
      const { rows, columns, opens } = runInMemory(plan, inside, environment);
      const before = hunt.trigger.change === null ? null : 0;
      return judge(test, judgeHunt(hunt, { columns, rows, opens }, window, before).matches.length);
    } catch (error) {
      if (!(error instanceof HuntError)) throw error;
      const { name, must, line } = test;
      return { name, must, line, passed: false, said: error.message };
    }
  });
}
