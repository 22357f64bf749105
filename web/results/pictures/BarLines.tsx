import type { JSX } from 'react';
import { figure, isMarked, pickedOf, type PictureProps } from './picture.js';
import { nameOf, shapeOf } from './shape.js';

/** One bar a row with its name and figure above it, for the narrow room of a card. */
export function BarLines({ columns, rows, onPick, options, marked }: PictureProps): JSX.Element {
  const { keys, figure: figureAt } = shapeOf(columns);
  const at = figureAt ?? 0;
  const most = Math.max(1, ...rows.map((row) => Number(row[at] ?? 0)));
  const [first = 0] = keys;
  const column = columns[first];
  return (
    <ul className="bar-lines">
      {rows.map((row, i) => (
        <li key={i}>
          <button
            type="button"
            className="value-button"
            onClick={(event) => {
              if (column !== undefined)
                onPick(pickedOf(columns, column, row), { x: event.clientX, y: event.clientY });
            }}
          >
            <span className={isMarked(marked, column, row[first]) ? 'cut carried' : 'cut'}>
              {keys.map((key) => nameOf(row[key])).join(' · ')}
            </span>
            <span className="num">{figure(Number(row[at] ?? 0), options?.unit)}</span>
            <i style={{ width: `${(Number(row[at] ?? 0) / most) * 100}%` }} />
          </button>
        </li>
      ))}
    </ul>
  );
}
