import type { JSX } from 'react';
import { ResponsiveContainer, Sankey, Tooltip } from 'recharts';
import { count } from '../../ui/format.js';
import { onPress, pickedOf, type PictureProps } from './picture.js';
import { flowOf, nameOf, shapeOf } from './shape.js';

interface NodeProps {
  readonly x: number;
  readonly y: number;
  readonly width: number;
  readonly height: number;
  readonly index: number;
  readonly payload: { readonly name: string; readonly value: number };
}

interface LinkProps {
  readonly sourceX: number;
  readonly sourceY: number;
  readonly sourceControlX: number;
  readonly targetX: number;
  readonly targetY: number;
  readonly targetControlX: number;
  readonly linkWidth: number;
  readonly index: number;
  readonly payload: { readonly value: number };
}

/** How values of two to four columns go together. */
export function FlowPicture({ columns, rows, onPick }: PictureProps): JSX.Element {
  const flow = flowOf(columns, rows);
  const { keys } = shapeOf(columns);
  const last = keys.slice(0, 4).at(-1);
  const node = ({ x, y, width, height, index, payload }: NodeProps): JSX.Element => {
    const at = flow.nodes[index];
    const column = at === undefined ? undefined : columns[at.column];
    const atEnd = at?.column === last;
    return (
      <g
        className="mark"
        role="button"
        tabIndex={0}
        aria-label={`${column?.name ?? ''} ${payload.name}: ${count(payload.value)}`}
        {...onPress((place) => {
          const row = rows.find((one) => at !== undefined && nameOf(one[at.column]) === payload.name);
          if (row !== undefined && column !== undefined)
            onPick({ column, value: row[columns.indexOf(column)] ?? null }, place);
        })}
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
  const link = ({ index, linkWidth, payload, ...at }: LinkProps): JSX.Element => {
    const from = flow.nodes[flow.links[index]?.source ?? -1];
    const to = flow.nodes[flow.links[index]?.target ?? -1];
    const words = `${from?.name ?? ''} to ${to?.name ?? ''}: ${count(payload.value)}`;
    return (
      <path
        d={`M${at.sourceX} ${at.sourceY}C${at.sourceControlX} ${at.sourceY} ${at.targetControlX} ${at.targetY} ${at.targetX} ${at.targetY}`}
        fill="none"
        stroke="var(--c5)"
        strokeOpacity="0.55"
        strokeWidth={Math.max(1, linkWidth)}
        className="mark"
        role="button"
        tabIndex={0}
        aria-label={words}
        {...onPress((place) => {
          if (from === undefined || to === undefined) return;
          const both = rows.filter(
            (row) => nameOf(row[from.column]) === from.name && nameOf(row[to.column]) === to.name,
          );
          const [row] = both;
          const column = columns[to.column];
          if (row === undefined || column === undefined) return;
          const picked = pickedOf(columns, column, row);
          // Where several rows go the same way, only what they share is told.
          const shared = [columns[from.column]?.name, column.name];
          onPick(
            both.length === 1
              ? picked
              : { ...picked, row: (picked.row ?? []).filter((cell) => shared.includes(cell.column)) },
            place,
          );
        })}
      >
        <title>{words}</title>
      </path>
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
          link={link as never}
          node={node as never}
        >
          <Tooltip formatter={(value) => count(Number(value))} />
        </Sankey>
      </ResponsiveContainer>
    </>
  );
}
