import { type JSX, type KeyboardEvent, useRef } from 'react';
import { Link } from 'react-router';
import type { RestsOn, RestsOnNode } from '../../../core/wire/tuning.js';
import { SourceGlyph, TextMark } from '../../ui/Glyphs.js';

const COLUMNS = ['sources', 'conditions', 'rule', 'does'] as const;
type Column = (typeof COLUMNS)[number];

const HEADS: Readonly<Record<Column, string>> = {
  sources: 'sources',
  conditions: 'conditions and lists',
  rule: 'rule',
  does: 'does and feeds',
};
/** Where columns begin, and where their lines end, out of 464. */
const LEFT: Readonly<Record<Column, number>> = { sources: 16, conditions: 162, rule: 322, does: 350 };
const RIGHT: Readonly<Record<Column, number>> = { sources: 135, conditions: 296, rule: 330, does: 456 };
const ROW = 33;
/** More of a column are told as a number. */
const MOST = 6;

const broken = ({ state }: RestsOnNode): boolean => state === 'quiet' || state === 'absent';

const glyphOf = ({ column, state }: RestsOnNode): JSX.Element | null =>
  column === 'sources' ? (
    <SourceGlyph state={state === 'well' ? 'flowing' : state === 'late' ? 'late' : 'quiet'} />
  ) : state === 'empty' || state === 'absent' ? (
    <TextMark mark="note" />
  ) : null;

/** What a rule stands on and what stands on it, left to right: text on lines. Arrows walk it, Enter opens what it is. */
export function RestsOnGraph({ graph, search }: { graph: RestsOn; search: string }): JSX.Element {
  const place = useRef<HTMLDivElement>(null);
  const columns = COLUMNS.map((column) => {
    const all = graph.nodes.filter((node) => node.column === column);
    return { column, shown: all.slice(0, MOST), more: Math.max(0, all.length - MOST) };
  });
  const rows = Math.max(
    1,
    ...columns
      .filter(({ column }) => column !== 'rule')
      .map(({ shown, more }) => shown.length + (more > 0 ? 0.6 : 0)),
  );
  const tall = 20 + rows * ROW;
  const middle = 18 + (rows * ROW - 8) / 2;
  const places = new Map<string, { readonly x: number; readonly end: number; readonly y: number }>();
  for (const { column, shown } of columns)
    shown.forEach((node, i) =>
      places.set(node.id, {
        x: LEFT[column],
        end: RIGHT[column],
        y: column === 'rule' ? middle : 26 + i * ROW,
      }),
    );
  const walk = (event: KeyboardEvent<HTMLDivElement>): void => {
    const steps: Readonly<Record<string, readonly [number, number]>> = {
      ArrowUp: [0, -1],
      ArrowDown: [0, 1],
      ArrowLeft: [-1, 0],
      ArrowRight: [1, 0],
    };
    const step = steps[event.key];
    const from = (event.target as HTMLElement).dataset['node'];
    if (step === undefined || from === undefined) return;
    const at = columns.findIndex(({ shown }) => shown.some(({ id }) => id === from));
    const row = columns[at]?.shown.findIndex(({ id }) => id === from) ?? 0;
    const to =
      step[0] === 0
        ? columns[at]?.shown[row + step[1]]
        : columns[at + step[0]]?.shown[Math.min(row, (columns[at + step[0]]?.shown.length ?? 1) - 1)];
    if (to === undefined) return;
    event.preventDefault();
    event.stopPropagation();
    place.current?.querySelector<HTMLElement>(`[data-node="${CSS.escape(to.id)}"]`)?.focus();
  };
  return (
    <div
      ref={place}
      className="rests-on"
      style={{ height: tall }}
      role="group"
      aria-label="What it rests on"
      onKeyDown={walk}
    >
      <svg width="464" height={tall} aria-hidden="true">
        {graph.edges.map(([from = '', to = '']) => {
          const [a, b] = [places.get(from), places.get(to)];
          if (a === undefined || b === undefined) return null;
          const node = graph.nodes.find(({ id }) => id === from);
          const [x1, x2] = [a.end, b.x - (to === 'rule' ? 4 : 4)];
          const bend = (x1 + x2) / 2;
          const state = node?.state ?? 'well';
          return (
            <path
              key={`${from} ${to}`}
              className={`edge ${state}`}
              d={`M${x1} ${a.y}C${bend} ${a.y} ${bend} ${b.y} ${x2} ${b.y}`}
            />
          );
        })}
        {columns[2]?.shown.length === 1 && <circle className="here" cx={326} cy={middle} r="6" />}
      </svg>
      {columns.map(({ column, shown, more }) => (
        <div key={column}>
          <span className="column-head" style={{ left: column === 'rule' ? 312 : LEFT[column] }}>
            {HEADS[column]}
          </span>
          {shown.map((node) => {
            const { x = 0, end = 0, y = 0 } = places.get(node.id) ?? {};
            if (column === 'rule')
              return (
                <button
                  key={node.id}
                  type="button"
                  className="visually-hidden-focusable rule-dot"
                  style={{ left: 316, top: middle - 10 }}
                  data-node={node.id}
                >
                  {node.title}
                </button>
              );
            const glyph = glyphOf(node);
            const inside = (
              <span className={column === 'sources' || node.id.startsWith('list ') ? 'mono' : ''}>
                {node.title}
              </span>
            );
            return (
              <div key={node.id} className="node" style={{ left: x, top: y - 9, width: end - x }}>
                <b>
                  {column === 'sources' && glyph}
                  {node.address === null ? (
                    <span tabIndex={0} data-node={node.id} title={node.title}>
                      {inside}
                    </span>
                  ) : (
                    <Link to={withSearch(node.address, search)} data-node={node.id} title={node.title}>
                      {inside}
                    </Link>
                  )}
                </b>
                <span
                  className={`says ${broken(node) ? 'bad' : node.state === 'well' ? '' : 'mid'} ${column === 'sources' ? 'under-glyph' : ''}`}
                  title={node.says}
                >
                  {column !== 'sources' && glyph}
                  {node.says}
                </span>
              </div>
            );
          })}
          {more > 0 && (
            <span className="says more" style={{ left: LEFT[column], top: 17 + MOST * ROW }}>
              and {more} more
            </span>
          )}
        </div>
      ))}
    </div>
  );
}

const withSearch = (address: string, search: string): string =>
  address.includes('?') ? `${address}&${search.replace(/^\?/, '')}` : `${address}${search}`;
