import type { JSX, ReactNode } from 'react';
import { CurlLink } from './Curl.js';
import { DataTable, type Lead, TableMenu } from '../ui/DataTable.js';
import type { DataTable as Table } from '../ui/data-table.js';
import { count } from '../ui/format.js';
import { Empty, Failed, Reading } from '../ui/State.js';

interface ListPaneProps<Row> {
  /** What the place is called. */
  readonly title: string;
  /** How many there are, in words. */
  readonly said?: ReactNode;
  /** At the right of the head: buttons, links to neighbouring places. */
  readonly actions?: ReactNode;
  /** Tabs, find boxes. */
  readonly filters?: ReactNode;
  /** Between filters and rows: what is being done with rows. */
  readonly children?: ReactNode;
  /** How the asking for rows stands; null where whoever looks may not ask. */
  readonly answer: {
    readonly isPending: boolean;
    readonly isError: boolean;
    readonly isSuccess: boolean;
    readonly error: Error | null;
  } | null;
  /** What stands there while rows come: "Fetching the cases". */
  readonly reading: string;
  /** The title of what is told when they do not come. */
  readonly failed: string;
  /** How many there are, whether they fit what is looked for or not. */
  readonly total: number;
  /** What to do first, where there is none. */
  readonly none: ReactNode;
  /** Where none fits: what to say, and how to see all. */
  readonly unfitting?: { readonly title: string; readonly onAll: () => void };
  readonly table: Table<Row>;
  readonly keyOf: (row: Row) => string | number;
  readonly isLit?: (row: Row) => boolean;
  readonly onOpen?: (row: Row) => void;
  readonly rowClass?: (row: Row) => string;
  readonly lead?: Lead<Row> | undefined;
  /** Below the rows, within what scrolls. */
  readonly after?: ReactNode;
  /** Below what scrolls. */
  readonly below?: ReactNode;
  /** Keys and words at the foot. */
  readonly foot?: ReactNode;
  /** Where the same is had from the API. */
  readonly address: string;
}

/** A list as every place shows it: head, filters, rows or the reason why there are none, and a foot with what they can be had as. */
export function ListPane<Row>({
  title,
  said,
  actions,
  filters,
  children,
  answer,
  reading,
  failed,
  total,
  none,
  unfitting,
  table,
  keyOf,
  isLit,
  onOpen,
  rowClass,
  lead,
  after,
  below,
  foot,
  address,
}: ListPaneProps<Row>): JSX.Element {
  const isEmpty = answer === null || (answer.isSuccess && total === 0);
  return (
    <section className="sheet" aria-label={title}>
      <div className="sheet-head pb-1 align-items-center">
        <h1 className={`page-title ${said === undefined ? 'grow' : ''}`}>{title}</h1>
        {said !== undefined && <span className="sm soft grow">{said}</span>}
        {actions}
      </div>
      {filters !== undefined && <div className="inset d-flex gap-3 align-items-center pb-1">{filters}</div>}
      {children}
      {answer?.isPending === true && <Reading title={reading} />}
      {answer?.isError === true && <Failed title={failed}>{answer.error?.message}</Failed>}
      {isEmpty && none}
      {total > 0 && table.rows.length === 0 && unfitting !== undefined && (
        <Empty title={unfitting.title}>
          There {total === 1 ? 'is 1' : `are ${count(total)}`}.{' '}
          <button type="button" className="link" onClick={unfitting.onAll}>
            Show them all
          </button>
        </Empty>
      )}
      <div className="scrolls">
        {table.rows.length > 0 && (
          <DataTable
            table={table}
            keyOf={keyOf}
            lead={lead}
            {...(isLit !== undefined && { isLit })}
            {...(onOpen !== undefined && { onOpen })}
            {...(rowClass !== undefined && { rowClass })}
          />
        )}
        {after}
      </div>
      {below}
      <div className="sheet-foot">
        {foot}
        <span className="grow" />
        <TableMenu table={table} />
        <CurlLink path={address} />
      </div>
    </section>
  );
}
