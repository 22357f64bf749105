import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { type JSX, useMemo, useState } from 'react';
import { Button } from 'react-bootstrap';
import { Link, useNavigate, useSearchParams } from 'react-router';
import type { CaseDetail, CaseSummary } from '../../../core/wire/cases.js';
import { listCases, openCase, readCase } from '../../../core/wire/endpoints/cases.js';
import { addressOf, answerTo, call, keyOf } from '../../api/call.js';
import { usePages } from '../../api/pages.js';
import { usePerson } from '../../api/session.js';
import { useAsked } from '../../beam/asked.js';
import { beamSearch, useBeam } from '../../beam/beam.js';
import { oneOf, useAddressState } from '../../kit/address-state.js';
import { NothingOpen } from '../../kit/Detail.js';
import { FindBox } from '../../kit/FindBox.js';
import { LineForm } from '../../kit/LineForm.js';
import { ListPane } from '../../kit/ListPane.js';
import { More } from '../../kit/More.js';
import { rowKeys } from '../../kit/row-keys.js';
import { type TableColumn, useDataTable } from '../../ui/data-table.js';
import { count, showTime } from '../../ui/format.js';
import { Key } from '../../ui/Key.js';
import { RowLink } from '../../ui/RowLink.js';
import { Empty, Failed, Reading } from '../../ui/State.js';
import { Tabs } from '../../ui/Tabs.js';
import { useKeys } from '../../ui/use-keys.js';
import { keyOfThing, StoryList, thingsOf } from './StoryList.js';

const tabs = { open: 'Open', mine: 'Mine', closed: 'Closed', all: 'All' } as const;
type Tab = keyof typeof tabs;

/** What the address leaves out. */
const USUAL = { state: 'open', find: '', lit: '' } as const;

const fits = (one: CaseSummary, tab: Tab, find: string, who: string): boolean =>
  (tab === 'all' ||
    (tab === 'mine'
      ? one.state === 'open' && (one.owner === who || one.watched !== null)
      : one.state === tab)) &&
  `${one.number} ${one.title} ${one.owner}`.toLowerCase().includes(find.toLowerCase());

const caseColumns = (zone: string, search: string): readonly TableColumn<CaseSummary>[] => [
  {
    id: 'title',
    head: 'case',
    names: true,
    value: ({ title }) => title,
    cell: ({ id, number, title, updated, waitingOn, watched }) => (
      <>
        <RowLink to={`/cases/${id}${search}`} title={title}>
          {title}
        </RowLink>
        <span className="queue-subject">
          <span className="mono">{number}</span> · changed {showTime(updated, zone, 'minute')}
          {waitingOn !== '' && ` · waits for ${waitingOn}`}
          {watched !== null && ' · followed'}
          {watched === 'news' && <b>, news since you looked</b>}
        </span>
      </>
    ),
  },
  { id: 'owner', head: 'owner', width: 126, value: ({ owner }) => owner, className: () => 'mono cut' },
  {
    id: 'state',
    head: 'state',
    width: 70,
    value: ({ state }) => state,
    className: ({ state }) => (state === 'closed' ? 'soft' : ''),
  },
  {
    id: 'pins',
    head: 'pins',
    width: 64,
    numeric: true,
    value: ({ pins }) => pins,
    cell: ({ pins }) => count(pins),
  },
  {
    id: 'created',
    head: 'opened',
    width: 124,
    spare: true,
    value: ({ created }) => created,
    cell: ({ created }) => showTime(created, zone, 'minute'),
  },
  {
    id: 'changed',
    head: 'changed',
    width: 124,
    spare: true,
    value: ({ updated }) => updated,
    cell: ({ updated }) => showTime(updated, zone, 'minute'),
  },
  { id: 'verdict', head: 'verdict', width: 84, spare: true, value: ({ verdict }) => verdict ?? '' },
];

