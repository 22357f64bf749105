import type { RuleAction } from './actions.js';
import type { Json } from '../base/json.js';
import type { Severity } from '../events/kinds.js';
import type { Predicate } from '../predicate/predicate.js';

/** Where a rule applies; what it does not name does not restrict. */
export interface LogSource {
  readonly category?: string;
  readonly product?: string;
  readonly service?: string;
}

/** What every document says of itself. */
export interface Head {
  readonly title: string;
  readonly id: string | null;
  readonly name: string | null;
  readonly level: Severity;
  readonly description: string | null;
  /** Such as `attack.t1110.003`. */
  readonly tags: readonly string[];
  readonly falsePositives: readonly string[];
  readonly settings: RuleSettings;
  /** Line of the document's first word in the whole text. */
  readonly line: number;
}

/** What the workbench does with a rule's matches; written under `lamp`, a key that the open format leaves to us. */
export interface RuleSettings {
  /**
   * A rule that marks lights its events up, for other rules and for whoever reads them, and raises no alert; one that
   * counts is there for other rules alone.
   */
  readonly onMatch: 'alert' | 'mark' | 'count';
  readonly owner: string | null;
  /** The fields that name whom or what a match is about; null for the usual ones. */
  readonly subject: readonly string[] | null;
  /** For so long after an alert began further matches gather in it, settled or not; microseconds. */
  readonly quiet: number;
  /** Whether the quiet holds for the same subject, or for any. */
  readonly quietPer: 'subject' | 'any';
  /** The severity of alerts about some subjects, where it is another than the rule's; the first that names one counts. */
  readonly levels: readonly LevelOf[];
  /** What is done when an alert is raised, besides telling it. */
  readonly actions: readonly RuleAction[];
  readonly tests: readonly RuleTest[];
}

/** A severity for alerts about these: values of a field of the subject, or a whole subject. */
export interface LevelOf {
  readonly level: Severity;
  readonly of: readonly string[];
}

/** Events that a rule must match, or must leave alone. */
export interface RuleTest {
  readonly name: string;
  readonly must: 'match' | 'pass';
  /** Fields by their names of ours, `original` for the source's own; at least one event. */
  readonly events: readonly Readonly<Record<string, Json>>[];
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

/** What the result of a hunt is measured by. */
export const triggerSubjects = ['rows', 'subjects', 'sources', 'column'] as const;

/** When the result of a hunt is a match. */
export interface HuntTrigger {
  /** The number of rows, of different subjects, of different sources, or the values of a column. */
  readonly of: (typeof triggerSubjects)[number];
  /** Of `column`, the one whose value counts, row by row. */
  readonly column: string | null;
  readonly condition: readonly { readonly sign: CountSign; readonly count: number }[];
  /** Against the run before: how much more or less it must be; null where it is not compared. */
  readonly change: {
    readonly way: 'rises' | 'falls';
    readonly by: number;
    readonly unit: 'count' | '%';
  } | null;
}

/** When a hunt is run. */
export type HuntRuns =
  | { readonly how: 'live' }
  | { readonly how: 'every'; readonly micros: number }
  /** By the clock of a zone: a time that comes twice is its first, one that never comes as much later as clocks go forward. */
  | { readonly how: 'cron'; readonly expression: string; readonly zone: string };

/** A hunt as a rule: run again and again, its result measured. */
export interface HuntRule extends Head {
  readonly type: 'hunt';
  readonly hunt: string;
  /** The line of the whole text on which the hunt's first line stands. */
  readonly huntLine: number;
  readonly runs: HuntRuns;
  /** The width of the window it looks at, microseconds. */
  readonly over: number;
  /** The window ends so long before the run, so that late records are in it; microseconds. */
  readonly lateness: number;
  readonly trigger: HuntTrigger;
  /** One match for the whole run, or one a row. */
  readonly tells: 'run' | 'row';
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
