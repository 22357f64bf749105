import type { ColumnName } from '../events/columns.js';
import type { Kind } from '../events/kinds.js';
import type { Instant } from '../base/instant.js';
import type { Json } from '../base/json.js';
import type { Predicate } from '../predicate/predicate.js';
import type { Regex } from '../text/regex-syntax.js';
import type { AggregateName } from './aggregates.js';
import type { FunctionName } from './functions.js';
import type { ArithmeticOperator } from './syntax.js';
import type { ValueType } from '../events/types.js';

/**
 * The checked form of a hunt, which both engines run: every name is resolved to a column, every value
 * has a type, every literal is of the type it is compared with.
 */
export interface Plan {
  readonly window: Window;
  /** The run's one moment of `now`. */
  readonly now: Instant;
  readonly steps: readonly PlanStep[];
  /** The columns of the result, in order. */
  readonly columns: readonly Column[];
  /** The order of the result; empty only before `from`. */
  readonly order: readonly OrderKey[];
  readonly rows: RowsAre;
  /** The events that a row opens, the most telling first; none where rows are sums of many. */
  readonly opens: readonly Opened[];
  /** The blanks the hunt asks for, in order. */
  readonly asks: readonly Ask[];
  /** Things worth knowing that are no mistakes, such as a comparison that can never hold. */
  readonly notes: readonly string[];
}

/** From inclusive, to exclusive. */
export interface Window {
  readonly from: Instant;
  readonly to: Instant;
}

/** Whether a row is an event, or a line of a table made from events. */
export type RowsAre = 'events' | 'table';

/** An event a row stands for: what it is to the row, and the slots that hold its id and time. */
export interface Opened {
  readonly name: string;
  readonly id: string;
  readonly time: string;
}

/** A value taken along from an earlier row, under a slot of its own. */
export interface Kept {
  readonly from: string;
  readonly to: string;
}

/** A blank of a hunt, to be filled in before it runs. */
export interface Ask {
  readonly name: string;
  readonly label: string;
  /** What the default makes it; text where there is none. */
  readonly type: AskType;
  /** As it is to be typed in; null where there is none. */
  readonly default: string | null;
  readonly choices: AskChoices | null;
  /** Whether leaving it empty lets all rows pass. */
  readonly any: boolean;
}

export type AskType = 'text' | 'number' | 'duration' | 'truth';
/** The values to choose from: fixed ones, or those seen in a field. */
export type AskChoices = { readonly values: readonly string[] } | { readonly field: string };

/** A column of the rows at some step. */
export interface Column {
  /** Where both engines keep it: the canonical name for stored columns, `x1`, `x2`… for computed ones. */
  readonly slot: string;
  /** As the hunt spells it. */
  readonly name: string;
  readonly type: ValueType;
  /** Holds users or hosts as stored: what is compared with it is trimmed and lower-cased first. */
  readonly identity?: true;
  /** Holds whole numbers only, so that sums are exact. */
  readonly integer?: true;
  /** The canonical field whose values it holds, for menus and dossiers. */
  readonly field?: ColumnName;
}

export interface OrderKey {
  readonly slot: string;
  readonly type: ValueType;
  readonly descending: boolean;
}

export type Literal =
  | { readonly op: 'literal'; readonly type: 'text' | 'address'; readonly value: string }
  | { readonly op: 'literal'; readonly type: 'number' | 'time'; readonly value: number }
  | { readonly op: 'literal'; readonly type: 'truth'; readonly value: boolean }
  /** Nothing, as a value of the type that is needed beside it. */
  | { readonly op: 'literal'; readonly type: ValueType; readonly value: null };

/** Where a value stands within JSON: a number counts a list from 0 or is a key of an object, a text is a key only. */
export type JsonPath = readonly (string | number)[];

export type Expr =
  | Literal
  | { readonly op: 'column'; readonly type: ValueType; readonly slot: string }
  /** A place within the JSON of a column, such as `original`. */
  | { readonly op: 'path'; readonly type: 'any'; readonly slot: string; readonly path: JsonPath }
  | { readonly op: 'convert'; readonly type: 'text' | 'any'; readonly value: Expr }
  | {
      readonly op: 'arithmetic';
      readonly type: 'number';
      readonly sign: ArithmeticOperator;
      readonly left: Expr;
      readonly right: Expr;
    }
  | { readonly op: 'shift'; readonly type: 'time'; readonly value: Expr; readonly micros: number }
  | {
      readonly op: 'if';
      readonly type: ValueType;
      readonly condition: Condition;
      readonly then: Expr;
      readonly otherwise: Expr;
    }
  | {
      readonly op: 'call';
      readonly type: ValueType;
      readonly fn: Exclude<FunctionName, 'if'>;
      readonly args: readonly Expr[];
      /** Bucket width in microseconds, or an IANA zone: arguments that are fixed before the run. */
      readonly fixed?: { readonly micros?: number; readonly zone?: string };
    };

