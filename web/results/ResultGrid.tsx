import {
  columnSizingFeature,
  columnVisibilityFeature,
  createSortedRowModel,
  rowSortingFeature,
  tableFeatures,
  useTable,
  type ColumnDef,
} from '@tanstack/react-table';
import { useVirtualizer } from '@tanstack/react-virtual';
import { useEffect, useMemo, useRef, useState, type JSX, type KeyboardEvent, type MouseEvent } from 'react';
import type { Json } from '../../core/base/json.js';
import type { HuntColumn } from '../../core/wire/hunts.js';
import { orderValues } from '../../core/wick/in-memory/values.js';
import type { HuntRow, RowEvent } from '../api/hunt-stream.js';
import { CellContent, columnWidth, inReadingOrder } from './cells.js';
import type { PickedValue } from './menus/CellMenu.js';

const ROW_HEIGHT = 26;

interface GridRow {
  readonly cells: HuntRow;
  readonly event: RowEvent;
}

const features = tableFeatures({
  rowSortingFeature,
  columnVisibilityFeature,
  columnSizingFeature,
  sortedRowModel: createSortedRowModel(),
});
type Column = ColumnDef<typeof features, GridRow>;

interface ResultGridProps {
  readonly columns: readonly HuntColumn[];
  readonly rows: readonly HuntRow[];
  readonly events: readonly RowEvent[];
  readonly shown: ReadonlySet<string>;
  readonly zone: string;
  /** The event that is being read. */
  readonly readId: string | null;
  /** True for rows inside the brushed stretch; null where nothing is brushed. */
  readonly inside: ((event: RowEvent) => boolean) | null;
  /** Events that came in while the hunt was followed. */
  readonly live: readonly RowEvent[];
  /** The pointer comes over the rows, or leaves them. */
  readonly onOver: (over: boolean) => void;
  readonly onPick: (picked: PickedValue, at: { x: number; y: number }) => void;
  readonly onRead: (event: NonNullable<RowEvent>) => void;
  /** What can be done with a column is asked for; absent where nothing can. */
  readonly onColumn?: (column: HuntColumn, at: { x: number; y: number }) => void;
}

