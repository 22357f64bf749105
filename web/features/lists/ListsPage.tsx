import { useQuery } from '@tanstack/react-query';
import { type JSX, useMemo } from 'react';
import { useNavigate, useParams, useSearchParams } from 'react-router';
import { listLists } from '../../../core/wire/endpoints/lists.js';
import type { ListSummary } from '../../../core/wire/lists.js';
import { answerTo } from '../../api/call.js';
import { useAsked } from '../../beam/asked.js';
import { beamSearch, useBeam } from '../../beam/beam.js';
import { NothingOpen } from '../../kit/Detail.js';
import { ListPane } from '../../kit/ListPane.js';
import { rowKeys } from '../../kit/row-keys.js';
import { type TableColumn, useDataTable } from '../../ui/data-table.js';
import { count, showTime } from '../../ui/format.js';
import { RowLink } from '../../ui/RowLink.js';
import { Empty } from '../../ui/State.js';
import { useKeys } from '../../ui/use-keys.js';
import { ImportRows } from './ImportRows.js';
import { ListSheet } from './ListSheet.js';

/** One array for all renderings while there are none. */
const NONE: readonly ListSummary[] = [];

const matchWords = { exact: 'exact', network: 'network', wildcard: 'wildcard' } as const;

const listColumns = (zone: string, search: string): readonly TableColumn<ListSummary>[] => [
  {
    id: 'list',
    head: 'list',
    names: true,
    value: ({ name }) => name,
    cell: ({ name, description, key }) => (
      <>
        <RowLink to={`/lists/${name}${search}`} mono>
          {name}
        </RowLink>
        <span className="queue-subject">{description || `by ${key}`}</span>
      </>
    ),
  },
  { id: 'key', head: 'key', width: 100, spare: true, value: ({ key }) => key, className: () => 'mono cut' },
  { id: 'match', head: 'match', width: 84, value: ({ match }) => matchWords[match] },
  {
    id: 'rows',
    head: 'rows',
    width: 66,
    numeric: true,
    value: ({ rows }) => rows,
    cell: ({ rows }) => count(rows),
  },
  {
    id: 'changed',
    head: 'changed',
    width: 112,
    value: ({ updated }) => updated,
    cell: ({ updated }) => showTime(updated, zone, 'minute'),
  },
  {
    id: 'uses',
    head: 'used by',
    width: 76,
    numeric: true,
    value: ({ usedBy }) => usedBy.length,
    cell: ({ usedBy }) => (usedBy.length === 0 ? <span className="absent">none</span> : usedBy.length),
  },
  {
    id: 'expired',
    head: 'expired',
    width: 76,
    numeric: true,
    spare: true,
    value: ({ expired }) => expired,
    cell: ({ expired }) => count(expired),
  },
];

/** Keyed reference data: what hunts, rules and recipes look values up in. */
export function ListsPage(): JSX.Element {
  const { list: name } = useParams();
  const [parameters] = useSearchParams();
  const navigate = useNavigate();
  const { at } = useAsked();
  const { beam } = useBeam(at);
  const search = beamSearch(parameters);
  const lists = useQuery(answerTo(listLists));
  const all = lists.data?.lists ?? NONE;
  const within = `?${parameters.toString()}`;
  const columns = useMemo(() => listColumns(beam.zone, within), [beam.zone, within]);
  const table = useDataTable('lists', columns, all);
  const open = all.find((list) => list.name === name) ?? (name === undefined ? table.rows[0] : undefined);
  const go = (list: ListSummary): void => void navigate(`/lists/${list.name}${within}`);
  useKeys(
    rowKeys({
      rows: table.rows,
      at: table.rows.findIndex((list) => list.name === open?.name),
      onGo: go,
    }),
  );
  return (
    <main className="bench bench-lists">
      <ListPane
        title="Lists"
        actions={<ImportRows label="New list" onDone={(made) => void navigate(`/lists/${made}${search}`)} />}
        answer={lists}
        reading="Fetching lists"
        failed="Lists cannot be shown"
        total={all.length}
        none={
          <Empty title="No lists yet">
            A list holds what you know of users, hosts, networks or codes. Make one from CSV, JSON or a STIX
            bundle; hunts ask it by &ldquo;user in list NAME&rdquo;.
          </Empty>
        }
        table={table}
        keyOf={(list) => list.name}
        isLit={(list) => list.name === open?.name}
        onOpen={go}
        foot={<span>Networks match the longest prefix. Times are {beam.zone}.</span>}
        address="/lists"
      />
      {open !== undefined ? (
        <ListSheet key={open.name} list={open} zone={beam.zone} search={search} />
      ) : (
        <NothingOpen
          label="List"
          title={name === undefined || !lists.isSuccess ? 'No list is open' : `There is no list "${name}"`}
          hint="Choose one at the left, or make it."
        />
      )}
    </main>
  );
}
