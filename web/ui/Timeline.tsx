import { useRef, type JSX } from 'react';
import { count } from './format.js';
import { timeTicks } from './time-ticks.js';
import { type Brush, BrushEdges, BrushLight, useBrush } from './use-brush.js';
import { useWidth } from './use-width.js';

export type { Brush } from './use-brush.js';

/** One bar: when it starts, and how many of each part. */
export interface Bar {
  /** Milliseconds. */
  readonly start: number;
  readonly parts: Readonly<Record<string, number>>;
}

export interface Part {
  readonly name: string;
  readonly colour: string;
  /** Pale series get a thin line around, since alone they are too faint. */
  readonly pale: boolean;
}

interface TimelineProps {
  readonly from: number;
  readonly to: number;
  /** Width of a bar, milliseconds. */
  readonly width: number;
  readonly bars: readonly Bar[];
  /** Bars of another period to compare with, at the same places; drawn as a line. */
  readonly behind?: readonly Bar[] | null;
  readonly parts: readonly Part[];
  readonly zone: string;
  readonly brush: Brush | null;
  readonly onBrush: (brush: Brush | null) => void;
}

const HEIGHT = 104;
const LEFT = 44;
const TOP = 6;
const BOTTOM = 18;
const PLOT = HEIGHT - TOP - BOTTOM;

/** A round number at or above, for the top of the axis. */
export function roundTop(value: number): number {
  if (value <= 4) return 4;
  const size = 10 ** Math.floor(Math.log10(value));
  return size * ([1, 2, 4, 5, 8, 10].find((step) => step * size >= value) ?? 10);
}

const total = (bar: Bar): number => Object.values(bar.parts).reduce((sum, part) => sum + part, 0);

/** The upper edge of bars as one line, down to the ground where there is none. */
function outlineOf(
  bars: readonly Bar[],
  from: number,
  to: number,
  width: number,
  x: (time: number) => number,
  y: (value: number) => number,
): string {
  const heights = new Map(bars.map((bar) => [bar.start, total(bar)]));
  const starts = [...heights.keys()].sort((a, b) => a - b);
  const [begin = from] = starts;
  // Bars need not begin where the window does.
  const first = begin - Math.ceil(Math.max(0, begin - from) / width) * width;
  let path = '';
  for (let start = first; start < to; start += width) {
    const high = y(heights.get(start) ?? 0).toFixed(1);
    path += `${path === '' ? 'M' : 'L'}${x(Math.max(from, start)).toFixed(1)} ${high}H${x(Math.min(to, start + width)).toFixed(1)}`;
  }
  return path;
}

/** Counts over time, stacked by part. A stretch can be brushed by pointer, or by Shift and the arrow keys. */
export function Timeline({
  from,
  to,
  width,
  bars,
  behind = null,
  parts,
  zone,
  brush,
  onBrush,
}: TimelineProps): JSX.Element {
  const place = useRef<HTMLDivElement>(null);
  const pixels = useWidth(place);
  const plot = Math.max(10, pixels - LEFT - 2);
  const x = (time: number): number => LEFT + ((time - from) / (to - from)) * plot;
  const top = roundTop(Math.max(0, ...bars.map(total), ...(behind ?? []).map(total)));
  const y = (value: number): number => TOP + PLOT - (value / top) * PLOT;
  const handlers = useBrush({ from, to, step: width, left: LEFT, plot, brush, onBrush });

  const ticks = timeTicks(from, to, zone, Math.max(2, Math.floor(plot / 90)));
  const sum = bars.reduce((all, bar) => all + total(bar), 0);
  return (
    <div className="timeline" ref={place}>
      <svg
        height={HEIGHT}
        role="img"
        tabIndex={0}
        aria-label={`${count(sum)} events over time. Arrow keys move a stretch, Shift and arrows widen it.`}
        {...handlers}
      >
        <BrushLight brush={brush} x={x} height={TOP + PLOT} />
        {[0, top / 2, top].map((value) => (
          <g key={value}>
            <path
              d={`M${LEFT} ${Math.round(y(value)) + 0.5}H${pixels}`}
              stroke={value === 0 ? 'var(--paper-rule)' : 'var(--paper-edge)'}
            />
            <text x={LEFT - 6} y={y(value) + 4} textAnchor="end">
              {count(value)}
            </text>
          </g>
        ))}
        {bars.map((bar) => {
          const left = Math.max(LEFT, x(bar.start)) + 1;
          const right = Math.min(LEFT + plot, x(bar.start + width)) - 1;
          const dim = brush !== null && (bar.start < brush.from || bar.start >= brush.to);
          let below = 0;
          return (
            <g key={bar.start} opacity={dim ? 0.62 : 1}>
              {parts.map(({ name, colour, pale }) => {
                const value = bar.parts[name] ?? 0;
                if (value === 0) return null;
                const high = y(below + value);
                const low = y(below);
                below += value;
                return (
                  <rect
                    key={name}
                    x={left}
                    y={high}
                    width={Math.max(0.7, right - left)}
                    height={Math.max(0.7, low - high)}
                    fill={colour}
                    {...(pale && { stroke: 'var(--ink-faint)', strokeWidth: 0.6 })}
                  />
                );
              })}
            </g>
          );
        })}
        {behind !== null && (
          <path
            d={outlineOf(behind, from, to, width, x, y)}
            fill="none"
            stroke="var(--sev-3)"
            strokeWidth="1.4"
            data-series="before"
          />
        )}
        {ticks.map(({ time, label }) => (
          <g key={time}>
            <path d={`M${Math.round(x(time)) + 0.5} ${y(0)}v4`} stroke="var(--paper-rule)" />
            <text x={Math.min(pixels - 18, Math.max(LEFT + 18, x(time)))} y={HEIGHT - 2} textAnchor="middle">
              {label}
            </text>
          </g>
        ))}
        <BrushEdges brush={brush} x={x} height={TOP + PLOT} />
      </svg>
    </div>
  );
}
