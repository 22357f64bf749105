import { formatInstant, type Instant, MINUTE } from '../base/instant.js';
import type { Json } from '../base/json.js';
import { inOrder, type PlacedFact, type StudyTable } from './facts.js';

/** The same that happens again within this time is one line. */
const TOGETHER = 5 * MINUTE;

interface Line {
  readonly first: PlacedFact;
  last: Instant;
  count: number;
  readonly rules: Set<string>;
}

/** Programs that start are told only where a rule matched: there are thousands, and most are nothing. */
const isTold = ({ kind, operation, rules }: PlacedFact): boolean =>
  rules.length > 0 || !(kind === 'process' && /\.(?:start|end|load|access)$/.test(operation));

/** What happened, in order: the same in a row is one line with its number. */
export function timeline(facts: readonly PlacedFact[]): StudyTable {
  const open = new Map<string, Line>();
  const lines: Line[] = [];
  for (const fact of inOrder(facts)) {
    if (!isTold(fact)) continue;
    const { kind, operation, outcome, user, address, host, target } = fact;
    const key = JSON.stringify([kind, operation, outcome, user, address, host, target]);
    let line = open.get(key);
    if (line === undefined || fact.time - line.last > TOGETHER) {
      line = { first: fact, last: fact.time, count: 0, rules: new Set() };
      open.set(key, line);
      lines.push(line);
    }
    line.last = fact.time;
    line.count++;
    for (const rule of fact.rules) line.rules.add(rule);
  }
  return {
    study: 'timeline',
    title: 'What happened, in order',
    columns: [
      'time',
      'until',
      'count',
      'kind',
      'operation',
      'outcome',
      'user',
      'target',
      'from',
      'host',
      'what',
      'rules',
      'file',
      'line',
    ],
    rows: lines.map(({ first, last, count, rules }): Json[] => [
      formatInstant(first.time),
      formatInstant(last),
      count,
      first.kind,
      first.operation,
      first.outcome,
      first.user,
      first.target,
      first.fromHost ?? first.address,
      first.host,
      first.what ?? first.how,
      [...rules].join('; '),
      first.file,
      first.line,
    ]),
    notes: ['Programs that start are told only where a rule matched.'],
  };
}
