import { DAY } from '../../base/instant.js';
import { walkPlan } from '../children.js';
import type { Aggregate, Column, Computed, Plan, PlanStep, Window } from '../plan.js';
import type { No } from './way.js';
import { withWindow } from './with-window.js';
import { traitsOf } from '../steps/index.js';

// Tallies that only reading can answer are counted stretch by stretch, the newest first, and added up, so that a screen
// fills at once and sharpens.

type Tally = PlanStep & { step: 'tally' };

/** How the figures of two stretches become one. */
export interface FigurePart {
  /** Where the figure of a stretch stands; absent where the distinct values themselves are gathered. */
  readonly slot: string;
  readonly how: 'add' | 'least' | 'most' | 'distinct';
  readonly type: Column['type'];
}

/** One aggregate of the tally and the parts it is put together from. */
export interface Figure {
  readonly column: Column;
  readonly parts: readonly FigurePart[];
  /** An average is the first part over the second. */
  readonly average: boolean;
}

/** A hunt whose tally can be added up from stretches of its window. */
export interface GrowingTally {
  readonly plan: Plan;
  /** Which step the tally is. */
  readonly at: number;
  readonly keys: readonly Column[];
  readonly figures: readonly Figure[];
  /** The stretches, the newest first. */
  readonly windows: readonly Window[];
  /** The hunt for the figures of one stretch: its rows are to be merged. */
  readonly over: (window: Window) => Plan;
}

/**
 * The newest day first, then stretches twice as long as the one before, so that the whole costs little more than one
 * statement. They begin at midnight, where partitions do.
 */
export function stretchesOf({ from, to }: Window): Window[] {
  const found: Window[] = [];
  let end = to;
  for (let width = DAY; end > from; width *= 2) {
    const start = Math.max(from, Math.ceil((end - width) / DAY) * DAY);
    // A last stretch that would be shorter than the one before joins it.
    const last = start - from < width;
    found.push({ from: last ? from : start, to: end });
    end = last ? from : start;
  }
  return found;
}

/** How the tally of a hunt is added up, or why it cannot be. */
export function growingTally(plan: Plan): GrowingTally | No {
  const at = plan.steps.findIndex((step) => !traitsOf(step).byDay);
  const tally = plan.steps[at];
  if (tally?.step !== 'tally') return { no: 'no tally stands behind steps that judge each event by itself' };
  const tail = plan.steps.slice(at + 1);
  const late = tail.find((step) => !traitsOf(step).afterAddedUp);
  if (late !== undefined) return { no: `"${late.keyword}" on line ${late.line} is only run by the database` };
  if (asksList(tail)) return { no: 'a step after the tally asks a list' };
  const made = partsOf(tally);
  if (made === null) return { no: 'a figure of the tally cannot be added up from stretches of time' };
  const { figures, aggregates, distinct } = made;
  const keys = [...tally.keys.map(({ column }) => column), ...(tally.every ? [tally.every.column] : [])];
  const columns = [
    ...tally.keys.map(({ column }) => column),
    ...distinct.map(({ column }) => column),
    ...(tally.every ? [tally.every.column] : []),
    ...aggregates.map(({ column }) => column),
  ];
  const partial: Tally = { ...tally, keys: [...tally.keys, ...distinct], aggregates };
  const stretch: Plan = {
    ...plan,
    steps: [...plan.steps.slice(0, at), partial],
    columns,
    order: [],
    rows: 'table',
    opens: [],
  };
  return {
    plan,
    at,
    keys,
    figures,
    windows: stretchesOf(plan.window),
    over: (window) => withWindow(stretch, window),
  };
}

const asksList = (steps: readonly PlanStep[]): boolean =>
  [...walkPlan(steps)].some((node) => 'op' in node && node.op === 'in-list');

const LEAST_AND_MOST: ReadonlySet<Column['type']> = new Set(['number', 'time', 'text']);

/** The aggregates of a stretch that the tally's own can be put together from; null where one cannot. */
function partsOf(tally: Tally): {
  figures: Figure[];
  aggregates: Tally['aggregates'];
  distinct: Computed[];
} | null {
  const figures: Figure[] = [];
  const aggregates: { column: Column; aggregate: Aggregate }[] = [];
  const distinct: Computed[] = [];
  const part = (column: Column, aggregate: Aggregate, how: FigurePart['how']): FigurePart => {
    const slot = `part${aggregates.length}`;
    aggregates.push({ column: { ...column, slot }, aggregate });
    return { slot, how, type: column.type };
  };
  for (const { column, aggregate } of tally.aggregates) {
    const { value, fn } = aggregate;
    const own = (...parts: FigurePart[]): void => void figures.push({ column, parts, average: fn === 'avg' });
    if (fn === 'count' && aggregate.distinct === true && value !== undefined) {
      // Distinct values become keys; more than one such column would multiply the rows.
      if (distinct.length > 0) return null;
      const slot = 'distinct0';
      distinct.push({ column: { slot, name: slot, type: value.type }, expr: value });
      own({ slot, how: 'distinct', type: value.type });
    } else if (fn === 'count') own(part(column, aggregate, 'add'));
    else if (fn === 'sum' && aggregate.integer === true) own(part(column, aggregate, 'add'));
    else if (fn === 'avg' && aggregate.integer === true && value !== undefined)
      own(
        part(column, { ...aggregate, fn: 'sum' }, 'add'),
        part(column, { fn: 'count', type: 'number', value }, 'add'),
      );
    else if ((fn === 'min' || fn === 'max') && LEAST_AND_MOST.has(column.type))
      own(part(column, aggregate, fn === 'min' ? 'least' : 'most'));
    else return null;
  }
  return { figures, aggregates, distinct };
}
