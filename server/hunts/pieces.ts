import { DAY, formatInstant } from '../../core/base/instant.js';
import type { Json } from '../../core/base/json.js';
import { jsonCells } from '../../core/output/json-lines.js';
import type { Plan, Window } from '../../core/wick/plan.js';
import type { Coverage, HuntColumn, HuntResultWire } from '../../core/wire/hunts.js';
import type { RowEvent } from './rows.js';
import type { Answered, FoundRows, HuntRow } from './runner.js';

type WireRows = {
  readonly rows: readonly (readonly Json[])[];
  readonly events: HuntResultWire['events'];
};

/** Rows of a hunt, as they are found. */
export type RowsPiece =
  | ({ readonly piece: 'rows' } & WireRows)
  /** All rows as far as they are known: they take the place of what was sent before. */
  | ({ readonly piece: 'picture'; readonly coverage: Coverage } & WireRows)
  /** How much of the window has been read. */
  | { readonly piece: 'coverage'; readonly coverage: Coverage };

/** A piece of a running hunt's answer, in the order they come. */
export type HuntPiece =
  /** The hunt waits its turn; so many go before. */
  | { readonly piece: 'waiting'; readonly before: number }
  | {
      readonly piece: 'columns';
      readonly columns: readonly HuntColumn[];
      readonly notes: readonly string[];
      /** Which way the hunt is answered, in words. */
      readonly how: readonly string[];
    }
  | RowsPiece
  | { readonly piece: 'end'; readonly complete: boolean; readonly milliseconds: number }
  | {
      readonly piece: 'steps';
      readonly steps: HuntResultWire['steps'];
      /** What steps say of the rows they met. */
      readonly remarks: readonly string[];
    };

/** Half of every event's bytes; a table of events leaves them to the reading of one, unless they are shown by name. */
export const BULKY: ReadonlySet<string> = new Set(['original', 'raw']);

export const forScreen = (plan: Plan): Plan => ({
  ...plan,
  columns: plan.columns.filter((column) => !BULKY.has(column.slot)),
});

export const toColumns = (plan: Plan): HuntColumn[] =>
  plan.columns.map(({ name, type, field }) => ({ name, type, field: field ?? null }));

const daysOf = ({ from, to }: Window): number => Math.max(1, Math.ceil((to - from) / DAY));

const coverageOf = (plan: Plan, read: Window): Coverage => ({
  days: daysOf({ from: read.from, to: plan.window.to }),
  of: daysOf(plan.window),
  since: formatInstant(read.from),
});

/** What a row opens, as it goes over the wire. */
function toRowEvent([event, ...also]: readonly RowEvent[]): HuntResultWire['events'][number] {
  if (event === undefined) return null;
  const { id, time, name } = event;
  return {
    id,
    time: formatInstant(time),
    ...(also.length > 0 && {
      name,
      also: also.map((more) => ({ ...more, time: formatInstant(more.time) })),
    }),
  };
}

const toWireRows = (plan: Plan, rows: readonly HuntRow[]): WireRows => ({
  rows: rows.map(({ values }) => jsonCells(plan.columns, values)),
  events: rows.map(({ opens }) => toRowEvent(opens)),
});

/** Rows as they go over the wire, piece by piece. */
export async function* toPieces(
  plan: Plan,
  found: AsyncGenerator<FoundRows, Answered>,
): AsyncGenerator<RowsPiece, Answered> {
  try {
    for (;;) {
      const next = await found.next();
      if (next.done === true) return next.value;
      yield toPiece(plan, next.value);
    }
  } finally {
    // Also where whoever reads stops in the middle: a statement under way is stopped, and its connection given back.
    await found.return({ complete: false, passed: new Map(), instead: null });
  }
}

function toPiece(plan: Plan, found: FoundRows): RowsPiece {
  switch (found.found) {
    case 'rows':
      return { piece: 'rows', ...toWireRows(plan, found.rows) };
    case 'picture':
      return {
        piece: 'picture',
        ...toWireRows(plan, found.rows),
        coverage: coverageOf(plan, found.covers),
      };
    case 'coverage':
      return { piece: 'coverage', coverage: coverageOf(plan, found.covers) };
  }
}
