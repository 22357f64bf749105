import type { JSX } from 'react';
import { figure, isMarked, pickedOf, type PictureProps } from './picture.js';
import { nameOf, shapeOf } from './shape.js';

const SMALLEST = 12;
const LARGEST = 20;
const MAX_WORDS = 60;

/** Words by weight: a ranked line, the most first, larger where there are more. Each says its count. */
export function WordsPicture({ columns, rows, onPick, options, marked }: PictureProps): JSX.Element {
  const { keys, figure: figureAt } = shapeOf(columns);
  const [key = 0] = keys;
  const at = figureAt ?? 0;
  const column = columns[key];
  const ranked = [...rows].sort((a, b) => Number(b[at] ?? 0) - Number(a[at] ?? 0)).slice(0, MAX_WORDS);
  const most = Math.max(1, Number(ranked[0]?.[at] ?? 0));
  return (
    <p className="words-picture">
      {ranked.map((row, i) => {
        const share = Number(row[at] ?? 0) / most;
        const size = Math.max(SMALLEST, Math.round(2 * (SMALLEST + (LARGEST - SMALLEST) * share)) / 2);
        return (
          <button
            key={i}
            type="button"
            className={`value-button${isMarked(marked, column, row[key]) ? ' carried' : ''}`}
            onClick={(event) => {
              if (column !== undefined)
                onPick(pickedOf(columns, column, row), { x: event.clientX, y: event.clientY });
            }}
          >
            <span className="mono" style={{ fontSize: size }}>
              {nameOf(row[key])}
            </span>
            <small>{figure(Number(row[at] ?? 0), options?.unit)}</small>
          </button>
        );
      })}
    </p>
  );
}
