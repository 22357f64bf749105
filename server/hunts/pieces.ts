import { UNSHOWN_COLUMNS } from '../../core/boards/board.js';
import { DAY, formatInstant } from '../../core/base/instant.js';
import { jsonCells } from '../../core/output/json-lines.js';
import type { Plan, Window } from '../../core/wick/plan.js';
import type { Coverage, HuntColumn, HuntPiece, HuntResultWire } from '../../core/wire/hunts.js';
import type { RowEvent } from './rows.js';
import type { Answered, FoundRows, HuntRow } from './runner.js';

type WireRows = Pick<HuntResultWire, 'rows' | 'events'>;

/** Rows of a hunt, as they are found. */
export type RowsPiece = Extract<HuntPiece, { piece: 'rows' | 'picture' | 'coverage' }>;

/** Half of every event's bytes; a table of events leaves them to the reading of one, unless they are shown by name. */
export const BULKY: ReadonlySet<string> = UNSHOWN_COLUMNS;

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
