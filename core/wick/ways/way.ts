import type { Plan, Value, Window } from '../plan.js';

/** What is known of the store when a way is chosen. */
export interface Facts {
  /** Events within the window of the plan, counted by whole hours. */
  readonly events: number;
}

/** One thing that is asked of the store: a plan over all or some of the window. */
export interface Part {
  readonly plan: Plan;
  /** What of the window it covers. */
  readonly window: Window;
}

/** Puts the rows of parts together, where they do not simply follow each other. */
export interface Merger {
  /** Adds a row of a part, by slot. @throws TooManyGroups where more would have to be held than can be */
  add(row: Readonly<Record<string, Value | undefined>>): void;
  /** The rows of the whole hunt as far as they are known, in its order, by column. */
  rows(): { readonly rows: readonly (readonly Value[])[]; readonly steps: readonly number[] };
}

/** Why a way does not do for a plan. */
export interface No {
  readonly no: string;
}

export const isNo = (found: object): found is No => 'no' in found;

/** A part over the whole window. */
export const wholePart = (plan: Plan): readonly Part[] => [{ plan, window: plan.window }];

/**
 * A way in which a plan can be answered. @typeParam Found what it noted of a plan it applies to
 */
export interface Way<Found extends object> {
  readonly name: string;
  /** Whether it gives the rows of this plan, and is worth it; what it found then, or the reason why not. */
  applies(plan: Plan, facts: Facts): Found | No;
  /** What to ask, in this order. */
  parts(found: Found, plan: Plan): readonly Part[];
  /** Puts the rows together; null where those of one part follow those of another, and enough of them are enough. */
  merge(found: Found, plan: Plan): Merger | null;
  /** The first step whose passing rows the merger counts. */
  countsFrom?(found: Found): number;
  /** How the events are come by, in words. */
  words(found: Found, plan: Plan): readonly string[];
  /** Steps up to here are told by the words. */
  told(found: Found): number;
}
