import type { KeyboardEvent, MouseEvent } from 'react';
import type { Json } from '../../../core/base/json.js';
import type { CardPicture } from '../../../core/boards/board.js';
import type { HuntColumn } from '../../../core/wire/hunts.js';
import type { Question } from '../../../core/wire/paths.js';
import type { HuntRow } from '../../api/hunt-stream.js';
import { count } from '../../ui/format.js';
import type { PickedValue } from '../menus/CellMenu.js';

/** What every picture of a result is drawn from. */
export interface PictureProps {
  readonly columns: readonly HuntColumn[];
  readonly rows: readonly HuntRow[];
  readonly zone: string;
  /** The hunt behind it, for pictures that ask more than the rows say. */
  readonly question: Omit<Question, 'last'>;
  readonly onPick: (picked: PickedValue, at: { x: number; y: number }) => void;
  /** How the picture is set, where it is one of a card. */
  readonly options?: CardPicture;
  /** What is usual for figures over time. */
  readonly usual?: UsualFigures | null;
  /** Values that are carried, and shown among the others. */
  readonly marked?: readonly { readonly field: string; readonly value: string }[];
  /** The room of a card, pixels; absent where there is all the room it wants. */
  readonly room?: { readonly width: number; readonly height: number };
  /** The largest figure of all cards that share its scale. */
  readonly scaleTo?: number;
  /** The window the rows are of, and the Beam's, milliseconds; for axes of time. */
  readonly window?: { readonly from: number; readonly to: number };
  readonly beam?: { readonly from: number; readonly to: number };
}

/** What is usual, as it comes with an answer. */
export interface UsualFigures {
  readonly by: 'weekday' | 'day' | 'none';
  readonly words: string;
  readonly points: readonly {
    readonly time: string;
    readonly low: number;
    readonly middle: number;
    readonly high: number;
  }[];
}

const plainText = (value: Json | undefined): string =>
  value === null || value === undefined
    ? ''
    : typeof value === 'object'
      ? JSON.stringify(value)
      : String(value);

/** Whether a value of a column is one that the Beam carries. */
export const isMarked = (
  marked: PictureProps['marked'],
  column: HuntColumn | undefined,
  value: Json | undefined,
): boolean =>
  marked?.some(({ field, value: one }) => column?.field === field && plainText(value) === one) === true;

const BYTE_UNITS = ['B', 'kB', 'MB', 'GB', 'TB'];

/** A figure in its unit. */
export function figure(value: number, unit: CardPicture['unit']): string {
  if (unit !== 'bytes')
    return Number.isInteger(value) || Math.abs(value) >= 100 ? count(value) : value.toFixed(1);
  let [size, at] = [value, 0];
  while (size >= 1000 && at < BYTE_UNITS.length - 1) [size, at] = [size / 1000, at + 1];
  return `${size >= 100 || at === 0 ? Math.round(size) : size.toFixed(1)} ${BYTE_UNITS[at]}`;
}

/** Round figures for an axis from 0 to `most`, two to four of them. */
export function axisTicks(most: number): number[] {
  if (most <= 0) return [0];
  const rough = most / 3;
  const power = 10 ** Math.floor(Math.log10(rough));
  const step = Math.max(
    [1, 2, 5, 10].map((times) => times * power).find((one) => one >= rough) ?? power,
    most < 3 ? 1 : 0,
  );
  const ticks: number[] = [];
  for (let at = 0; at <= most; at += step) ticks.push(at);
  return ticks;
}

const WAYS: Readonly<Record<string, number>> = { ArrowRight: 1, ArrowDown: 1, ArrowLeft: -1, ArrowUp: -1 };

/** Arrows walk the marks of a picture: one of them is reached by Tab, the others from there. */
export function walkMarks(event: KeyboardEvent<Element>): void {
  const way = WAYS[event.key];
  if (way === undefined || event.shiftKey || event.altKey || event.ctrlKey) return;
  const marks = [...event.currentTarget.querySelectorAll<HTMLElement>('[data-mark]')];
  const at = marks.findIndex((mark) => mark === document.activeElement);
  const next = marks[Math.min(marks.length - 1, Math.max(0, at + way))];
  if (at < 0 || next === undefined) return;
  event.preventDefault();
  event.stopPropagation();
  next.focus();
}

/** Series in their order, and heat from least to most. */
export const SERIES = ['var(--c1)', 'var(--c2)', 'var(--c3)', 'var(--c4)', 'var(--c5)', 'var(--c6)'];
/** The same in every chart: what got through is pale, what did not is ink. */
export const OUTCOMES: Readonly<Record<string, string>> = {
  success: 'var(--c5)',
  allowed: 'var(--c5)',
  failure: 'var(--c1)',
  blocked: 'var(--c1)',
};
export const HEAT = ['#ede0c2', '#cfccc0', '#96abb9', '#54779f', '#1d3f70'];

/** The cell of a row, as a menu speaks of it. */
export const pickedOf = (columns: readonly HuntColumn[], column: HuntColumn, row: HuntRow): PickedValue => ({
  column,
  value: row[columns.indexOf(column)] ?? null,
  row: columns.map(({ name, field }, i) => ({ column: name, field, value: row[i] ?? null })),
});

/** What a mark of a picture does when it is clicked, or Enter is pressed on it. */
export const onPress = (
  act: (at: { x: number; y: number }) => void,
): {
  onClick: (event: MouseEvent) => void;
  onKeyDown: (event: KeyboardEvent<SVGElement>) => void;
} => ({
  onClick: (event) => act({ x: event.clientX, y: event.clientY }),
  onKeyDown: (event) => {
    if (event.key !== 'Enter' && event.key !== ' ') return;
    event.preventDefault();
    const box = event.currentTarget.getBoundingClientRect();
    act({ x: box.left, y: box.bottom });
  },
});
