import { unreachable } from '../base/unreachable.js';
import type { Network } from '../net/network.js';
import type { Regex } from '../text/regex-syntax.js';
import type { Wildcard } from '../text/wildcard.js';

/** What a rule asks of one field's value. */
export type ValueTest =
  /** The whole text, ignoring case by small letters unless `cased`. */
  | { readonly test: 'text'; readonly pattern: Wildcard; readonly cased: boolean }
  | { readonly test: 'null' }
  | { readonly test: 'exists'; readonly wanted: boolean }
  | { readonly test: 'regex'; readonly regex: Regex }
  | { readonly test: 'network'; readonly network: Network }
  | { readonly test: 'number'; readonly sign: '<' | '<=' | '>' | '>='; readonly value: number }
  /** Compared with another field of the event, as texts. */
  | { readonly test: 'fieldref'; readonly field: string; readonly how: RefHow; readonly cased: boolean }
  /** A part of a time, in UTC. */
  | { readonly test: 'time-part'; readonly part: TimePart; readonly of: ValueTest };

export type RefHow = 'equals' | 'startswith' | 'endswith' | 'contains';

/** Minute 0–59, hour 0–23, day of the month 1–31, ISO week 1–53, month 1–12, year. */
export const timeParts = ['minute', 'hour', 'day', 'week', 'month', 'year'] as const;
export type TimePart = (typeof timeParts)[number];

/** A condition on the fields of one event, names resolved: what detection rules ask, and hunts ask with `meets`. */
export type Predicate =
  | { readonly op: 'always'; readonly holds: boolean }
  | { readonly op: 'and' | 'or'; readonly parts: readonly Predicate[] }
  | { readonly op: 'not'; readonly part: Predicate }
  | { readonly op: 'field'; readonly field: string; readonly test: ValueTest }
  /** A text anywhere in the message and all fields; where it is searched for, in the record as it came in as well. */
  | {
      readonly op: 'keyword';
      readonly test: ValueTest & { test: 'text' | 'regex' };
      readonly record?: true;
    };

/** The fields a condition may read: of those it names, the source's own in `original` come first. */
export function fieldsOfPredicate(predicate: Predicate): readonly string[] {
  switch (predicate.op) {
    case 'always':
      return [];
    case 'and':
    case 'or':
      return predicate.parts.flatMap(fieldsOfPredicate);
    case 'not':
      return fieldsOfPredicate(predicate.part);
    case 'field':
      return ['original', predicate.field, ...fieldsOfTest(predicate.test)];
    case 'keyword':
      return ['message', ...(predicate.record === true ? ['raw'] : []), 'original'];
    default:
      return unreachable(predicate);
  }
}

function fieldsOfTest(test: ValueTest): readonly string[] {
  switch (test.test) {
    case 'fieldref':
      return [test.field];
    case 'time-part':
      return fieldsOfTest(test.of);
    case 'text':
    case 'null':
    case 'exists':
    case 'regex':
    case 'network':
    case 'number':
      return [];
    default:
      return unreachable(test);
  }
}
