import type { HuntColumn } from '../../../core/wire/hunts.js';
import type { HuntRow } from '../../api/hunt-stream.js';
import { figuresOf } from '../../../core/boards/columns.js';
import { nameOf, shapeOf } from './shape.js';

/** Two figures of several things. */
export interface Pairs {
  readonly things: readonly string[];
  readonly sides: readonly string[];
  /** By thing and side, joined by U+0001. */
  readonly cells: ReadonlyMap<string, { readonly value: number; readonly row: HuntRow }>;
  /** The column that names the things. */
  readonly thingAt: number;
}

const MAX_THINGS = 24;

/** Two figures a row, or one figure a row by a key of two values. */
export function pairsOf(columns: readonly HuntColumn[], rows: readonly HuntRow[]): Pairs {
  const { keys } = shapeOf(columns);
  const figures = figuresOf(columns);
  const cells = new Map<string, { value: number; row: HuntRow }>();
  const [first = 0, second] = keys;
  const put = (thing: string, side: string, value: number, row: HuntRow): void => {
    const key = `${thing}\u0001${side}`;
    cells.set(key, { value: (cells.get(key)?.value ?? 0) + value, row });
  };
  if (figures.length >= 2) {
    const two = figures.slice(0, 2);
    const things = [...new Set(rows.map((row) => nameOf(row[first])))].slice(0, MAX_THINGS);
    for (const row of rows)
      for (const at of two) put(nameOf(row[first]), columns[at]?.name ?? '', Number(row[at] ?? 0), row);
    return { things, sides: two.map((at) => columns[at]?.name ?? ''), cells, thingAt: first };
  }
  // Of two keys the one with two values is the side.
  const values = (at: number): string[] => [...new Set(rows.map((row) => nameOf(row[at])))];
  const sideAt = second !== undefined && values(second).length <= values(first).length ? second : first;
  const thingAt = sideAt === first ? (second ?? first) : first;
  const at = figures[0] ?? 0;
  const totals = new Map<string, number>();
  for (const row of rows) {
    const side = nameOf(row[sideAt]);
    totals.set(side, (totals.get(side) ?? 0) + Number(row[at] ?? 0));
    put(nameOf(row[thingAt]), side, Number(row[at] ?? 0), row);
  }
  return {
    things: values(thingAt).sort().slice(0, MAX_THINGS),
    sides: [...totals]
      .sort((a, b) => b[1] - a[1])
      .slice(0, 2)
      .map(([side]) => side)
      .sort(),
    cells,
    thingAt,
  };
}
