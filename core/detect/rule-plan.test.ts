import type { Event } from '../events/event.js';
import type { Predicate } from '../predicate/predicate.js';
import { parseRules } from '../sigma/parse-rules.js';
import type { DetectionRule } from '../sigma/rule-model.js';
import { runInMemory } from '../wick/in-memory/run.js';
import type { Condition } from '../wick/plan.js';
import { makeEvents } from '../wick/tests/events.js';
import type { LogSourceEntry, RecordsOf } from './log-sources.js';
import { planOfReach, planOfRules } from './rule-plan.js';

const from = Date.UTC(2026, 4, 1) * 1000;
const window = { from, to: from + 3_600_000_000 };
const detection = (logsource: string, asked = 'operation: script.run'): DetectionRule => {
  const [rule] = parseRules(
    `title: Made\nlogsource: ${logsource}\ndetection: {s: {${asked}}, condition: s}\n`,
  );
  return rule as DetectionRule;
};
/** Twenty logs of one product, told apart by what a record says of itself. */
const logs: readonly LogSourceEntry[] = Array.from({ length: 20 }, (_, i) => ({
  logsource: { product: 'deck', service: `log-${i}` },
  kinds: [],
  sources: [],
  fields: {},
  where: { event_code: [String(i)] },
}));
const records: readonly RecordsOf[] = [
  { source: 'decks', logsource: { product: 'deck' } },
  { source: 'unknown', logsource: {} },
  { source: 'docks', logsource: { product: 'dock' } },
];
const event = (source: string, code: string, operation = 'script.run'): Event => ({
  ...(makeEvents([{ time: new Date(from / 1000).toISOString(), kind: 'system', operation }])[0] as Event),
  id: `${source}${code}${operation}`,
  source,
  event_code: code,
});
const events = records.flatMap(({ source }) => [
  event(source, '3'),
  event(source, '99'),
  event(source, '3', 'file.read'),
]);

function found(rule: DetectionRule, entries = logs): string[] {
  const plan = planOfRules([rule], records, entries, window, window.to);
  const at = plan.columns.findIndex(({ slot }) => slot === 'id');
  return runInMemory(plan, events)
    .rows.map((row) => row[at] as string)
    .sort();
}

/** How often records are held against a condition of the open format. */
function countMeets(condition: Condition): number {
  if (condition.op === 'meets') return 1;
  return condition.op === 'and' || condition.op === 'or'
    ? condition.parts.reduce((sum, part) => sum + countMeets(part), 0)
    : 0;
}
const meetsOf = (rule: DetectionRule, of: readonly RecordsOf[]): number =>
  planOfRules([rule], of, logs, window, window.to).steps.reduce(
    (sum, step) => sum + (step.step === 'where' ? countMeets(step.condition) : 0),
    0,
  );

test('a rule for a product asks each record once, whatever logs the product has', () => {
  const rule = detection('{product: deck}');
  expect(meetsOf(rule, records.slice(0, 1))).toBe(1);
  // Records that do not say of what product they are count only where they say so themselves.
  expect(found(rule)).toEqual(['decks3script.run', 'decks99script.run', 'unknown3script.run']);
});

test('a rule for one log asks for what its records say, and for its own condition once', () => {
  const rule = detection('{product: deck, service: log-3}');
  expect(found(rule)).toEqual(['decks3script.run', 'unknown3script.run']);
  expect(meetsOf(rule, records)).toBe(2);
});

test('a log that calls the fields otherwise is asked by its own names', () => {
  const renaming: LogSourceEntry = {
    logsource: { product: 'deck', service: 'named' },
    kinds: ['system'],
    sources: ['decks'],
    fields: { operation: 'event_code' },
  };
  expect(found(detection('{product: deck}', "operation: '99'"), [renaming])).toEqual(['decks99script.run']);
  expect(found(detection('{product: deck}', "operation: '99'"), [])).toEqual([]);
});

test('what a cut hides besides is counted among the log sources of the rules, without what they match', () => {
  const cut = { op: 'field', field: 'event_code', test: { test: 'exists', wanted: true } } as const;
  const reach = (rules: readonly DetectionRule[], entries = logs, cuts: readonly Predicate[] = [cut]) =>
    runInMemory(planOfReach(rules, cuts, records, entries, window, window.to), events).rows;
  // Of three records of its product one is no start of a script; of those that say no product what they are as well.
  expect(reach([detection('{product: deck}')])).toEqual([[2]]);
  // What another rule matches, which is counted with it, is not hidden besides.
  expect(reach([detection('{product: deck}'), detection('{product: dock}')])).toEqual([[3]]);
  expect(reach([detection('{product: deck}'), detection('{}', 'operation: file.read')])).toEqual([[3]]);
  expect(reach([detection('{product: hull}')])).toEqual([[0]]);
  expect(reach([detection('{product: deck}')], logs, [])).toEqual([[0]]);
});

test('records come along only where a rule looks into them', () => {
  const slots = (rule: DetectionRule): readonly string[] =>
    planOfRules([rule], records, logs, window, window.to).columns.map(({ slot }) => slot);
  const rule = detection('{product: deck}');
  expect(slots(rule)).not.toContain('raw');
  expect(slots(rule)).toEqual(expect.arrayContaining(['id', 'time', 'original', 'message']));
  const test = { test: 'text', pattern: { parts: ['x'] }, cased: false } as const;
  const inFields = { ...rule, predicate: { op: 'keyword', test } } as const;
  expect(slots(inFields)).not.toContain('raw');
  const inRecord = {
    ...rule,
    predicate: { op: 'not', part: { op: 'keyword', test, record: true } },
  } as const;
  expect(slots(inRecord)).toContain('raw');
});

test('a rule that no source can meet is asked of nothing', () => {
  expect(found(detection('{product: hull}'))).toEqual([]);
});

test('several rules are asked together, each of its own records', () => {
  const plan = planOfRules(
    [detection('{product: deck}'), detection('{product: dock}', 'operation: file.read')],
    records,
    logs,
    window,
    window.to,
  );
  const at = plan.columns.findIndex(({ slot }) => slot === 'id');
  const ids = runInMemory(plan, events).rows.map((row) => row[at] as string);
  expect(ids.sort()).toEqual([
    'decks3script.run',
    'decks99script.run',
    'docks3file.read',
    'unknown3script.run',
  ]);
});

test('a field that is compared with another is called by the names of the log, too', () => {
  const renaming: LogSourceEntry = {
    logsource: { product: 'deck', service: 'named' },
    kinds: [],
    sources: ['decks'],
    fields: { first: 'operation', second: 'event_code' },
  };
  const same = { ...event('decks', 'script.run'), id: 'same' };
  const rule = detection('{product: deck}', "'first|fieldref': second");
  const plan = planOfRules([rule], records, [renaming], window, window.to);
  const at = plan.columns.findIndex(({ slot }) => slot === 'id');
  expect(runInMemory(plan, [...events, same]).rows.map((row) => row[at])).toEqual(['same']);
});
