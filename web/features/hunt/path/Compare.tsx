import { useQuery } from '@tanstack/react-query';
import type { JSX } from 'react';
import type { Json } from '../../../../core/base/json.js';
import { compareHunts } from '../../../../core/wire/endpoints/paths.js';
import type { HuntColumn } from '../../../../core/wire/hunts.js';
import type { HuntPoint } from '../../../../core/wire/paths.js';
import { answerTo } from '../../../api/call.js';
import { Dialog } from '../../../kit/Dialog.js';
import { count, showTime } from '../../../ui/format.js';
import { Failed, Reading } from '../../../ui/State.js';
import { CellContent, firstColumns } from '../../../results/cells.js';
import { turnWords } from './turn-words.js';

/** Rows of each kind that are shown. */
const SHOWN = 200;

/** Two points of a path side by side: which rows are new, changed or gone. */
export function Compare({
  before,
  after,
  zone,
  onClose,
}: {
  readonly before: HuntPoint;
  readonly after: HuntPoint;
  readonly zone: string;
  readonly onClose: () => void;
}): JSX.Element {
  const compared = useQuery({
    ...answerTo(compareHunts, { body: { before: before.question, after: after.question } }),
    retry: false,
  });
  const { data } = compared;
  const name = (point: HuntPoint): string =>
    point.name === '' ? turnWords(point.question, null, zone) : point.name;
  return (
    <Dialog title="What changed between two points" onClose={onClose} size="xl">
      <p className="sm soft">
        From <span className="mono">{name(before)}</span> to <span className="mono">{name(after)}</span>, both
        asked again now.
      </p>
      {compared.isPending && <Reading title="Comparing" onStop={onClose} />}
      {compared.isError && <Failed title="They could not be compared">{compared.error.message}</Failed>}
      {data !== undefined && (
        <>
          <p className="sm">
            {count(data.added.length)} new, {count(data.changed.length)} with other figures,{' '}
            {count(data.gone.length)} gone, {count(data.same)} the same.
            {data.since !== null &&
              ` Only events after ${showTime(data.since, zone, 'log')} ${zone} were compared: before that one of the results is cut.`}
            {!data.complete && data.since === null && ' Only the first 10,000 rows of each were compared.'}
          </p>
          <Kind title="New" columns={data.columns} rows={data.added} zone={zone} />
          <Kind title="With other figures" columns={data.columns} rows={data.changed} zone={zone} />
          <Kind title="Gone" columns={data.goneColumns} rows={data.gone} zone={zone} />
        </>
      )}
    </Dialog>
  );
}

function Kind({
  title,
  columns,
  rows,
  zone,
}: {
  readonly title: string;
  readonly columns: readonly HuntColumn[];
  readonly rows: readonly (readonly unknown[])[];
  readonly zone: string;
}): JSX.Element | null {
  if (rows.length === 0) return null;
  const found = rows as readonly (readonly Json[])[];
  const shown = firstColumns(columns, found);
  const at = columns.flatMap((column, i) => (shown.has(column.name) ? [{ column, i }] : []));
  return (
    <>
      <h3 className="section-head pt-2">
        {title} · {count(rows.length)}
      </h3>
      <div className="table-scroll">
        <table className="plain">
          <thead>
            <tr>
              {at.map(({ column }) => (
                <th key={column.name} scope="col">
                  {column.name}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {found.slice(0, SHOWN).map((row, i) => (
              <tr key={i}>
                {at.map(({ column, i: cell }) => (
                  <td key={column.name} className="mono">
                    <CellContent value={row[cell] ?? null} column={column} zone={zone} />
                  </td>
                ))}
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      {rows.length > SHOWN && <p className="xs soft">The first {SHOWN} are shown.</p>}
    </>
  );
}
