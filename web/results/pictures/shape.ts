import type { Json } from '../../../core/base/json.js';
import { figureColumns, type Shape } from '../../../core/boards/columns.js';
import { visibleText } from '../../../core/text/visible.js';
import type { PictureKind } from '../../../core/boards/picture-kinds.js';
import type { HuntColumn } from '../../../core/wire/hunts.js';
import type { HuntRow } from '../../api/hunt-stream.js';

/** Ways to look at a result: its rows as they are, or one of the pictures. */
export type View = 'table' | Exclude<PictureKind, 'rows'>;

export const shapeOf = (columns: readonly HuntColumn[]): Shape => figureColumns(columns);

/** The columns that the step `shapes` leaves. */
export const SHAPE_COLUMNS = ['template', 'events', 'share', 'first', 'last', 'example'] as const;

export const columnCalled = (columns: readonly HuntColumn[], name: string): number =>
  columns.findIndex((column) => column.name === name);

/** Where the places of a result can be told from: its events, its own columns, or a journey a row. */
export type PlacesBy = 'events' | 'columns' | 'journeys';

/** How the rows of a result are brought to a map; null where they hold no places. */
export function placesOf(columns: readonly HuntColumn[], text: string): PlacesBy | null {
  const has = (name: string): boolean => columnCalled(columns, name) >= 0;
  if (has('lat') && has('lon')) return columns.some(({ field }) => field === 'id') ? 'events' : 'columns';
  // What journeys leave from and come to is only known right after the step that finds them.
  return has('from_city') && has('to_city') && has('kmh') && /^travel\b/im.test(text) ? 'journeys' : null;
}

/** What a value is called in a picture, which is drawn past the pages' own ways: characters that mislead are marked here. */
export const nameOf = (value: Json | undefined): string =>
  value === null || value === undefined
    ? 'no value'
    : visibleText(typeof value === 'string' ? value : JSON.stringify(value));

const figureOf = (row: HuntRow, at: number): number => {
  const value = row[at];
  return typeof value === 'number' ? value : 0;
};

/** A cell of a heat picture. */
export interface Heat {
  readonly across: readonly string[];
  readonly down: readonly string[];
  /** By `down` and `across`; absent where there is no row. */
  readonly cells: ReadonlyMap<string, number>;
  readonly most: number;
  /** Names that were left out since there are too many. */
  readonly left: number;
  /** Where the names down and across stand in a row. */
  readonly downAt: number;
  readonly acrossAt: number;
}

/** Rows and columns of a heat picture, at most. */
const MAX_DOWN = 30;
const MAX_ACROSS = 48;

export const heatKey = (down: string, across: string): string => `${down}\u0001${across}`;

/** Two keys against each other, or one against time; the heaviest names are kept. */
export function heatOf(columns: readonly HuntColumn[], rows: readonly HuntRow[]): Heat {
  const { keys, time, figure } = shapeOf(columns);
  const [first = 0, second = 0] = keys;
  const different = (column: number): number => new Set(rows.map((row) => nameOf(row[column]))).size;
  // Names are read more easily below each other, so the more manifold key goes down; time always goes across.
  const turned = time === null && different(second) > different(first);
  const downAt = turned ? second : first;
  const acrossAt = time ?? (turned ? first : second);
  const at = figure ?? 0;
  const totals = { down: new Map<string, number>(), across: new Map<string, number>() };
  const cells = new Map<string, number>();
  for (const row of rows) {
    const [down, across, value] = [nameOf(row[downAt]), nameOf(row[acrossAt]), figureOf(row, at)];
    totals.down.set(down, (totals.down.get(down) ?? 0) + value);
    totals.across.set(across, (totals.across.get(across) ?? 0) + value);
    const key = heatKey(down, across);
    cells.set(key, (cells.get(key) ?? 0) + value);
  }
  const heaviest = (of: ReadonlyMap<string, number>, most: number): string[] =>
    [...of]
      .sort((a, b) => b[1] - a[1])
      .slice(0, most)
      .map(([name]) => name);
  const down = heaviest(totals.down, MAX_DOWN);
  // Time goes from left to right, and its newest stretches are kept.
  const across =
    time === null ? heaviest(totals.across, MAX_ACROSS) : [...totals.across.keys()].sort().slice(-MAX_ACROSS);
  const shown = new Set(down.flatMap((one) => across.map((other) => heatKey(one, other))));
  return {
    across,
    down,
    cells: new Map([...cells].filter(([key]) => shown.has(key))),
    most: Math.max(1, ...[...cells].filter(([key]) => shown.has(key)).map(([, value]) => value)),
    left: totals.down.size - down.length + (totals.across.size - across.length),
    downAt,
    acrossAt,
  };
}

