import { useRef, useState, type JSX } from 'react';
import { useWidth } from '../../ui/use-width.js';
import {
  axisTicks,
  figure,
  isMarked,
  OUTCOMES,
  onPress,
  pickedOf,
  SERIES,
  walkMarks,
  type PictureProps,
} from './picture.js';
import { pairsOf } from './pairs.js';
import { nameOf } from './shape.js';
import { axisRoom, FigureAxis } from './FigureAxis.js';
import { Tip, type TipAt } from './Tip.js';
import { shortened } from '../../ui/format.js';

/** Two figures a thing, side by side: blocked and let through, failed and not. */
export function PairedPicture({
  columns,
  rows,
  onPick,
  options,
  room,
  scaleTo,
  marked,
}: PictureProps): JSX.Element {
  const frame = useRef<HTMLDivElement>(null);
  const measured = useWidth(frame);
  const [tip, setTip] = useState<TipAt | null>(null);
  const width = Math.max(140, room?.width ?? measured);
  const height = Math.max(80, (room?.height ?? 320) - 26);
  const { things, sides, cells, thingAt } = pairsOf(columns, rows);
  const most = Math.max(1, scaleTo ?? 0, ...[...cells.values()].map(({ value }) => value));
  const ticks = axisTicks(most);
  const left = axisRoom(ticks, options?.unit);
  const slot = (width - left - 6) / Math.max(1, things.length);
  const y = (value: number): number => 6 + (1 - value / most) * (height - 28);
  const colour = (side: string, i: number): string =>
    OUTCOMES[side] ?? SERIES[i === 0 ? 0 : 4] ?? 'var(--c1)';
  const total = (side: string): number =>
    things.reduce((sum, thing) => sum + (cells.get(`${thing}\u0001${side}`)?.value ?? 0), 0);
  const bar = Math.min(26, slot * 0.36);
  const every = Math.max(
    1,
    Math.ceil((Math.max(...things.map((thing) => Math.min(14, thing.length))) * 6.2) / slot),
  );
  return (
    <div ref={frame} className="time-picture">
      <svg
        width={width}
        height={height}
        role="group"
        aria-label={`${sides.join(' and ')} by ${columns[thingAt]?.name ?? ''}`}
        onKeyDown={walkMarks}
      >
        <FigureAxis ticks={ticks} y={y} left={left} right={width - 6} unit={options?.unit} />
        {things.map((thing, t) => (
          <g key={thing}>
            {sides.map((side, s) => {
              const cell = cells.get(`${thing}\u0001${side}`);
              const words = `${thing}, ${side}: ${figure(cell?.value ?? 0, options?.unit)}`;
              const at = left + slot * (t + 0.5) + (s === 0 ? -bar - 1 : 1);
              const show = (): void => setTip({ x: Math.min(width - 160, at), y: 2, words });
              return (
                <rect
                  key={side}
                  data-mark=""
                  x={at}
                  y={y(cell?.value ?? 0)}
                  width={bar}
                  height={Math.max(1, y(0) - y(cell?.value ?? 0))}
                  fill={colour(side, s)}
                  stroke="var(--ink-faint)"
                  strokeWidth=".5"
                  className="mark"
                  role="button"
                  tabIndex={t === 0 && s === 0 ? 0 : -1}
                  aria-label={words}
                  onMouseEnter={show}
                  onMouseLeave={() => setTip(null)}
                  onFocus={show}
                  onBlur={() => setTip(null)}
                  {...onPress((where) => {
                    const row = cell?.row ?? rows.find((one) => nameOf(one[thingAt]) === thing);
                    const column = columns[thingAt];
                    if (row !== undefined && column !== undefined)
                      onPick(pickedOf(columns, column, row), where);
                  })}
                />
              );
            })}
            {t % every === 0 && (
              <text
                x={left + slot * (t + 0.5)}
                y={height - 6}
                textAnchor="middle"
                fontSize="12"
                fill={isMarked(marked, columns[thingAt], thing) ? 'var(--ink)' : 'var(--ink-soft)'}
              >
                {shortened(thing, 14)}
              </text>
            )}
          </g>
        ))}
      </svg>
      <Tip tip={tip} />
      <p className="legend mb-0">
        {sides.map((side, i) => (
          <span key={side} className="legend-entry xs" data-legend={side} data-colour={colour(side, i)}>
            <i style={{ background: colour(side, i) }} /> <span>{side}</span>{' '}
            {figure(total(side), options?.unit)}
          </span>
        ))}
      </p>
    </div>
  );
}
