import { formatInstant, parseDuration, type Instant } from '../../core/base/instant.js';
import { textCell } from '../../core/output/cells.js';
import { type HuntStep, USUAL_LAST } from '../../core/runbooks/document.js';
import type { FoundRows } from '../../core/wire/runbooks.js';
import { asksOf } from '../../core/wick/compile.js';
import type { HuntPlanner } from '../hunts/planner.js';
import type { HuntRunner, Purpose } from '../hunts/runner.js';

/** Rows of a hunt that a run keeps. */
const MAX_KEPT = 12;
const MAX_TEXT = 300;
/** A step that takes longer is no step. */
const STEP_MILLISECONDS = 60_000;

/** What asks the hunts of runbooks. */
export interface HuntParts {
  readonly planner: HuntPlanner;
  readonly runner: HuntRunner;
  readonly now: () => Instant;
}

/**
 * Asks the hunt of a step.
 * @returns the first rows it finds, each value as text, and whether there are any
 * @throws HuntError, Failure
 */
export async function askHunt(
  { planner, runner, now }: HuntParts,
  { hunt, last = USUAL_LAST }: HuntStep,
  names: Readonly<Record<string, string>>,
  purpose: Purpose,
  signal: AbortSignal,
): Promise<FoundRows> {
  const to = now();
  const window = { from: formatInstant(to - (parseDuration(last) ?? 0)), to: formatInstant(to) };
  const plan = await planner.plan({ text: hunt, window, parameters: { ...names }, carried: [] });
  const { columns, rows } = await runner.table(plan, MAX_KEPT, {
    purpose,
    signal,
    milliseconds: STEP_MILLISECONDS,
  });
  const shown = columns.flatMap((column, at) =>
    column.name === 'original' || column.name === 'raw' ? [] : [{ ...column, at }],
  );
  return {
    text: hunt,
    blanks: Object.fromEntries(
      asksOf(hunt).flatMap(({ name }) => {
        const value = Object.hasOwn(names, name) ? names[name] : undefined;
        return value === undefined ? [] : [[name, value]];
      }),
    ),
    columns: shown.map(({ name }) => name),
    rows: rows.map((row) =>
      shown.map(({ at, type }) => {
        const value = row[at] ?? null;
        const text = Array.isArray(value) ? value.join(', ') : textCell(value, type);
        return text.length > MAX_TEXT ? `${text.slice(0, MAX_TEXT)}…` : text;
      }),
    ),
  };
}

/** What a hunt found, in words. */
export const foundWords = ({ rows }: FoundRows): string =>
  rows.length === 0
    ? 'nothing found'
    : rows.length >= MAX_KEPT
      ? `${MAX_KEPT} rows or more found`
      : `${rows.length} row${rows.length === 1 ? '' : 's'} found`;
