import { type JSX, useRef } from 'react';
import { figuresOf } from '../../../core/boards/columns.js';
import { useWidth } from '../../ui/use-width.js';
import { figure, onPress, pickedOf, walkMarks, type PictureProps } from './picture.js';
import { columnCalled, nameOf, shapeOf } from './shape.js';

/** Where the figure of now and the usual one stand: by their names, else the first two figures. */
export function dotColumns(columns: PictureProps['columns']): { now: number; usual: number } | null {
  const figures = figuresOf(columns);
  const named = columnCalled(columns, 'usual');
  const usual = named >= 0 ? named : (figures[1] ?? -1);
  const now = figures.find((at) => at !== usual);
  return now === undefined || usual < 0 ? null : { now, usual };
}

const short = new Intl.NumberFormat('en-GB', { notation: 'compact' });

/** Usual against now, a row each on one scale of powers of ten: hollow is usual, filled is now. */
export function DotsPicture({ columns, rows, onPick, options, room }: PictureProps): JSX.Element {
  const frame = useRef<HTMLDivElement>(null);
  const measured = useWidth(frame);
  const width = Math.max(90, Math.min(220, (room?.width ?? measured) * 0.44));
  const { keys } = shapeOf(columns);
  const found = dotColumns(columns);
  if (found === null) return <></>;
  const [first = 0, ...more] = keys.filter((at) => columns[at]?.name !== 'query');
  const query = columnCalled(columns, 'query');
  const values = rows
    .flatMap((row) => [Number(row[found.now] ?? 0), Number(row[found.usual] ?? 0)])
    .filter((value) => value > 0);
  const low = Math.floor(Math.log10(Math.max(1, Math.min(...values))));
  const high = Math.max(low + 1, Math.ceil(Math.log10(Math.max(10, ...values))));
  const x = (value: number): number =>
    6 + ((Math.log10(Math.max(10 ** low, value)) - low) / (high - low)) * (width - 12);
  const powers = Array.from({ length: high - low + 1 }, (_, i) => low + i);
  const column = columns[first];
  // Figures of the scale that fit beside each other.
  const told = powers.length <= 3 ? powers : [low, Math.round((low + high) / 2), high];
  return (
    <div ref={frame} className="dots-picture" onKeyDown={walkMarks}>
      <ul>
        {rows.map((row, r) => {
          const [now, usual] = [Number(row[found.now] ?? 0), Number(row[found.usual] ?? 0)];
          const times =
            usual > 0
              ? `, ${now / usual >= 10 ? Math.round(now / usual) : (now / usual).toFixed(1)} times the usual`
              : '';
          return (
            <li key={r}>
              <div className="pair-line">
                <button
                  type="button"
                  className="value-button mono cut"
                  onClick={(event) => {
                    if (column !== undefined)
                      onPick(pickedOf(columns, column, row), { x: event.clientX, y: event.clientY });
                  }}
                >
                  {nameOf(row[first])}
                </button>
                <span className="nowrap">
                  <b>{figure(now, options?.unit)}</b>
                  {times}
                </span>
              </div>
              <div className="pair-line">
                <span className="xs soft cut" title={query >= 0 ? nameOf(row[query]) : undefined}>
                  {more.map((at) => nameOf(row[at])).join(' / ')}
                </span>
                <svg
                  width={width}
                  height="16"
                  data-mark=""
                  role="button"
                  tabIndex={r === 0 ? 0 : -1}
                  aria-label={`${nameOf(row[first])}: ${figure(now, options?.unit)} against ${figure(usual, options?.unit)}`}
                  {...onPress((at) => {
                    const picked = columns[found.now];
                    if (picked !== undefined) onPick(pickedOf(columns, picked, row), at);
                  })}
                >
                  {powers.map((power) => (
                    <path key={power} d={`M${x(10 ** power).toFixed(1)} 0v16`} stroke="var(--paper-edge)" />
                  ))}
                  <path d={`M${x(usual)} 8H${x(now)}`} stroke="var(--c1)" strokeWidth="1.6" />
                  <circle
                    cx={x(usual)}
                    cy="8"
                    r="3.4"
                    fill="var(--paper)"
                    stroke="var(--c1)"
                    strokeWidth="1.6"
                  />
                  <circle cx={x(now)} cy="8" r="4" fill="var(--c1)" />
                </svg>
              </div>
              {query >= 0 && typeof row[query] === 'string' && (
                <p className="xs mono soft cut mb-0" title={nameOf(row[query])}>
                  {nameOf(row[query])}
                </p>
              )}
            </li>
          );
        })}
      </ul>
      <div className="pair-line xs soft">
        <span>○ usual, ● now</span>
        <svg width={width} height="14" aria-hidden>
          {told.map((power, i) => (
            <text
              key={power}
              x={x(10 ** power)}
              y="11"
              fontSize="12"
              fill="var(--ink-soft)"
              textAnchor={i === 0 ? 'start' : i === told.length - 1 ? 'end' : 'middle'}
            >
              {options?.unit === 'bytes' ? figure(10 ** power, 'bytes') : short.format(10 ** power)}
            </text>
          ))}
        </svg>
      </div>
    </div>
  );
}
