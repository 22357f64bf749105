import type { JSX } from 'react';
import {
  Area,
  AreaChart,
  CartesianGrid,
  Line,
  LineChart,
  ResponsiveContainer,
  Tooltip,
  XAxis,
  YAxis,
} from 'recharts';
import { count, showTime } from '../../ui/format.js';
import { onPress, pickedOf, SERIES, type PictureProps } from './picture.js';
import { linesOf, nameOf, shapeOf } from './shape.js';

/** Figures over time, a line or a stacked area for each of the heaviest keys. */
export function LinesPicture({
  columns,
  rows,
  zone,
  onPick,
  stacked = false,
}: PictureProps & { readonly stacked?: boolean }): JSX.Element {
  const { series, points } = linesOf(columns, rows);
  const { keys, time, figure } = shapeOf(columns);
  const [keyAt] = keys;
  /** Opens the row of a series and time, or any row of the series. */
  const pick = (name: string, moment: string | null, place: { x: number; y: number }): void => {
    const row = rows.find(
      (one) =>
        (keyAt === undefined || nameOf(one[keyAt]) === name) &&
        (moment === null || nameOf(one[time ?? 0]) === moment),
    );
    const column = columns[moment === null ? (keyAt ?? figure ?? 0) : (time ?? 0)];
    if (row !== undefined && column !== undefined) onPick(pickedOf(columns, column, row), place);
  };
  const shared = (name: string, i: number) => ({
    type: 'linear' as const,
    dataKey: (point: Record<string, number>) => point[name] ?? 0,
    name,
    stroke: SERIES[i] ?? 'var(--c1)',
    strokeWidth: 1.8,
    isAnimationActive: false,
    activeDot: {
      r: 5,
      cursor: 'pointer',
      onClick: (dot: { payload?: { time?: string } }, event: unknown) => {
        const { clientX, clientY } = event as MouseEvent;
        pick(name, dot.payload?.time ?? null, { x: clientX, y: clientY });
      },
    } as never,
  });
  const Chart = stacked ? AreaChart : LineChart;
  return (
    <>
      <ResponsiveContainer width="100%" height={320}>
        <Chart data={[...points]} margin={{ left: 8, right: 24, top: 12, bottom: 4 }}>
          <CartesianGrid vertical={false} stroke="var(--paper-edge)" />
          <XAxis
            dataKey="time"
            minTickGap={40}
            tick={{ fill: 'var(--ink-soft)', fontSize: 12 }}
            tickFormatter={(moment: string) => showTime(moment, zone, 'minute')}
          />
          <YAxis tick={{ fill: 'var(--ink-soft)', fontSize: 12 }} tickFormatter={count} width={64} />
          <Tooltip
            formatter={(value) => count(Number(value))}
            labelFormatter={(moment) =>
              `${typeof moment === 'string' ? showTime(moment, zone, 'log') : ''} ${zone}`
            }
          />
          {series.map((name, i) =>
            stacked ? (
              <Area
                key={name}
                {...shared(name, i)}
                stackId="all"
                fill={SERIES[i] ?? 'var(--c1)'}
                fillOpacity={0.8}
              />
            ) : (
              <Line key={name} {...shared(name, i)} dot={false} />
            ),
          )}
        </Chart>
      </ResponsiveContainer>
      <p className="legend inset">
        {series.map((name, i) => (
          <span key={name} className="mono xs" data-legend={name} data-colour={SERIES[i]}>
            <svg
              className="glyph mark"
              width="11"
              height="11"
              role="button"
              tabIndex={0}
              aria-label={name}
              {...onPress((place) => pick(name, null, place))}
            >
              <rect x=".5" y=".5" width="10" height="10" fill={SERIES[i]} stroke="var(--ink-faint)" />
            </svg>{' '}
            {name}
          </span>
        ))}
      </p>
    </>
  );
}
