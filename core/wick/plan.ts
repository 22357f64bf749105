import type { ColumnName } from '../events/columns.js';
import type { Kind } from '../events/kinds.js';
import type { Instant } from '../base/instant.js';
import type { Json } from '../base/json.js';
import type { Regex } from '../text/regex-syntax.js';
import type { AggregateName } from './aggregates.js';
import type { FunctionName } from './functions.js';
import type { ArithmeticSign } from './syntax.js';
import type { ValueType } from './types.js';

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
  | { readonly op: 'literal'; readonly type: 'any'; readonly value: null };

export type Expr =
  | Literal
  | { readonly op: 'column'; readonly type: ValueType; readonly slot: string }
  | { readonly op: 'path'; readonly type: 'any'; readonly path: readonly string[] }
  | { readonly op: 'convert'; readonly type: 'text' | 'any'; readonly value: Expr }
  | {
      readonly op: 'arithmetic';
      readonly type: 'number';
      readonly sign: ArithmeticSign;
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
  | { readonly op: 'has'; readonly needle: string };

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
  | { readonly step: 'hide' };

export type StepKind = StepBody['step'];

/** Constants of a literal null and of conditions that are settled before the run. */
export const NULL: Literal = { op: 'literal', type: 'any', value: null };
export const NEVER: Condition = { op: 'always', holds: false };

/** A value as rows carry it: times are microseconds, addresses canonical text. */
export type Value = Json;
