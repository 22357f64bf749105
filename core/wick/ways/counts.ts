import { DAY, HOUR } from '../../base/instant.js';
import type { PlanStep } from '../plan.js';
import { slotsOf } from '../slots.js';
import { wholePart, type Way } from './way.js';

/** Counts that are kept beside the events, by stretches of time and a few columns. */
export interface RollUp {
  readonly view: string;
  /** Width of a stretch, microseconds. */
  readonly micros: number;
  readonly columns: readonly string[];
}

/** The narrowest first: it has the fewest rows. */
const rollUps: readonly RollUp[] = [
  { view: 'wick.kind_counts', micros: HOUR, columns: ['source', 'kind', 'outcome'] },
  { view: 'wick.operation_counts', micros: HOUR, columns: ['source', 'operation'] },
  { view: 'wick.user_counts', micros: DAY, columns: ['source', 'user'] },
];

type From = PlanStep & { step: 'from' };
type Where = PlanStep & { step: 'where' };

/** The beginning of a hunt that counts can stand for: which events, and conditions on them. */
export interface Countable {
  readonly rollUp: RollUp;
  readonly from: From;
  readonly wheres: readonly Where[];
}

/**
 * Counts that give the same as the events themselves, for steps that only choose events.
 * @param more columns that are needed besides, and the width of time buckets, if any
 * @returns null where none do
 */
export function countable(
  steps: readonly PlanStep[],
  more: { readonly columns: readonly string[]; readonly micros?: number },
): Countable | null {
  const [from, ...rest] = steps;
  if (from?.step !== 'from' || !rest.every((step): step is Where => step.step === 'where')) return null;
  const read = slotsOf(rest.map(({ condition }) => condition));
  if (read === null) return null;
  const needed = [...read, ...more.columns, ...(from.kinds === null ? [] : ['kind'])];
  const rollUp = rollUps.find(
    ({ columns, micros }) =>
      needed.every((slot) => columns.includes(slot)) &&
      (more.micros === undefined || more.micros % micros === 0),
  );
  // Shorter than two stretches nothing is gained.
  if (rollUp === undefined || from.window.to - from.window.from < 2 * rollUp.micros) return null;
  return { rollUp, from, wheres: rest };
}

/** A tally at the end of steps that counts can stand for; null where they cannot. */
export function countableTally(steps: readonly PlanStep[]): { countable: Countable; at: number } | null {
  const at = steps.findIndex(({ step }) => step !== 'from' && step !== 'where');
  const tally = steps[at];
  if (tally?.step !== 'tally') return null;
  const counts = tally.aggregates.every(
    ({ aggregate }) => aggregate.fn === 'count' && aggregate.value === undefined,
  );
  const plain = tally.keys.every(({ expr }) => expr.op === 'column');
  const every = tally.every?.time;
  if (!counts || !plain || (every !== undefined && !(every.op === 'column' && every.slot === 'time')))
    return null;
  const read = slotsOf([
    ...tally.keys.map(({ expr }) => expr),
    ...tally.aggregates.map(({ aggregate }) => aggregate),
  ]);
  if (read === null) return null;
  const found = countable(steps.slice(0, at), {
    columns: [...read],
    ...(tally.every && { micros: tally.every.micros }),
  });
  return found && { countable: found, at };
}

/** A tally of columns that are among the counts kept beside the events. */
export const countsWay: Way<{ readonly countable: Countable; readonly at: number }> = {
  name: 'counts kept beside the events',
  applies: ({ steps }) =>
    countableTally(steps) ?? { no: 'no tally stands first whose columns are all among the counts' },
  parts: (_found, plan) => wholePart(plan),
  merge: () => null,
  words({ countable: { rollUp } }) {
    const unit = rollUp.micros === DAY ? 'day' : 'hour';
    return [
      `Answered from counts kept by the ${unit} of ${rollUp.columns.join(', ')}: the tally needs nothing else. Events are read only at the ends of the window that are no whole ${unit}.`,
    ];
  },
  told: ({ at }) => at,
};
