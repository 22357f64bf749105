import { formatDuration } from '../base/instant.js';
import { MANY, ONE } from '../text/wildcard.js';
import type { CorrelationRule, CountSign, Predicate, Rule, ValueTest } from './predicate.js';

const signWords: Readonly<Record<CountSign, string>> = {
  gt: 'more than',
  gte: 'at least',
  lt: 'fewer than',
  lte: 'at most',
  eq: 'exactly',
  neq: 'any number but',
};

function describeTest(test: ValueTest): string {
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

function describeCorrelation(rule: CorrelationRule, rules: readonly Rule[]): string {
  const counted = rule.refers.map((referred) => `"${rules[referred]?.title ?? '?'}"`).join(', ');
  const count = rule.condition.map(({ sign, count: wanted }) => `${signWords[sign]} ${wanted}`).join(' and ');
  const group = rule.groupBy.length === 0 ? 'in all' : `of the same ${rule.groupBy.join(' and ')}`;
  return `${count} matches of ${counted} within ${formatDuration(rule.timespan)} ${group}`;
}

/** A rule in plain words. @param rules all documents of its text, which a correlation refers to */
export function describeRule(rule: Rule, rules: readonly Rule[]): string {
  if (rule.type === 'correlation') return describeCorrelation(rule, rules);
  const where = Object.values(rule.logsource).filter((word) => word !== undefined);
  return `events${where.length === 0 ? '' : ` of ${where.join(' ')}`} where ${describePredicate(rule.predicate, false)}`;
}