/** Cases: what belongs together, who works on it, and what was made of it. */
export function CasesPage(): JSX.Element {
  const [parameters] = useSearchParams();
  const search = beamSearch(parameters);
  const state = useAddressState(USUAL);
  const navigate = useNavigate();
  const { at } = useAsked();
  const { beam } = useBeam(at);
  const person = usePerson();
  const mayChange = person.role !== 'reader';
  const tab = oneOf(Object.keys(tabs) as Tab[], state.values.state) ?? 'open';
  const { find } = state.values;
  const list = usePages(listCases, {});
  const all = useMemo(() => list.pages.flatMap((page) => page.cases), [list.pages]);
  const fitting = useMemo(
    () => all.filter((one) => fits(one, tab, find, person.name)),
    [all, tab, find, person.name],
  );
  const columns = useMemo(() => caseColumns(beam.zone, search), [beam.zone, search]);
  const table = useDataTable('cases', columns, fitting);
  const lit = table.rows.find((one) => String(one.id) === state.values.lit) ?? table.rows[0];
  const [naming, setNaming] = useState(false);
  const light = (one: { readonly id: number }): void => state.put({ lit: String(one.id) });
  const go = (one: { readonly id: number }): void => void navigate(`/cases/${one.id}${search}`);
  useKeys({
    ...rowKeys({
      rows: table.rows,
      at: table.rows.findIndex((one) => one === lit),
      onGo: light,
      onOpen: go,
    }),
    n: () => mayChange && setNaming(true),
  });
  return (
    <main className="bench bench-lists">
      <ListPane
        title="Cases"
        said={list.isSuccess && `${count(all.filter((one) => one.state === 'open').length)} open`}
        actions={
          mayChange && (
            <Button variant="primary" onClick={() => setNaming(true)}>
              New case
            </Button>
          )
        }
        filters={
          all.length > 0 ? (
            <>
              <Tabs
                className="grow"
                label="Cases"
                names={Object.keys(tabs) as Tab[]}
                chosen={tab}
                onChoose={(name) => state.put({ state: name })}
                show={(name) => tabs[name]}
              />
              <FindBox
                label="Find a case"
                hint="Title, owner"
                value={state.values.find}
                onFind={(word) => state.put({ find: word })}
              />
            </>
          ) : undefined
        }
        answer={list}
        reading="Fetching the cases"
        failed="Cases cannot be shown"
        total={all.length}
        none={
          <Empty title="No cases yet">
            Pin an alert with C, or an event, a snapshot or a hunt where you read it:{' '}
            <Link to={`/alerts${search}`}>to the alerts</Link>. Or open an empty one.
          </Empty>
        }
        unfitting={{
          title: 'No case fits',
          onAll: () => state.put({ find: '', state: 'all' }),
        }}
        table={table}
        keyOf={(one) => one.id}
        isLit={(one) => one === lit}
        onOpen={light}
        after={<More onMore={list.more} />}
        foot={
          <>
            <Key keys={['J', 'K']}>next, previous</Key>
            <Key keys={['Enter']}>open</Key>
            {mayChange && <Key keys={['N']}>new</Key>}
            <span className="grow" />
            <span>{beam.zone}</span>
          </>
        }
        address={addressOf(listCases)}
      >
        {naming && <NewCase onMade={(made) => go(made)} onDone={() => setNaming(false)} />}
      </ListPane>
      {lit === undefined ? (
        <NothingOpen
          label="Case"
          title="No case is chosen"
          hint="Choose one, or pin something to a new one."
        />
      ) : (
        <CasePreview key={lit.id} id={lit.id} zone={beam.zone} search={search} />
      )}
    </main>
  );
}

/** The story of a case, to be seen before it is opened. */
function CasePreview({ id, zone, search }: { id: number; zone: string; search: string }): JSX.Element {
  const navigate = useNavigate();
  const found = useQuery(answerTo(readCase, { params: { id } }));
  const address = `/cases/${id}${search}`;
  return (
    <section className="sheet" aria-label="Case">
      {found.isError && <Failed title="The case cannot be shown">{found.error.message}</Failed>}
      {found.data === undefined ? (
        !found.isError && <Reading title="Fetching the case" />
      ) : (
        <>
          <div className="sheet-head pb-1">
            <h2 className="sheet-title grow anywhere">
              <span className="number mono">{found.data.number}</span> {found.data.title}
            </h2>
            <Link className="btn btn-outline-secondary text-nowrap" to={address}>
              Open the case
            </Link>
          </div>
          <p className="inset sm soft pb-2 mb-0 anywhere">
            {found.data.state}, with <span className="mono">{found.data.owner}</span>, since{' '}
            {showTime(found.data.created, zone, 'minute')} {zone}
            {found.data.lede !== '' && `. ${found.data.lede}`}
          </p>
          {thingsOf(found.data, 'story').length === 0 ? (
            <p className="inset sm soft pt-2">
              Nothing is pinned. Pin an alert with C, or an event, a snapshot or a hunt where you read it.
            </p>
          ) : (
            <StoryList
              things={thingsOf(found.data, 'story')}
              zone={zone}
              lit={null}
              onOpen={(thing) => {
                const next = new URLSearchParams(search);
                next.set('at', keyOfThing(thing));
                void navigate(`/cases/${id}?${next.toString()}`);
              }}
            />
          )}
        </>
      )}
    </section>
  );
}

/** Asks for a title; what belongs in the case is pinned later. */
function NewCase({
  onMade,
  onDone,
}: {
  onMade: (made: CaseDetail) => void;
  onDone: () => void;
}): JSX.Element {
  const client = useQueryClient();
  const make = useMutation({
    mutationFn: (title: string) => call(openCase, { body: { title } }),
    onSuccess: async (made) => {
      await client.invalidateQueries({ queryKey: keyOf(listCases) });
      onDone();
      onMade(made);
    },
  });
  return (
    <LineForm
      className="inset work-bar"
      label="New case"
      field="Title of a new case"
      placeholder="What it is about"
      maxLength={300}
      send={
        <>
          Open it<kbd>Enter</kbd>
        </>
      }
      isSending={make.isPending}
      onSend={(title) => make.mutate(title)}
      onCancel={onDone}
      failure={make.error}
      failed="It was not opened"
    />
  );
}
