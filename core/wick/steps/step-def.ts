import type { Span } from '../../base/span.js';
import type { Cursor } from '../cursor.js';
import type { PlanStep, StepBody, StepKind } from '../plan.js';
import type { CheckContext, Scope } from '../scope.js';

/** Where a step stands, for messages that speak of it later. */
export interface StepPlace {
  readonly line: number;
  readonly keyword: string;
  readonly span: Span;
}

export interface StepResult {
  readonly body: StepBody;
  readonly scope: Scope;
}

/** A step of a plan by its kind. */
export type StepOf<K extends StepKind> = PlanStep & { readonly step: K };

/** What a step does to rows. Everything that treats steps differently asks here; none of it may be left out. */
export interface StepTraits<K extends StepKind> {
  /** Judges each row by itself, whatever the others are, and so holds for rows that are still to come. */
  readonly judgesRows: boolean;
  /** Its rows are still single events, so that one scan can count several such steps. */
  readonly keepsEvents: boolean;
  /** Which rows it leaves depends on the order they stand in. */
  readonly needsOrder: boolean;
  /** What becomes of it while events come in one by one: it runs, is left out, or following ends before it. */
  readonly live: 'runs' | 'left out' | 'ends';
  /** Days can be asked one after another: what it gives of a day is the same whether or not others are read. */
  readonly byDay: (step: StepOf<K>) => boolean;
  /** Can be run on the rows of a tally that is added up outside of the database. */
  readonly afterAddedUp: boolean;
  /** A `fill` behind it still finds the stretches of time of the tally before. */
  readonly keepsBuckets: boolean;
  /** May stand on the other side of a join. */
  readonly insideJoin: boolean;
  /** Only says which columns there are; it computes nothing that later steps of a timeline could ask for. */
  readonly onlyShows: boolean;
  /** Only passes rows on, so that reading them twice costs no more than keeping them. */
  readonly passesOn: boolean;
  /** Brings rows together or looks at texts outside of the database: far dearer than a plain step. */
  readonly heavy: boolean;
  /** How the database goes about it, in words; null where there is nothing to tell. */
  readonly answered: (step: StepOf<K>) => string | null;
}

/** Traits of a step whose rows are a table, made of all rows before it, as most tables are. */
export const tableTraits = {
  judgesRows: false,
  keepsEvents: false,
  needsOrder: false,
  live: 'ends',
  byDay: () => false,
  afterAddedUp: false,
  keepsBuckets: false,
  insideJoin: true,
  onlyShows: false,
  passesOn: false,
} as const;

/** Traits of a step that judges each row by itself and is run wherever rows are. */
export const rowTraits = {
  judgesRows: true,
  keepsEvents: true,
  needsOrder: false,
  live: 'runs',
  keepsBuckets: false,
  insideJoin: true,
  heavy: false,
  answered: () => null,
} as const;

/** One step of the language: how it is written, what it means, how its text becomes a checked plan, and what it does. */
export interface StepDef<K extends StepKind = StepKind> {
  readonly call: string;
  readonly meaning: string;
  readonly example: string;
  readonly traits: StepTraits<K>;
  /**
   * Reads the step after its keyword and checks it against what can be named before it.
   * @throws HuntError
   */
  compile(cursor: Cursor, scope: Scope, context: CheckContext, place: StepPlace): StepResult;
}