/** `!=` is a `not` around `=`; comparisons with null are false. */
export type Condition =
  | { readonly op: 'always'; readonly holds: boolean }
  | { readonly op: 'and' | 'or'; readonly parts: readonly Condition[] }
  | { readonly op: 'not'; readonly part: Condition }
  | {
      readonly op: 'compare';
      readonly sign: '=' | '<' | '<=' | '>' | '>=';
      readonly left: Expr;
      readonly right: Expr;
    }
  | { readonly op: 'between'; readonly value: Expr; readonly low: Expr; readonly high: Expr }
  | { readonly op: 'in'; readonly value: Expr; readonly options: readonly Expr[] }
  | { readonly op: 'in-list'; readonly value: Expr; readonly list: ListRef }
  | { readonly op: 'like'; readonly value: Expr; readonly pattern: string }
  | { readonly op: 'matches'; readonly value: Expr; readonly regex: Regex }
  | { readonly op: 'within'; readonly value: Expr; readonly network: string }
  | { readonly op: 'null'; readonly value: Expr }
  | { readonly op: 'has'; readonly needle: string }
  /** The condition of a rule, which is asked of the stored event. */
  | { readonly op: 'meets'; readonly predicate: Predicate };

/** How a list finds a value: the whole text ignoring case, the longest network, or a pattern of `*` and `?`. */
export type ListMatch = 'exact' | 'network' | 'wildcard';

export interface ListRef {
  readonly name: string;
  readonly match: ListMatch;
  /** The names of its columns, the key first; where they are not given nothing can be looked up in it. */
  readonly columns?: readonly string[];
}

export interface Aggregate {
  readonly fn: AggregateName;
  readonly type: ValueType;
  /** Absent for `count()` alone. */
  readonly value?: Expr;
  readonly distinct?: true;
  /** `count(where …)`. */
  readonly where?: Condition;
  /** The percentile asked for, 0..100. */
  readonly percent?: number;
  /** The whole-number column summed, where sums need no decimals. */
  readonly integer?: true;
}

export interface Computed {
  readonly column: Column;
  readonly expr: Expr;
}

export type PlanStep = StepBody & { readonly line: number; readonly keyword: string };

export type StepBody =
  | {
      readonly step: 'from';
      readonly window: Window;
      readonly kinds: readonly Kind[] | null;
      readonly sources: readonly string[] | null;
    }
  | { readonly step: 'where'; readonly condition: Condition }
  | { readonly step: 'set'; readonly computed: Computed }
  | {
      readonly step: 'look';
      readonly value: Expr;
      readonly list: ListRef;
      /** Which column of the list goes where. */
      readonly columns: readonly { readonly column: Column; readonly from: string }[];
    }
  | {
      readonly step: 'tally';
      readonly keys: readonly Computed[];
      /** The bucket's column and width in microseconds. */
      readonly every?: { readonly column: Column; readonly time: Expr; readonly micros: number };
      readonly aggregates: readonly { readonly column: Column; readonly aggregate: Aggregate }[];
      /** The order rows stand in, for `first` and `last`. */
      readonly inOrder: readonly OrderKey[];
    }
  | { readonly step: 'sort'; readonly keys: readonly Computed[]; readonly order: readonly OrderKey[] }
  | { readonly step: 'first'; readonly count: number; readonly order: readonly OrderKey[] }
  | {
      readonly step: 'once';
      readonly keys: readonly Expr[];
      /** Of several rows of a key, the first in this order is kept. */
      readonly order: readonly OrderKey[];
      /** Where an engine may note which row that is. */
      readonly mark: string;
    }
  | { readonly step: 'show'; readonly computed: readonly Computed[] }
  | { readonly step: 'hide' }
  | FillStep
  | ReadStep
  | StreakStep
  | DebutStep
  | SequenceStep
  | TravelStep
  | ShapesStep
  | SwingStep
  | JoinStep
  | BackStep;

/** Cuts columns out of a text. */
export interface ReadStep {
  readonly step: 'read';
  readonly value: Expr;
  readonly by:
    | { readonly how: 'blanks'; readonly pattern: BlankPattern }
    /** The names of the groups stand in the order of the columns. */
    | { readonly how: 'regex'; readonly regex: Regex; readonly groups: readonly string[] };
  readonly columns: readonly { readonly column: Column; readonly as: ReadAs }[];
}

/** How a cut-out text becomes a value. */
export type ReadAs = 'text' | 'number' | 'address';

/** Literals with blanks between: literal, blank, literal, blank … A space in a literal fits any white space. */
export interface BlankPattern {
  readonly literals: readonly string[];
  /** Whether the last blank takes everything that is left. */
  readonly rest: boolean;
  /** Whether the pattern ends in a blank. */
  readonly endsInBlank: boolean;
}

