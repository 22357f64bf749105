import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { type JSX, useMemo, useState } from 'react';
import { Button } from 'react-bootstrap';
import { Link, useNavigate, useSearchParams } from 'react-router';
import type { BoardSummary } from '../../../core/wire/boards.js';
import { listBoards, removeBoard, restoreBoard } from '../../../core/wire/endpoints/boards.js';
import { about, addressOf, answerTo, call } from '../../api/call.js';
import { usePerson } from '../../api/session.js';
import { useAsked } from '../../beam/asked.js';
import { beamSearch, useBeam } from '../../beam/beam.js';
import { oneOf, useAddressState } from '../../kit/address-state.js';
import { FindBox } from '../../kit/FindBox.js';
import { ListPane } from '../../kit/ListPane.js';
import { RemoveButton } from '../../kit/RemoveButton.js';
import { useRowKeys } from './use-row-keys.js';
import { type TableColumn, useDataTable } from '../../ui/data-table.js';
import { ago, count, showTime } from '../../ui/format.js';
import { Key } from '../../ui/Key.js';
import { RowLink } from '../../ui/RowLink.js';
import { Empty, Failed } from '../../ui/State.js';
import { Tabs } from '../../ui/Tabs.js';

const tabs = { all: 'All', mine: 'Mine', shared: 'Shared with me', ready: 'Ready-made' } as const;
type Tab = keyof typeof tabs;
const USUAL = { of: 'all', find: '' } as const;

const kindOf = ({ owner }: BoardSummary, who: string): Exclude<Tab, 'all'> =>
  owner === null ? 'ready' : owner === who ? 'mine' : 'shared';

const sharedWords = ({ owner, shared }: BoardSummary): string =>
  owner === null
    ? 'ships with the product'
    : Array.isArray(shared)
      ? `with ${shared.join(', ')}`
      : shared === 'me'
        ? 'only its owner'
        : 'everyone';

const columnsFor = (
  search: string,
  zone: string,
  at: number,
  who: string,
  onRemove: (board: BoardSummary) => void,
): readonly TableColumn<BoardSummary>[] => [
  {
    id: 'title',
    head: 'board',
    names: true,
    value: ({ title }) => title,
    cell: ({ id, title, about: words }) => (
      <>
        <RowLink to={`/dashboards/${id}${search}`} title={title}>
          {title}
        </RowLink>
        <span className="queue-subject">{words}</span>
      </>
    ),
  },
  {
    id: 'cards',
    head: 'cards',
    width: 64,
    numeric: true,
    value: ({ cards }) => cards,
    cell: ({ cards }) => count(cards),
  },
  { id: 'owner', head: 'owner', width: 130, value: ({ owner }) => owner ?? '', className: () => 'mono cut' },
  { id: 'shared', head: 'seen by', width: 170, value: sharedWords, className: () => 'cut soft' },
  {
    id: 'answered',
    head: 'newest answer',
    width: 130,
    value: ({ answered }) => answered,
    cell: ({ answered }) =>
      answered === null ? <span className="soft">none yet</span> : `${ago(answered, at)} ago`,
  },
  {
    id: 'changed',
    head: 'changed',
    width: 124,
    value: ({ changed }) => changed,
    cell: ({ changed }) => (changed === null ? '' : showTime(changed, zone, 'minute')),
  },
  {
    id: 'remove',
    head: '',
    width: 84,
    value: () => null,
    cell: (board) =>
      board.owner === who ? (
        <RemoveButton
          what={`the board “${board.title}”`}
          consequence="Whoever it is shared with no longer sees it. It can be taken back for 30 days."
          onRemove={() => onRemove(board)}
        />
      ) : null,
  },
];

/** Every board: mine, those shared with me, and those that ship. */
export function DashboardsPage(): JSX.Element {
  const [parameters] = useSearchParams();
  const search = beamSearch(parameters);
  const client = useQueryClient();
  const navigate = useNavigate();
  const state = useAddressState(USUAL);
  const { at } = useAsked();
  const { beam } = useBeam(at);
  const { name } = usePerson();
  const tab = oneOf(Object.keys(tabs) as Tab[], state.values.of) ?? 'all';
  const { find } = state.values;
  const list = useQuery(answerTo(listBoards));
  const all = useMemo(() => list.data?.boards ?? [], [list.data]);
  const fitting = useMemo(
    () =>
      all.filter(
        (one) =>
          (tab === 'all' || kindOf(one, name) === tab) &&
          `${one.title} ${one.about}`.toLowerCase().includes(find.toLowerCase()),
      ),
    [all, tab, find, name],
  );
  const [removed, setRemoved] = useState<BoardSummary | null>(null);
  const remove = useMutation({
    mutationFn: ({ id }: BoardSummary) => call(removeBoard, { params: { id } }),
    onSuccess: (_, board) => {
      setRemoved(board);
      void client.invalidateQueries(about('boards'));
    },
  });
  const restore = useMutation({
    mutationFn: ({ id }: BoardSummary) => call(restoreBoard, { params: { id } }),
    onSuccess: () => {
      setRemoved(null);
      void client.invalidateQueries(about('boards'));
    },
  });
  const { mutate } = remove;
  const columns = useMemo(
    () => columnsFor(search, beam.zone, at, name, mutate),
    [search, beam.zone, at, name, mutate],
  );
  const table = useDataTable('boards', columns, fitting);
  const makeNew = (): void => void navigate(`/dashboards/new${search}`);
  const lit = useRowKeys(table.rows, (one) => void navigate(`/dashboards/${one.id}${search}`), makeNew);
  return (
    <main className="bench bench-boards">
      <ListPane
        title="Dashboards"
        said={list.isSuccess && `${count(all.length)} boards`}
        actions={
          <Button variant="primary" onClick={makeNew}>
            New board
          </Button>
        }
        filters={
          <>
            <Tabs
              className="grow"
              label="Boards"
              names={Object.keys(tabs) as Tab[]}
              chosen={tab}
              onChoose={(one) => state.put({ of: one })}
              show={(one) => tabs[one]}
            />
            <FindBox
              label="Find a board"
              hint="Title, what it is about"
              value={find}
              onFind={(word) => state.put({ find: word })}
            />
          </>
        }
        answer={list}
        reading="Fetching the boards"
        failed="The boards cannot be shown"
        total={all.length}
        none={<Empty title="There is no board yet">Make one with New board.</Empty>}
        unfitting={{ title: 'No board fits', onAll: () => state.clear() }}
        table={table}
        keyOf={({ id }) => id}
        isLit={({ id }) => id === lit}
        address={addressOf(listBoards)}
        foot={
          <>
            <Key keys={['J', 'K']}>move</Key>
            <Key keys={['Enter']}>open</Key>
            <Key keys={['N']}>new board</Key>
          </>
        }
      >
        {(remove.isError || restore.isError) && (
          <Failed title="Nothing was changed">{(remove.error ?? restore.error)?.message}</Failed>
        )}
        {removed !== null && (
          <p className="stale" role="status">
            The board “{removed.title}” is removed.{' '}
            <button type="button" className="link" onClick={() => restore.mutate(removed)}>
              Take it back
            </button>{' '}
            <Link to={`/dashboards${search}`} onClick={() => setRemoved(null)}>
              Fine
            </Link>
          </p>
        )}
      </ListPane>
    </main>
  );
}
