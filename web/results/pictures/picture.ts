import type { KeyboardEvent, MouseEvent } from 'react';
import type { HuntColumn } from '../../../core/wire/hunts.js';
import type { Question } from '../../../core/wire/paths.js';
import type { HuntRow } from '../../api/hunt-stream.js';
import type { PickedValue } from '../menus/CellMenu.js';

/** What every picture of a result is drawn from. */
export interface PictureProps {
  readonly columns: readonly HuntColumn[];
  readonly rows: readonly HuntRow[];
  readonly zone: string;
  /** The hunt behind it, for pictures that ask more than the rows say. */
  readonly question: Omit<Question, 'last'>;
  readonly onPick: (picked: PickedValue, at: { x: number; y: number }) => void;
}

/** Series in their order, and heat from least to most. */
export const SERIES = ['var(--c1)', 'var(--c2)', 'var(--c3)', 'var(--c4)', 'var(--c5)', 'var(--c6)'];
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
