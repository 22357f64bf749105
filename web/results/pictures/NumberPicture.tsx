import type { JSX } from 'react';
import { count } from '../../ui/format.js';
import { onPress, pickedOf, type PictureProps } from './picture.js';
import { shapeOf } from './shape.js';

/** A figure that stands alone. */
export function NumberPicture({ columns, rows, onPick }: PictureProps): JSX.Element {
  const { figure } = shapeOf(columns);
  const column = columns[figure ?? 0];
  const [row] = rows;
  return (
    <svg width="360" height="96" className="ms-3">
      <text
        x="0"
        y="64"
        className="mark big-number"
        role="button"
        tabIndex={0}
        {...onPress((place) => {
          if (row !== undefined && column !== undefined) onPick(pickedOf(columns, column, row), place);
        })}
      >
        {count(Number(row?.[figure ?? 0] ?? 0))}
      </text>
      <text x="0" y="88" fontSize="13" fill="var(--ink-soft)">
        {column?.name}
      </text>
    </svg>
  );
}