/** What flows between the values of two to four columns. */
export interface Flow {
  readonly nodes: readonly { readonly name: string; readonly column: number }[];
  readonly links: readonly { readonly source: number; readonly target: number; readonly value: number }[];
  readonly left: number;
}

/** Values of a column that stand for themselves; the lighter ones are put together. */
const MAX_NODES = 12;

export function flowOf(columns: readonly HuntColumn[], rows: readonly HuntRow[]): Flow {
  const { keys, figure } = shapeOf(columns);
  const ways = keys.slice(0, 4);
  const at = figure ?? 0;
  let left = 0;
  const kept = ways.map((column) => {
    const totals = new Map<string, number>();
    for (const row of rows) {
      const name = nameOf(row[column]);
      totals.set(name, (totals.get(name) ?? 0) + figureOf(row, at));
    }
    const names = [...totals].sort((a, b) => b[1] - a[1]).map(([name]) => name);
    left += Math.max(0, names.length - MAX_NODES);
    return new Set(names.slice(0, MAX_NODES));
  });
  const nodes: { name: string; column: number }[] = [];
  const places = new Map<string, number>();
  const place = (name: string, way: number): number => {
    const key = heatKey(String(way), name);
    const known = places.get(key);
    if (known !== undefined) return known;
    places.set(key, nodes.length);
    nodes.push({ name, column: ways[way] ?? 0 });
    return nodes.length - 1;
  };
  const links = new Map<string, { source: number; target: number; value: number }>();
  for (const row of rows) {
    const value = figureOf(row, at);
    if (value <= 0) continue;
    const names = ways.map((column, way) => {
      const name = nameOf(row[column]);
      return kept[way]?.has(name) === true ? name : OTHERS;
    });
    for (let way = 0; way + 1 < names.length; way++) {
      const source = place(names[way] ?? '', way);
      const target = place(names[way + 1] ?? '', way + 1);
      const key = `${source} ${target}`;
      const known = links.get(key);
      if (known === undefined) links.set(key, { source, target, value });
      else known.value += value;
    }
  }
  return { nodes, links: [...links.values()], left };
}

/** The points of a line picture: one a time, with the figure of each of the heaviest keys. */
export interface Lines {
  readonly series: readonly string[];
  readonly points: readonly Readonly<Record<string, string | number>>[];
  /** The sum of each series, and how many keys there are. */
  readonly totals: ReadonlyMap<string, number>;
  readonly keys: number;
}

const MAX_SERIES = 6;

/** What the lighter keys are called where they are put together. */
export const OTHERS = 'others';

/** @param gather adds the lighter keys up as one series, instead of leaving them out */
export function linesOf(columns: readonly HuntColumn[], rows: readonly HuntRow[], gather = false): Lines {
  const { keys, time, figure } = shapeOf(columns);
  const at = figure ?? 0;
  const [keyAt] = keys;
  const seriesOf = (row: HuntRow): string =>
    keyAt === undefined ? (columns[at]?.name ?? '') : nameOf(row[keyAt]);
  const totals = new Map<string, number>();
  for (const row of rows) totals.set(seriesOf(row), (totals.get(seriesOf(row)) ?? 0) + figureOf(row, at));
  const series = [...totals]
    .sort((a, b) => b[1] - a[1])
    .slice(0, gather && totals.size > MAX_SERIES ? MAX_SERIES - 1 : MAX_SERIES)
    .map(([name]) => name);
  const kept = new Set(series);
  if (gather && totals.size > series.length) series.push(OTHERS);
  const points = new Map<string, Record<string, string | number>>();
  for (const row of rows) {
    const moment = nameOf(row[time ?? 0]);
    const own = seriesOf(row);
    if (!gather && !kept.has(own)) continue;
    const name = kept.has(own) ? own : OTHERS;
    const point = points.get(moment) ?? {
      time: moment,
      ...Object.fromEntries(series.map((one) => [one, 0])),
    };
    point[name] = Number(point[name] ?? 0) + figureOf(row, at);
    points.set(moment, point);
  }
  const sums = new Map(
    series.map((name) => [
      name,
      name === OTHERS && !kept.has(name)
        ? [...totals].reduce((sum, [key, value]) => sum + (kept.has(key) ? 0 : value), 0)
        : (totals.get(name) ?? 0),
    ]),
  );
  return {
    series,
    totals: sums,
    keys: totals.size,
    points: [...points.entries()].sort(([a], [b]) => (a < b ? -1 : 1)).map(([, point]) => point),
  };
}
