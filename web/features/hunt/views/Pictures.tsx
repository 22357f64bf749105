import type { JSX } from 'react';
import {
  Bar,
  BarChart,
  CartesianGrid,
  LabelList,
  Line,
  LineChart,
  ResponsiveContainer,
  Sankey,
  Tooltip,
  XAxis,
  YAxis,
} from 'recharts';
import type { HuntColumn } from '../../../../core/wire/hunts.js';
import type { HuntRow } from '../../../api/hunt-stream.js';
import { count, showTime } from '../../../ui/format.js';
import type { PickedValue } from '../CellMenu.js';
import { flowOf, heatKey, heatOf, linesOf, nameOf, shapeOf, type View } from './shape.js';

interface PicturesProps {
  readonly view: View;
  readonly columns: readonly HuntColumn[];
  readonly rows: readonly HuntRow[];
  readonly zone: string;
  readonly onPick: (picked: PickedValue, at: { x: number; y: number }) => void;
}

const SERIES = ['var(--c1)', 'var(--c2)', 'var(--c3)', 'var(--c4)', 'var(--c5)', 'var(--c6)'];
const HEAT = ['#ede0c2', '#cfccc0', '#96abb9', '#54779f', '#1d3f70'];
const ROW_HEIGHT = 24;

/** A result as a picture; every picture says in words what it shows. */
export function Pictures(props: PicturesProps): JSX.Element {
  return (
    <figure className="picture scrolls" aria-label={inWords(props)}>
      {draw(props)}
      <figcaption className="xs soft inset">{inWords(props)}</figcaption>
    </figure>
  );
}

function draw(props: PicturesProps): JSX.Element {
  switch (props.view) {
    case 'bars':
      return <Bars {...props} />;
    case 'line':
      return <Lines {...props} />;
    case 'heat':
      return <HeatTable {...props} />;
    case 'flow':
      return <FlowPicture {...props} />;
    default:
      return <OneNumber {...props} />;
  }
}

/** What a picture shows, for whoever cannot see it. */
function inWords({ view, columns, rows }: PicturesProps): string {
  const { keys, time, figure } = shapeOf(columns);
  const name = columns[figure ?? 0]?.name ?? '';
  const by = [...keys.map((at) => columns[at]?.name ?? ''), ...(time === null ? [] : ['time'])].join(', ');
  const [most] = [...rows].sort((a, b) => Number(b[figure ?? 0] ?? 0) - Number(a[figure ?? 0] ?? 0));
  const heaviest =
    most === undefined
      ? ''
      : ` The largest is ${count(Number(most[figure ?? 0] ?? 0))} for ${keys.map((at) => nameOf(most[at])).join(', ') || nameOf(most[time ?? 0])}.`;
  const dropped =
    view === 'heat' ? heatOf(columns, rows).left : view === 'flow' ? flowOf(columns, rows).left : 0;
  const left =
    dropped === 0 ? '' : ` ${count(dropped)} lighter names are left out or put together; the table has all.`;
  return view === 'number' ? name : `${name} by ${by}, ${count(rows.length)} rows.${heaviest}${left}`;
}

