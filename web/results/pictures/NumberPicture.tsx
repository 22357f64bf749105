import type { JSX } from 'react';
import { figure as inUnit, pickedOf, type PictureProps } from './picture.js';
import { shapeOf } from './shape.js';

/** A figure that stands alone, with what is usual where that is known. */
export function NumberPicture({ columns, rows, onPick, options, usual, room }: PictureProps): JSX.Element {
  const { figure } = shapeOf(columns);
  const column = columns[figure ?? 0];
  const [row] = rows;
  const [before] = usual?.points ?? [];
  return (
    <div className={room === undefined ? 'ms-3 py-3' : ''}>
      <button
        type="button"
        className="big plain-button"
        onClick={(event) => {
          if (row !== undefined && column !== undefined)
            onPick(pickedOf(columns, column, row), { x: event.clientX, y: event.clientY });
        }}
      >
        {inUnit(Number(row?.[figure ?? 0] ?? 0), options?.unit)}
      </button>{' '}
      <span className="sm soft">
        {column?.name}
        {before !== undefined && `, usually ${inUnit(Math.round(before.middle), options?.unit)}`}
        {usual != null && usual.by === 'none' && `; ${usual.words}`}
      </span>
    </div>
  );
}
