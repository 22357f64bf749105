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
  | { readonly test: 'number'; readonly sign: '<' | '<=' | '>' | '>='; readonly value: number };

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

export interface CorrelationRule extends Head {
  readonly type: 'correlation';
  readonly correlation: 'event_count';
  /** The documents it counts, by position in the text. */
  readonly refers: readonly number[];
  readonly groupBy: readonly string[];
  /** Microseconds. */
  readonly timespan: number;
  readonly condition: readonly { readonly sign: CountSign; readonly count: number }[];
  /** The referred rules raise alerts of their own as well. */
  readonly generate: boolean;
}

export type Rule = DetectionRule | CorrelationRule;