function Bars({ columns, rows, onPick }: PicturesProps): JSX.Element {
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

const pickedOf = (columns: readonly HuntColumn[], column: HuntColumn, row: HuntRow): PickedValue => ({
  column,
  value: row[columns.indexOf(column)] ?? null,
  row: columns.map(({ name }, i) => ({ column: name, value: row[i] ?? null })),
});

function Lines({ columns, rows, zone }: PicturesProps): JSX.Element {
  const { series, points } = linesOf(columns, rows);
  return (
    <>
      <ResponsiveContainer width="100%" height={320}>
        <LineChart data={[...points]} margin={{ left: 8, right: 24, top: 12, bottom: 4 }}>
          <CartesianGrid vertical={false} stroke="var(--paper-edge)" />
          <XAxis
            dataKey="time"
            minTickGap={40}
            tick={{ fill: 'var(--ink-soft)', fontSize: 12 }}
            tickFormatter={(time: string) => showTime(time, zone, 'minute')}
          />
          <YAxis tick={{ fill: 'var(--ink-soft)', fontSize: 12 }} tickFormatter={count} width={64} />
          <Tooltip
            formatter={(value) => count(Number(value))}
            labelFormatter={(time) =>
              `${typeof time === 'string' ? showTime(time, zone, 'log') : ''} ${zone}`
            }
          />
          {series.map((name, i) => (
            <Line
              key={name}
              type="linear"
              dataKey={(point: Record<string, number>) => point[name] ?? 0}
              name={name}
              stroke={SERIES[i] ?? 'var(--c1)'}
              dot={false}
              strokeWidth={1.8}
              isAnimationActive={false}
            />
          ))}
        </LineChart>
      </ResponsiveContainer>
      <p className="legend inset">
        {series.map((name, i) => (
          <span key={name} className="mono xs">
            <svg className="glyph" width="11" height="11" aria-hidden="true">
              <rect x=".5" y=".5" width="10" height="10" fill={SERIES[i]} stroke="var(--ink-faint)" />
            </svg>{' '}
            {name}
          </span>
        ))}
      </p>
    </>
  );
}

function HeatTable({ columns, rows, zone, onPick }: PicturesProps): JSX.Element {
  const heat = heatOf(columns, rows);
  const { keys, time } = shapeOf(columns);
  const [downAt = 0, secondAt = 0] = keys;
  const acrossAt = time ?? secondAt;
  const column = columns[downAt];
  const label = (name: string): string => (time === null ? name : showTime(name, zone, 'minute'));
  return (
    <table className="heat">
      <thead>
        <tr>
          <th scope="col">{column?.name}</th>
          {heat.across.map((name, i) => (
            <th key={name} scope="col" title={label(name)}>
              {/* Every sixth has room for its name. */}
              {time === null || i % 6 === 0 ? <span>{label(name)}</span> : null}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {heat.down.map((down) => (
          <tr key={down}>
            <th scope="row" className="mono">
              {down}
            </th>
            {heat.across.map((across) => {
              const value = heat.cells.get(heatKey(down, across));
              const step =
                value === undefined
                  ? null
                  : Math.min(4, Math.floor((Math.log1p(value) / Math.log1p(heat.most)) * 4.999));
              return (
                <td key={across} style={step === null ? {} : { background: HEAT[step] }}>
                  {value !== undefined && column !== undefined && (
                    <button
                      type="button"
                      title={`${down}, ${label(across)}: ${count(value)}`}
                      aria-label={`${down}, ${label(across)}: ${count(value)}`}
                      onClick={(event) => {
                        const row = rows.find(
                          (one) => nameOf(one[downAt]) === down && nameOf(one[acrossAt]) === across,
                        );
                        if (row !== undefined)
                          onPick(pickedOf(columns, column, row), { x: event.clientX, y: event.clientY });
                      }}
                    />
                  )}
                </td>
              );
            })}
          </tr>
        ))}
      </tbody>
    </table>
  );
}

interface NodeProps {
  readonly x: number;
  readonly y: number;
  readonly width: number;
  readonly height: number;
  readonly index: number;
  readonly payload: { readonly name: string; readonly value: number };
}

function FlowPicture({ columns, rows, onPick }: PicturesProps): JSX.Element {
  const flow = flowOf(columns, rows);
  const { keys } = shapeOf(columns);
  const last = keys.slice(0, 4).at(-1);
  const node = ({ x, y, width, height, index, payload }: NodeProps): JSX.Element => {
    const at = flow.nodes[index];
    const column = at === undefined ? undefined : columns[at.column];
    const atEnd = at?.column === last;
    return (
      <g
        style={{ cursor: 'pointer' }}
        onClick={(event) => {
          const row = rows.find((one) => at !== undefined && nameOf(one[at.column]) === payload.name);
          if (row !== undefined && column !== undefined)
            onPick(
              { column, value: row[columns.indexOf(column)] ?? null },
              { x: event.clientX, y: event.clientY },
            );
        }}
      >
        <rect x={x} y={y} width={width} height={Math.max(2, height)} fill="var(--c1)" />
        <text
          x={atEnd ? x - 6 : x + width + 6}
          y={y + height / 2 + 4}
          textAnchor={atEnd ? 'end' : 'start'}
          fontSize="12"
          className="mono"
          fill="var(--ink)"
        >
          {payload.name} · {count(payload.value)}
        </text>
      </g>
    );
  };
  return (
    <>
      <p className="inset xs soft mb-0 pt-1">
        {keys
          .slice(0, 4)
          .map((at) => columns[at]?.name)
          .join(' → ')}
      </p>
      <ResponsiveContainer width="100%" height={Math.max(260, Math.min(900, flow.nodes.length * 20))}>
        <Sankey
          data={{
            nodes: flow.nodes.map(({ name }) => ({ name })),
            links: flow.links.map((link) => ({ ...link })),
          }}
          nodePadding={14}
          nodeWidth={10}
          margin={{ left: 12, right: 12, top: 8, bottom: 8 }}
          link={{ stroke: 'var(--c5)', strokeOpacity: 0.55 }}
          node={node as never}
        >
          <Tooltip formatter={(value) => count(Number(value))} />
        </Sankey>
      </ResponsiveContainer>
    </>
  );
}

function OneNumber({ columns, rows }: PicturesProps): JSX.Element {
  const { figure } = shapeOf(columns);
  return <p className="big-number inset">{count(Number(rows[0]?.[figure ?? 0] ?? 0))}</p>;
}
