import { formatDuration } from '../base/instant.js';
import { MANY, ONE } from '../text/wildcard.js';
import type { CorrelationRule, CorrelationType, CountSign, Rule } from './rule-model.js';
import type { Predicate, RefHow, ValueTest } from '../predicate/predicate.js';

/** How counts compare, in words. */
export const signWords: Readonly<Record<CountSign, string>> = {
  gt: 'more than',
  gte: 'at least',
  lt: 'fewer than',
  lte: 'at most',
  eq: 'exactly',
  neq: 'any number but',
};

const refWords: Readonly<Record<RefHow, string>> = {
  equals: 'is',
  startswith: 'begins with',
  endswith: 'ends with',
  contains: 'holds',
};

/** What a test asks of a value, in words. */
export function describeTest(test: ValueTest): string {
  switch (test.test) {
    case 'text':
      return `is "${test.pattern.parts.map((part) => (part === MANY ? '…' : part === ONE ? '?' : part)).join('')}"`;
    case 'null':
      return 'is missing';
    case 'exists':
      return test.wanted ? 'is there' : 'is not there';
    case 'regex':
      return `fits /${test.regex.source}/`;
    case 'network':
      return 'lies in the network';
    case 'number':
      return `${test.sign} ${test.value}`;
    case 'fieldref':
      return `${refWords[test.how]} what ${test.field} holds`;
    case 'time-part':
      return `has a ${test.part} that ${describeTest(test.of)}`;
  }
}

function describePredicate(predicate: Predicate, nested: boolean): string {
  switch (predicate.op) {
    case 'always':
      return predicate.holds ? 'always' : 'never';
    case 'and':
    case 'or': {
      const text = predicate.parts.map((part) => describePredicate(part, true)).join(` ${predicate.op} `);
      return nested ? `(${text})` : text;
    }
    case 'not':
      return `not ${describePredicate(predicate.part, true)}`;
    case 'field':
      return `${predicate.field} ${describeTest(predicate.test)}`;
    case 'keyword':
      return `any text ${describeTest(predicate.test)}`;
  }
}

const figureWords: Readonly<Record<CorrelationType, string>> = {
  event_count: 'matches',
  value_count: 'different values',
  value_sum: 'in all',
  value_avg: 'on average',
  value_median: 'in the middle',
  value_percentile: 'at the percentile',
  temporal: '',
  temporal_ordered: '',
};

function describeCorrelation(rule: CorrelationRule, rules: readonly Rule[]): string {
  const counted = rule.refers.map((referred) => `"${rules[referred]?.title ?? '?'}"`);
  const names = rule.groupBy.map(({ name }) => name);
  const group = names.length === 0 ? 'in all' : `of the same ${names.join(' and ')}`;
  const span = `within ${formatDuration(rule.timespan)} ${group}`;
  const count = rule.condition.map(({ sign, count: wanted }) => `${signWords[sign]} ${wanted}`).join(' and ');
  switch (rule.correlation) {
    case 'temporal':
      return `matches of ${counted.join(' and ')} ${span}, in any order`;
    case 'temporal_ordered':
      return `matches of ${counted.join(', then ')} ${span}`;
    case 'event_count':
      return `${count} matches of ${counted.join(', ')} ${span}`;
    default:
      return `${rule.field} ${count} ${figureWords[rule.correlation]}${rule.correlation === 'value_percentile' ? ` ${rule.percentile}` : ''} over matches of ${counted.join(', ')} ${span}`;
  }
}

/** A rule in plain words. @param rules all documents of its text, which a correlation refers to */
export function describeRule(rule: Rule, rules: readonly Rule[]): string {
  if (rule.type === 'correlation') return describeCorrelation(rule, rules);
  const where = Object.values(rule.logsource).filter((word) => word !== undefined);
  return `events${where.length === 0 ? '' : ` of ${where.join(' ')}`} where ${describePredicate(rule.predicate, false)}`;
}
