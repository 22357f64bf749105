import type { Severity } from '../events/kinds.js';
import type { Regex } from '../text/regex-syntax.js';
import type { Wildcard } from '../text/wildcard.js';
import type { Network } from '../net/network.js';

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

/** The condition of a detection rule, names resolved. */
export type Predicate =
  | { readonly op: 'always'; readonly holds: boolean }
  | { readonly op: 'and' | 'or'; readonly parts: readonly Predicate[] }
  | { readonly op: 'not'; readonly part: Predicate }
  | { readonly op: 'field'; readonly field: string; readonly test: ValueTest }
  /** A text anywhere in the message and all fields. */
  | { readonly op: 'keyword'; readonly test: ValueTest & { test: 'text' | 'regex' } };

/** Where a rule applies; what it does not name does not restrict. */
export interface LogSource {
  readonly category?: string;
  readonly product?: string;
  readonly service?: string;
}

interface Head {
  readonly title: string;
  readonly id: string | null;
  readonly name: string | null;
  readonly level: Severity;
  readonly description: string | null;
  /** Line of the document's first word in the whole text. */
  readonly line: number;
}

export interface DetectionRule extends Head {
  readonly type: 'detection';
  readonly logsource: LogSource;
  readonly predicate: Predicate;
  /** The fields its conditions name, for matching's explanation. */
  readonly fields: readonly string[];
}

export type CountSign = 'gt' | 'gte' | 'lt' | 'lte' | 'eq' | 'neq';

/** What a correlation reckons over the matches in its window. */
export const correlationTypes = [
  'event_count',
  'value_count',
  'value_sum',
  'value_avg',
  'value_median',
  'value_percentile',
  'temporal',
  'temporal_ordered',
] as const;
export type CorrelationType = (typeof correlationTypes)[number];

/** A field that a correlation groups by: one name, or one a rule it rests on. */
export interface GroupField {
  readonly name: string;
  /** The field's name in matches of a referred rule, by the rule's position; absent ones go by `name`. */
  readonly per: ReadonlyMap<number, string>;
}

export interface CorrelationRule extends Head {
  readonly type: 'correlation';
  readonly correlation: CorrelationType;
  /** The documents it counts, by position among the documents read together. */
  readonly refers: readonly number[];
  readonly groupBy: readonly GroupField[];
  /** Microseconds. */
  readonly timespan: number;
  /** What the figure must be; empty for temporal types, which need every rule. */
  readonly condition: readonly { readonly sign: CountSign; readonly count: number }[];
  /** The field whose values are reckoned with; null for counts of events and temporal types. */
  readonly field: string | null;
  /** 0–100, for `value_percentile`. */
  readonly percentile: number;
  /** The referred rules raise alerts of their own as well. */
  readonly generate: boolean;
}

/** What is left out of some rules' matches, or the only thing kept of them. */
export interface FilterRule extends Omit<Head, 'level'> {
  readonly type: 'filter';
  readonly logsource: LogSource;
  readonly refers: readonly number[];
  /** Holds for what still counts. */
  readonly predicate: Predicate;
}

export type Rule = DetectionRule | CorrelationRule;
