import type { JSX } from 'react';
import type { CardPicture } from '../../../core/boards/board.js';
import { figure } from './picture.js';

/** Room that the marks of an axis of figures take at its left, pixels. */
export const axisRoom = (ticks: readonly number[], unit: CardPicture['unit']): number =>
  12 + Math.max(...ticks.map((tick) => figure(tick, unit).length)) * 7.2;

/** The figures at the left of a chart, a hairline each. */
export function FigureAxis({
  ticks,
  y,
  left,
  right,
  unit,
}: {
  readonly ticks: readonly number[];
  readonly y: (value: number) => number;
  readonly left: number;
  readonly right: number;
  readonly unit: CardPicture['unit'];
}): JSX.Element {
  return (
    <>
      {ticks.map((tick) => (
        <g key={tick}>
          <path
            d={`M${left},${y(tick)}H${right}`}
            stroke={tick === 0 ? 'var(--paper-rule)' : 'var(--paper-edge)'}
          />
          <text x={left - 6} y={y(tick) + 4} textAnchor="end" fontSize="12" fill="var(--ink-soft)">
            {figure(tick, unit)}
          </text>
        </g>
      ))}
    </>
  );
}