/** The rows of a result. Only those in sight exist, so that a hundred thousand scroll as lightly as ten. */
export function ResultGrid({
  columns,
  rows,
  events,
  shown,
  zone,
  readId,
  inside,
  live,
  onOver,
  onPick,
  onRead,
  onColumn,
}: ResultGridProps): JSX.Element {
  const place = useRef<HTMLDivElement>(null);
  const [active, setActive] = useState({ row: 0, column: 0 });
  const data = useMemo(
    () => rows.map((cells, i): GridRow => ({ cells, event: events[i] ?? null })),
    [rows, events],
  );
  const sample = rows.length > 0;
  const defs = useMemo(
    () =>
      inReadingOrder(columns).map((column): Column => {
        const i = columns.indexOf(column);
        return {
          id: column.name,
          header: column.name,
          accessorFn: (row) => row.cells[i] ?? undefined,
          size: columnWidth(column, i, rows, zone),
          sortUndefined: 'last',
          // The order of the language: numbers, text by code point, the rest.
          sortFn: (a, b, id) =>
            orderValues(
              a.getValue<NonNullable<Json>>(id),
              b.getValue<NonNullable<Json>>(id),
              column.type === 'time' ? 'text' : column.type,
            ),
        };
      }),
    // Widths are settled by the first rows and then stay, so that the table does not jump while rows come in.
    // eslint-disable-next-line react-hooks/exhaustive-deps
    [columns, zone, sample],
  );
  const columnVisibility = useMemo(
    () => Object.fromEntries(columns.map(({ name }) => [name, shown.has(name)])),
    [columns, shown],
  );
  const table = useTable({
    features,
    columns: defs,
    data,
    state: { columnVisibility },
    onColumnVisibilityChange: () => undefined,
  });
  const freshIds = useMemo(() => new Set(live.map((event) => event?.id)), [live]);
  const byName = useMemo(() => new Map(columns.map((column) => [column.name, column])), [columns]);
  const sorted = table.getRowModel().rows;
  const leaves = table.getVisibleLeafColumns();
  const width = leaves.reduce((sum, leaf) => sum + leaf.getSize(), 0) + 8;
  // The rows in sight are worked out anew at every rendering, which is what is wanted here.
  // eslint-disable-next-line react-hooks/incompatible-library
  const virtual = useVirtualizer({
    count: sorted.length,
    getScrollElement: () => place.current,
    estimateSize: () => ROW_HEIGHT,
    // A row keeps its place in the page when others come in above it.
    getItemKey: (index) => sorted[index]?.original.event?.id ?? index,
    overscan: 12,
    scrollMargin: 0,
  });

  // The row being read stays in sight when one walks through events.
  useEffect(() => {
    const at = readId === null ? -1 : sorted.findIndex((row) => row.original.event?.id === readId);
    if (at >= 0) {
      virtual.scrollToIndex(at);
      setActive((before) => ({ ...before, row: at }));
    }
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [readId]);

  const pickAt = (row: number, columnIndex: number, at: { x: number; y: number }): void => {
    const leaf = leaves[columnIndex];
    const column = leaf === undefined ? undefined : byName.get(leaf.id);
    const cells = sorted[row]?.original.cells;
    if (column === undefined || cells === undefined) return;
    onPick(
      {
        column,
        value: cells[columns.indexOf(column)] ?? null,
        row: columns.map(({ name, field }, i) => ({ column: name, field, value: cells[i] ?? null })),
      },
      at,
    );
  };
  const focusCell = (row: number, columnIndex: number): void => {
    virtual.scrollToIndex(row);
    setActive({ row, column: columnIndex });
    requestAnimationFrame(() =>
      place.current?.querySelector<HTMLElement>(`[data-cell="${row}-${columnIndex}"]`)?.focus(),
    );
  };
  const onKeyDown = (event: KeyboardEvent<HTMLDivElement>): void => {
    const moves: Record<string, readonly [number, number]> = {
      ArrowDown: [1, 0],
      ArrowUp: [-1, 0],
      ArrowRight: [0, 1],
      ArrowLeft: [0, -1],
      PageDown: [20, 0],
      PageUp: [-20, 0],
    };
    const move = moves[event.key];
    if (!(event.target instanceof HTMLElement) || event.target.dataset['cell'] === undefined) return;
    if (move !== undefined) {
      event.preventDefault();
      focusCell(
        Math.max(0, Math.min(sorted.length - 1, active.row + move[0])),
        Math.max(0, Math.min(leaves.length - 1, active.column + move[1])),
      );
    } else if (event.key === 'Enter') {
      event.preventDefault();
      const found = sorted[active.row]?.original.event;
      if (found != null) onRead(found);
    } else if ((event.shiftKey && event.key === 'F10') || event.key === 'ContextMenu') {
      event.preventDefault();
      const box = event.target.getBoundingClientRect();
      pickAt(active.row, active.column, { x: box.left, y: box.bottom });
    }
  };
  const onCellClick = (event: MouseEvent<HTMLElement>, row: number, column: number): void => {
    event.preventDefault();
    setActive({ row, column });
    pickAt(row, column, { x: event.clientX, y: event.clientY + 6 });
  };

  return (
    <div
      ref={place}
      className="grid"
      role="grid"
      aria-rowcount={sorted.length + 1}
      aria-colcount={leaves.length}
      aria-label="Rows"
      onKeyDown={onKeyDown}
      onPointerEnter={() => onOver(true)}
      onPointerLeave={() => onOver(false)}
    >
      <div className="grid-head" role="row" style={{ width }}>
        {leaves.map((leaf) => {
          const column = byName.get(leaf.id);
          const way = leaf.getIsSorted();
          return (
            <div
              key={leaf.id}
              role="columnheader"
              aria-sort={way === 'asc' ? 'ascending' : way === 'desc' ? 'descending' : 'none'}
              className={column?.type === 'number' ? 'is-number' : ''}
              style={{ width: leaf.getSize() }}
            >
              <button
                type="button"
                className="cut"
                onClick={leaf.getToggleSortingHandler()}
                onContextMenu={(event) => {
                  if (column === undefined || onColumn === undefined) return;
                  event.preventDefault();
                  onColumn(column, { x: event.clientX, y: event.clientY });
                }}
                title={`Sort by ${leaf.id}`}
              >
                {leaf.id}
              </button>
              {way !== false && <span aria-hidden>{way === 'asc' ? '↑' : '↓'}</span>}
              {column !== undefined && onColumn !== undefined && (
                <button
                  type="button"
                  className="column-more"
                  aria-label={`What to do with the column ${leaf.id}`}
                  onClick={(event) => {
                    const box = event.currentTarget.getBoundingClientRect();
                    onColumn(column, { x: box.left, y: box.bottom });
                  }}
                >
                  ▾
                </button>
              )}
            </div>
          );
        })}
      </div>
      <div style={{ position: 'relative', height: virtual.getTotalSize(), width }}>
        {virtual.getVirtualItems().map((item) => {
          const row = sorted[item.index];
          if (row === undefined) return null;
          const { cells, event } = row.original;
          const fresh = event !== null && freshIds.has(event.id);
          const lit = event !== null && event.id === readId;
          return (
            <div
              key={item.key}
              role="row"
              aria-rowindex={item.index + 2}
              aria-selected={lit}
              className={`grid-row${lit ? ' lit' : ''}${fresh ? ' fresh' : ''}`}
              style={{ transform: `translateY(${item.start}px)`, width }}
              onDoubleClick={() => event !== null && onRead(event)}
            >
              {leaves.map((leaf, columnIndex) => {
                const column = byName.get(leaf.id);
                if (column === undefined) return null;
                const isActive = active.row === item.index && active.column === columnIndex;
                return (
                  <div
                    key={leaf.id}
                    role="gridcell"
                    data-cell={`${item.index}-${columnIndex}`}
                    tabIndex={isActive ? 0 : -1}
                    className={`grid-cell mono${column.type === 'number' ? ' is-number' : ''}`}
                    style={{ width: leaf.getSize() }}
                    onClick={(click) => onCellClick(click, item.index, columnIndex)}
                    onContextMenu={(click) => onCellClick(click, item.index, columnIndex)}
                    onFocus={() => setActive({ row: item.index, column: columnIndex })}
                  >
                    {columnIndex === 0 && inside !== null && (
                      <span
                        className={inside(event) ? 'dot-inside me-2' : 'd-inline-block me-2'}
                        style={{ width: 6 }}
                      />
                    )}
                    <CellContent value={cells[columns.indexOf(column)] ?? null} column={column} zone={zone} />
                  </div>
                );
              })}
            </div>
          );
        })}
      </div>
    </div>
  );
}
