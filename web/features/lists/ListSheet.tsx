import { keepPreviousData, useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { type JSX, useState } from 'react';
import { Button, Form } from 'react-bootstrap';
import { Link, useNavigate } from 'react-router';
import { readList, removeList } from '../../../core/wire/endpoints/lists.js';
import type { ListPage, ListSummary } from '../../../core/wire/lists.js';
import { about, addressOf, answerTo, call } from '../../api/call.js';
import { usePerson } from '../../api/session.js';
import { Changes } from '../../changes/Changes.js';
import { CurlLink } from '../../kit/Curl.js';
import { RemoveButton } from '../../kit/RemoveButton.js';
import { PullPanel } from '../../pulls/PullPanel.js';
import { count, counted, showTime } from '../../ui/format.js';
import { Empty, Failed, Reading } from '../../ui/State.js';
import { ImportRows } from './ImportRows.js';
import { RowForm } from './RowForm.js';

const matchWords = {
  exact: 'matched exactly',
  network: 'matched by the longest network',
  wildcard: 'matched by wildcard',
} as const;

/** Rows the server gives at once. */
const PAGE = 200;

const cell = (value: unknown): string =>
  value === null || value === undefined ? '' : typeof value === 'string' ? value : JSON.stringify(value);

/** One list: its rows, searched and by pieces, what uses it, and ways to change it. */
export function ListSheet({
  list,
  zone,
  search,
}: {
  list: ListSummary;
  zone: string;
  search: string;
}): JSX.Element {
  const person = usePerson();
  const client = useQueryClient();
  const navigate = useNavigate();
  const [wanted, setWanted] = useState('');
  const [from, setFrom] = useState(0);
  const [editing, setEditing] = useState<ListPage['rows'][number] | 'new' | null>(null);
  const asked = { params: { list: list.name }, query: { search: wanted, from } };
  const page = useQuery({
    ...answerTo(readList, asked),
    placeholderData: keepPreviousData,
  });
  const refresh = (): Promise<void> => client.invalidateQueries(about('lists'));
  const drop = useMutation({
    mutationFn: () => call(removeList, { params: { list: list.name } }),
    onSuccess: async () => {
      await refresh();
      void navigate(`/lists${search}`);
    },
  });
  const columns = page.data?.columns ?? [list.key];
  const rows = page.data?.rows ?? [];
  const found = page.data?.found ?? 0;
  const mayChange = person.role !== 'reader';
  return (
    <section className="sheet" aria-label="List">
      <div className="sheet-head pb-1">
        <h2 className="sheet-title mono grow">{list.name}</h2>
        {mayChange && (
          <>
            <Button size="sm" variant="outline-secondary" onClick={() => setEditing('new')}>
              Add a row
            </Button>
            <ImportRows label="Import" list={list} onDone={() => void refresh()} />
          </>
        )}
      </div>
      <p className="inset sm soft pb-2">
        {list.description !== '' && <>{list.description} · </>}
        key <span className="mono">{list.key}</span>, {matchWords[list.match]}
        {list.expired > 0 && <> · {counted(list.expired, 'row has', 'rows have')} expired</>}
        {list.usedBy.length > 0 && (
          <> · used by {list.usedBy.map((user) => `${user.what} ${user.name}`).join(', ')}</>
        )}
      </p>
      <div className="inset pb-2">
        <Form.Control
          size="sm"
          type="search"
          aria-label="Search the rows"
          placeholder={`search ${counted(list.rows, 'row')}`}
          value={wanted}
          onChange={(event) => {
            setWanted(event.target.value);
            setFrom(0);
          }}
        />
      </div>
      {editing !== null && (
        <RowForm
          key={editing === 'new' ? 'new' : editing.position}
          list={list}
          columns={columns}
          row={editing === 'new' ? null : editing}
          onDone={() => {
            setEditing(null);
            void refresh();
          }}
          onCancel={() => setEditing(null)}
        />
      )}
      <PullPanel into="list" name={list.name} zone={zone} onFetched={() => void refresh()} />
      {drop.isError && <Failed title="The list was not removed">{drop.error.message}</Failed>}
      <div className="scrolls">
        {page.isPending && <Reading title="Fetching rows" />}
        {page.isError && <Failed title="Rows cannot be shown">{page.error.message}</Failed>}
        {page.isSuccess && rows.length === 0 && (
          <Empty title={wanted === '' ? 'No rows yet' : `No row holds "${wanted}"`}>
            {wanted === ''
              ? 'Add one, or import some.'
              : `There are ${counted(list.rows, 'row')}; search for less.`}
          </Empty>
        )}
        {rows.length > 0 && (
          <table className="table dense">
            <thead>
              <tr>
                {columns.map((column) => (
                  <th key={column}>{column}</th>
                ))}
                {list.expired > 0 || rows.some((row) => row.expires !== null) ? <th>holds until</th> : null}
              </tr>
            </thead>
            <tbody>
              {rows.map((row) => (
                <tr
                  key={row.position}
                  data-opens={mayChange || undefined}
                  className={editing === row ? 'lit' : ''}
                  onClick={() => mayChange && setEditing(row)}
                >
                  {columns.map((column, i) => (
                    <td
                      key={column}
                      className="mono cut-cell"
                      title={cell((row.cells as Record<string, unknown>)[column])}
                    >
                      {i === 0 && mayChange ? (
                        <button type="button" className="link" onClick={() => setEditing(row)}>
                          {cell((row.cells as Record<string, unknown>)[column])}
                        </button>
                      ) : (
                        cell((row.cells as Record<string, unknown>)[column])
                      )}
                    </td>
                  ))}
                  {list.expired > 0 || rows.some((other) => other.expires !== null) ? (
                    <td>
                      {row.expires === null ? (
                        <span className="absent">always</span>
                      ) : (
                        showTime(row.expires, zone, 'minute')
                      )}
                    </td>
                  ) : null}
                </tr>
              ))}
            </tbody>
          </table>
        )}
      </div>
      <Changes kind="list" name={list.name} zone={zone} />
      <div className="sheet-foot">
        <span>
          {found > PAGE ? `rows ${count(from + 1)} to ${count(Math.min(from + PAGE, found))} of ` : ''}
          {count(found)} {found === 1 ? 'row' : 'rows'}
        </span>
        {from > 0 && (
          <button type="button" className="link" onClick={() => setFrom(from - PAGE)}>
            Before
          </button>
        )}
        {from + PAGE < found && (
          <button type="button" className="link" onClick={() => setFrom(from + PAGE)}>
            Next
          </button>
        )}
        <span className="grow" />
        <Link to={`/hunt?${huntOf(list, search)}`}>Hunt with it</Link>
        {person.role === 'admin' && (
          <RemoveButton label="Remove" what="the list" className="link" onRemove={() => drop.mutate()} />
        )}
        <CurlLink path={addressOf(readList, asked)} />
      </div>
    </section>
  );
}

/** A hunt that asks the list: by address for networks, by user for others. */
function huntOf(list: ListSummary, search: string): string {
  const query = new URLSearchParams(search);
  query.set('q', `from all\nwhere ${list.match === 'network' ? 'src_ip' : 'user'} in list ${list.name}`);
  return query.toString();
}
