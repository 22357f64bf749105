import type { JSX } from 'react';
import {
  Bar,
  BarChart,
  CartesianGrid,
  LabelList,
  ResponsiveContainer,
  Tooltip,
  XAxis,
  YAxis,
} from 'recharts';
import { count } from '../../ui/format.js';
import { pickedOf, type PictureProps } from './picture.js';
import { nameOf, shapeOf } from './shape.js';

const ROW_HEIGHT = 24;

/** One bar a row. */
export function BarsPicture({ columns, rows, onPick }: PictureProps): JSX.Element {
  const { keys, figure } = shapeOf(columns);
  const data = rows.map((row) => ({
    name: keys.map((at) => nameOf(row[at])).join(' · '),
    value: Number(row[figure ?? 0] ?? 0),
    row,
  }));
  const [first = 0] = keys;
  const column = columns[first];
  return (
    <ResponsiveContainer width="100%" height={Math.max(120, data.length * ROW_HEIGHT + 40)}>
      <BarChart data={data} layout="vertical" margin={{ left: 8, right: 48, top: 8, bottom: 4 }}>
        <CartesianGrid horizontal={false} stroke="var(--paper-edge)" />
        <XAxis type="number" tick={{ fill: 'var(--ink-soft)', fontSize: 12 }} tickFormatter={count} />
        <YAxis
          type="category"
          dataKey="name"
          width={220}
          interval={0}
          tick={{ fill: 'var(--ink)', fontSize: 12 }}
        />
        <Tooltip formatter={(value) => count(Number(value))} cursor={{ fill: 'var(--paper-well)' }} />
        <Bar
          dataKey="value"
          name={columns[figure ?? 0]?.name ?? ''}
          fill="var(--c1)"
          isAnimationActive={false}
          cursor="pointer"
          onClick={(_, i, event) => {
            const row = data[i]?.row;
            if (row !== undefined && column !== undefined)
              onPick(pickedOf(columns, column, row), { x: event.clientX, y: event.clientY });
          }}
        >
          <LabelList
            dataKey="value"
            position="right"
            formatter={(value) => count(Number(value))}
            style={{ fill: 'var(--ink-soft)', fontSize: 12 }}
          />
        </Bar>
      </BarChart>
    </ResponsiveContainer>
  );
}
