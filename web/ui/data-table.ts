import {
  columnVisibilityFeature,
  createSortedRowModel,
  rowSortingFeature,
  tableFeatures,
  useTable,
  type ColumnDef,
  type SortingState,
  type RowData,
  type Updater,
  type ColumnVisibilityState,
} from '@tanstack/react-table';
import { useMemo, useState, type ReactNode } from 'react';
import { useSearchParams } from 'react-router';

/** What a cell says in a file, and what rows are sorted by. */
export type CellValue = string | number | null;

/** One column of a table of ours. */
export interface TableColumn<Row> {
  readonly id: string;
  readonly head: string;
  /** What the cell says, in plain values; times as RFC 3339. */
  readonly value: (row: Row) => CellValue;
  /** How the cell looks; its value where that is absent. */
  readonly cell?: (row: Row) => ReactNode;
  readonly className?: (row: Row) => string;
  /** How rows compare where their values do not say it, as with severities. */
  readonly order?: (a: Row, b: Row) => number;
  /** Pixels; what has no width shares the rest. */
  readonly width?: number;
  readonly numeric?: boolean;
  /** It names the row, and is always shown. */
  readonly names?: boolean;
  /** Not shown until it is chosen. */
  readonly spare?: boolean;
}

/** Which columns are shown, by their ids, where somebody chose otherwise than we do. */
type Chosen = ColumnVisibilityState;

const placeOf = (name: string): string => `table:${name}`;

/** What was chosen, where it can be read; a browser may refuse to keep anything. */
function readChosen(name: string): Chosen {
  try {
    const kept: unknown = JSON.parse(localStorage.getItem(placeOf(name)) ?? '{}');
    return typeof kept === 'object' && kept !== null ? (kept as Chosen) : {};
  } catch {
    return {};
  }
}

function keepChosen(name: string, chosen: Chosen): void {
  try {
    localStorage.setItem(placeOf(name), JSON.stringify(chosen));
  } catch {
    // It holds as long as the page does.
  }
}

/** `by=title` sorts upwards, `by=-alerts` downwards; what names no column does not sort. */
function readSorting(by: string | null, columns: readonly { readonly id: string }[]): SortingState {
  const desc = by?.startsWith('-') ?? false;
  const id = desc ? by?.slice(1) : by;
  return columns.some((column) => column.id === id) && typeof id === 'string' ? [{ id, desc }] : [];
}

const resolved = <State>(updater: Updater<State>, before: State): State =>
  updater instanceof Function ? updater(before) : updater;

const features = tableFeatures({
  rowSortingFeature,
  columnVisibilityFeature,
  sortedRowModel: createSortedRowModel(),
});

/** Absent values come last, numbers by size, the rest by the alphabet. */
function orderOf(a: CellValue, b: CellValue): number {
  if (typeof a === 'number' && typeof b === 'number') return a - b;
  return String(a).localeCompare(String(b), 'en', { numeric: true });
}

/** A table that can be sorted, whose columns can be chosen, and that can be had as a file. */
export interface DataTable<Row> {
  readonly name: string;
  /** All columns, in their order. */
  readonly columns: readonly TableColumn<Row>[];
  readonly isShown: (id: string) => boolean;
  readonly toggle: (id: string) => void;
  /** The rows in the order in which they are shown. */
  readonly rows: readonly Row[];
  readonly sortedBy: { readonly id: string; readonly descending: boolean } | null;
  /** Sorts by a column, then the other way round, then as the rows came. */
  readonly sort: (id: string) => void;
}

/**
 * Sorting stands in the address (`by`), so that a link carries it; which columns are shown is kept in this browser.
 * @param name under which columns are kept, and which a file of the rows is called
 * @param columns the same array at each rendering, or the table is made anew
 * @param rows likewise
 * @param parameter of the address that says what it is sorted by, where a page has two tables
 */
export function useDataTable<Row extends RowData>(
  name: string,
  columns: readonly TableColumn<Row>[],
  rows: readonly Row[],
  parameter = 'by',
): DataTable<Row> {
  const [parameters, setParameters] = useSearchParams();
  const sorting = readSorting(parameters.get(parameter), columns);
  const [columnVisibility, setVisibility] = useState<Chosen>(() => ({
    ...Object.fromEntries(columns.filter(({ spare }) => spare === true).map(({ id }) => [id, false])),
    ...readChosen(name),
  }));
  const defs = useMemo(
    () =>
      columns.map((column): ColumnDef<typeof features, Row> => ({
        id: column.id,
        header: column.head,
        accessorFn: (row) => column.value(row) ?? undefined,
        sortUndefined: 'last',
        sortDescFirst: column.numeric ?? false,
        enableHiding: column.names !== true,
        sortFn: (a, b) =>
          column.order === undefined
            ? orderOf(column.value(a.original), column.value(b.original))
            : column.order(a.original, b.original),
      })),
    [columns],
  );
  const data = useMemo(() => [...rows], [rows]);
  const table = useTable({
    features,
    columns: defs,
    data,
    state: { sorting, columnVisibility },
    onSortingChange: (updater) => {
      const [first] = resolved(updater, sorting);
      setParameters(
        (before) => {
          const next = new URLSearchParams(before);
          if (first === undefined) next.delete(parameter);
          else next.set(parameter, `${first.desc ? '-' : ''}${first.id}`);
          return next;
        },
        { replace: true },
      );
    },
    onColumnVisibilityChange: (updater) => {
      const next = resolved(updater, columnVisibility);
      setVisibility(next);
      keepChosen(name, next);
    },
  });
  const [first] = sorting;
  return {
    name,
    columns,
    isShown: (id) => table.getColumn(id)?.getIsVisible() ?? true,
    toggle: (id) => table.getColumn(id)?.toggleVisibility(),
    rows: table.getRowModel().rows.map(({ original }) => original),
    sortedBy: first === undefined ? null : { id: first.id, descending: first.desc },
    sort: (id) => table.getColumn(id)?.toggleSorting(),
  };
}
