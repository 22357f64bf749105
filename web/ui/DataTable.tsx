import { useEffect, useRef, type JSX, type ReactNode } from 'react';
import { Dropdown, Form } from 'react-bootstrap';
import { csvLine } from '../../core/output/csv.js';
import type { DataTable as Table, TableColumn } from './data-table.js';

export interface Lead<Row> {
  readonly label: string;
  readonly width: number;
  readonly head?: ReactNode;
  readonly cell: (row: Row) => ReactNode;
}

interface DataTableProps<Row> {
  readonly table: Table<Row>;
  readonly keyOf: (row: Row) => string | number;
  /** The row that is open or that the keys stand on. */
  readonly isLit?: (row: Row) => boolean;
  /** A click anywhere in a row opens it. */
  readonly onOpen?: (row: Row) => void;
  readonly rowClass?: (row: Row) => string;
  /** A narrow column before all others, such as a box to tick. */
  readonly lead?: Lead<Row> | undefined;
}

/** A table whose heads sort it; the row that is lit stays in sight. */
export function DataTable<Row>({
  table,
  keyOf,
  isLit = () => false,
  onOpen,
  rowClass = () => '',
  lead,
}: DataTableProps<Row>): JSX.Element {
  const shown = table.columns.filter(({ id }) => table.isShown(id));
  const lit = useRef<HTMLTableRowElement>(null);
  const litRow = table.rows.find(isLit);
  const litKey = litRow === undefined ? undefined : keyOf(litRow);
  useEffect(() => {
    // Newer browsers give a promise here, which an effect must not return.
    lit.current?.scrollIntoView({ block: 'nearest' });
  }, [litKey]);
  return (
    <table className="table queue fixed-columns">
      <thead>
        <tr>
          {lead !== undefined && (
            <th style={{ width: lead.width }} aria-label={lead.label}>
              {lead.head}
            </th>
          )}
          {shown.map((column) => (
            <Head key={column.id} column={column} table={table} />
          ))}
        </tr>
      </thead>
      <tbody>
        {table.rows.map((row) => {
          const isOpen = isLit(row);
          return (
            <tr
              key={keyOf(row)}
              ref={isOpen ? lit : null}
              aria-current={isOpen ? 'true' : undefined}
              data-opens={onOpen === undefined ? undefined : true}
              className={`${isOpen ? 'lit ' : ''}${rowClass(row)}`}
              onClick={() => onOpen?.(row)}
            >
              {lead !== undefined && <td onClick={(event) => event.stopPropagation()}>{lead.cell(row)}</td>}
              {shown.map((column) => (
                <td
                  key={column.id}
                  className={`${column.numeric === true ? 'num ' : ''}${column.className?.(row) ?? ''}`}
                >
                  {column.cell === undefined ? column.value(row) : column.cell(row)}
                </td>
              ))}
            </tr>
          );
        })}
      </tbody>
    </table>
  );
}

function Head<Row>({ column, table }: { column: TableColumn<Row>; table: Table<Row> }): JSX.Element {
  const { id, head, width, numeric = false } = column;
  const by = table.sortedBy?.id === id ? table.sortedBy : null;
  return (
    <th
      className={numeric ? 'num' : ''}
      style={width === undefined ? {} : { width }}
      aria-sort={by === null ? 'none' : by.descending ? 'descending' : 'ascending'}
    >
      <button type="button" className="head-sort" title={`Sort by ${head}`} onClick={() => table.sort(id)}>
        {head}
        {by !== null && <span aria-hidden>{by.descending ? ' ↓' : ' ↑'}</span>}
      </button>
    </th>
  );
}

/** Which columns a table shows, and the rows as they are shown, as a file. */
export function TableMenu<Row>({ table }: { table: Table<Row> }): JSX.Element {
  return (
    <Dropdown autoClose="outside" align="end" drop="up">
      <Dropdown.Toggle as="button" type="button" className="link sm">
        Table
      </Dropdown.Toggle>
      <Dropdown.Menu className="menu-list">
        <p className="dropdown-header mb-0">Columns</p>
        {table.columns
          .filter(({ names }) => names !== true)
          .map(({ id, head }) => (
            <Form.Check
              key={id}
              className="ms-3 sm"
              type="checkbox"
              id={`${table.name}-column-${id}`}
              label={head}
              checked={table.isShown(id)}
              onChange={() => table.toggle(id)}
            />
          ))}
        <hr className="dropdown-divider" />
        <p className="dropdown-header mb-0">These rows as a file</p>
        <button type="button" className="dropdown-item" onClick={() => save(table, 'csv')}>
          CSV
        </button>
        <button type="button" className="dropdown-item" onClick={() => save(table, 'jsonl')}>
          JSON lines
        </button>
      </Dropdown.Menu>
    </Dropdown>
  );
}

/** Rows of a table as a file: every column, whether it is shown or not, in the order of the rows on screen. */
export function tableText<Row>(
  { columns, rows }: Pick<Table<Row>, 'columns' | 'rows'>,
  format: 'csv' | 'jsonl',
): string {
  const lines =
    format === 'csv'
      ? [
          csvLine(columns.map(({ head }) => head)),
          ...rows.map((row) => csvLine(columns.map(({ value }) => String(value(row) ?? '')))),
        ]
      : rows.map((row) =>
          JSON.stringify(Object.fromEntries(columns.map(({ id, value }) => [id, value(row)]))),
        );
  return lines.map((line) => `${line}\n`).join('');
}

function save<Row>(table: Table<Row>, format: 'csv' | 'jsonl'): void {
  const type = format === 'csv' ? 'text/csv;charset=utf-8' : 'application/jsonl';
  const address = URL.createObjectURL(new Blob([tableText(table, format)], { type }));
  const link = document.createElement('a');
  link.href = address;
  link.download = `${table.name}.${format}`;
  link.click();
  URL.revokeObjectURL(address);
}
