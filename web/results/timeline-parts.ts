import { columnDef, isColumnName } from '../../core/events/columns.js';
import type { Timeline } from '../../core/wire/hunts.js';
import type { Bar, Part } from '../ui/Timeline.js';
import type { PickedValue } from './menus/CellMenu.js';

/** Fields that bars are split by without looking for one. */
export const SPLITS: readonly string[] = [
  'outcome',
  'kind',
  'source',
  'operation',
  'user',
  'host',
  'src_ip',
  'country',
  'application',
  'dst_ip',
  'dst_port',
  'protocol',
  'account',
  'severity',
];

/** The name of the lighter values, put together; and of no value. */
export const OTHERS = 'others';
export const NO_VALUE = 'no value';

export type PartBar = Bar & { readonly parts: Record<string, number> };

/** Bars by when they start, each with what its parts count. */
export function barsOf(counted: Timeline['bars']): PartBar[] {
  const found = new Map<number, PartBar>();
  for (const { time, split, other, count } of counted) {
    const start = Date.parse(time);
    const bar = found.get(start) ?? { start, parts: {} };
    const name = other ? OTHERS : (split ?? NO_VALUE);
    bar.parts[name] = (bar.parts[name] ?? 0) + count;
    found.set(start, bar);
  }
  return [...found.values()].sort((a, b) => a.start - b.start);
}

export const totalOf = (bars: readonly PartBar[]): number =>
  bars.reduce((sum, { parts }) => sum + Object.values(parts).reduce((all, one) => all + one, 0), 0);

/** Before or success is pale, after or failure is ink blue, in every chart. */
const OUTCOMES: readonly Part[] = [
  { name: 'success', colour: 'var(--out-success)', pale: true },
  { name: 'allowed', colour: 'var(--out-allowed)', pale: true },
  { name: 'unknown', colour: 'var(--c6)', pale: false },
  { name: NO_VALUE, colour: 'var(--c6)', pale: false },
  { name: 'blocked', colour: 'var(--out-blocked)', pale: false },
  { name: 'failure', colour: 'var(--out-failure)', pale: false },
];

const SERIES = [
  { colour: 'var(--c1)', pale: false },
  { colour: 'var(--c2)', pale: true },
  { colour: 'var(--c3)', pale: false },
  { colour: 'var(--c4)', pale: false },
  { colour: 'var(--c5)', pale: true },
];

/** The parts of the bars in the order they are stacked, each with how many events it holds. */
export function partsOf(split: string, bars: readonly PartBar[]): (Part & { readonly rows: number })[] {
  const totals = new Map<string, number>();
  for (const { parts } of bars)
    for (const [name, rows] of Object.entries(parts)) totals.set(name, (totals.get(name) ?? 0) + rows);
  if (split === 'outcome')
    return OUTCOMES.flatMap((part) => {
      const rows = totals.get(part.name) ?? 0;
      return rows === 0 ? [] : [{ ...part, rows }];
    });
  const heaviest = [...totals].filter(([name]) => name !== OTHERS).sort((a, b) => b[1] - a[1]);
  const rest = totals.get(OTHERS);
  return [
    ...heaviest.map(([name, rows], i) => ({
      name,
      rows,
      ...(SERIES[i] ?? { colour: 'var(--c6)', pale: false }),
    })),
    ...(rest === undefined ? [] : [{ name: OTHERS, rows: rest, colour: 'var(--c6)', pale: false }]),
  ];
}

/** A part as a value that can be kept or left out. */
export function pickedPart(split: string, name: string): PickedValue {
  const type = isColumnName(split) ? columnDef(split).type : 'text';
  const value = name === NO_VALUE ? null : type === 'number' ? Number(name) : name;
  return { column: { name: split, type, field: split }, value };
}

/** The window of the same length that ends where this one begins. */
export function shiftedBack(window: { readonly from: string; readonly to: string }): {
  from: string;
  to: string;
} {
  const from = Date.parse(window.from);
  return { from: new Date(2 * from - Date.parse(window.to)).toISOString(), to: new Date(from).toISOString() };
}