/** What steps over the order of time have in common: the keys, and the slot of the time. */
interface InTime {
  readonly keys: readonly Computed[];
  readonly time: string;
  /** The order rows happened in. */
  readonly inOrder: readonly OrderKey[];
  /** The order of the rows after the step. */
  readonly order: readonly OrderKey[];
}

type NamedAggregates = readonly { readonly column: Column; readonly aggregate: Aggregate }[];

export interface StreakStep extends InTime {
  readonly step: 'streak';
  readonly counts: Condition;
  readonly until: Condition;
  /** Rows count at most so many microseconds before the closing one; null for any. */
  readonly within: number | null;
  readonly count: Column;
  readonly began: Column;
  readonly ended: Column;
  readonly aggregates: NamedAggregates;
  /** Of the closing row. */
  readonly kept: readonly Kept[];
}

export interface DebutStep extends InTime {
  readonly step: 'debut';
  readonly fields: readonly Computed[];
  /** First seen from here on is new. */
  readonly since: Instant;
  readonly firstSeen: Column;
  readonly baselineBegan: Column;
  readonly baselineEvents: Column;
  readonly aggregates: NamedAggregates;
  /** Of the first row. */
  readonly kept: readonly Kept[];
}

export interface SequenceStep extends InTime {
  readonly step: 'sequence';
  /** Microseconds from the first row to the last. */
  readonly within: number;
  readonly began: Column;
  readonly ended: Column;
  readonly stages: readonly SequenceStage[];
}

export interface SequenceStage {
  readonly condition: Condition;
  readonly atLeast: number;
  /** The time of its first row. */
  readonly column: Column;
  /** Of its first row. */
  readonly kept: readonly Kept[];
}

export interface TravelStep extends InTime {
  readonly step: 'travel';
  readonly lat: Expr;
  readonly lon: Expr;
  /** Kilometres an hour, kilometres. */
  readonly faster: number;
  readonly farther: number;
  readonly began: Column;
  readonly ended: Column;
  readonly km: Column;
  readonly kmh: Column;
  /** Of the row left from, and of the row arrived at. */
  readonly from: readonly Kept[];
  readonly to: readonly Kept[];
}

export interface ShapesStep {
  readonly step: 'shapes';
  readonly value: Expr;
  readonly time: string;
  readonly inOrder: readonly OrderKey[];
  readonly columns: Readonly<Record<'template' | 'events' | 'share' | 'first' | 'last' | 'example', Column>>;
  readonly order: readonly OrderKey[];
}

export interface SwingStep {
  readonly step: 'swing';
  readonly keys: readonly Computed[];
  readonly time: string;
  readonly inOrder: readonly OrderKey[];
  readonly aggregate: Aggregate;
  /** The end of the newest bucket. */
  readonly to: Instant;
  readonly every: number;
  /** How many buckets the past has. */
  readonly past: number;
  readonly columns: Readonly<Record<'value' | 'usual' | 'spread' | 'ratio' | 'score' | 'past', Column>>;
  readonly order: readonly OrderKey[];
}

export interface JoinStep {
  readonly step: 'join';
  /** The steps of the right side. */
  readonly steps: readonly PlanStep[];
  /** The right side's columns, as they are called after the join. */
  readonly kept: readonly Kept[];
  readonly on: readonly { readonly left: Expr; readonly right: Expr }[];
  readonly within: { readonly micros: number; readonly left: string; readonly right: string } | null;
  readonly keepUnmatched: boolean;
  readonly order: readonly OrderKey[];
}

export interface BackStep {
  readonly step: 'back';
  /** Every kind where there is none. */
  readonly kinds: readonly Kind[];
  /** Where `around` is not given. */
  readonly window: Window;
  readonly keys: readonly { readonly event: Expr; readonly row: Computed }[];
  /** Microseconds before and after the times of a row; null for the window. */
  readonly around: number | null;
  /** The slots of the row's times. */
  readonly times: readonly string[];
}

/** Adds rows for the stretches of time that a tally found nothing in. */
export interface FillStep {
  readonly step: 'fill';
  readonly keys: readonly Column[];
  readonly bucket: Column;
  /** Width of a stretch, microseconds. */
  readonly micros: number;
  /** The beginnings of the first and the last stretch. */
  readonly first: Instant;
  readonly last: Instant;
  /** The figures, and whether each is 0 over nothing; else it is null. */
  readonly figures: readonly { readonly column: Column; readonly isZero: boolean }[];
  readonly order: readonly OrderKey[];
}

export type StepKind = StepBody['step'];

/** Constants of a literal null and of conditions that are settled before the run. */
export const NULL: Literal = { op: 'literal', type: 'any', value: null };
export const NEVER: Condition = { op: 'always', holds: false };
export const ALWAYS: Condition = { op: 'always', holds: true };

/** A value as rows carry it: times are microseconds, addresses canonical text. */
export type Value = Json;
