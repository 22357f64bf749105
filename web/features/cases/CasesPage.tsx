import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { type FormEvent, type JSX, useMemo, useState } from 'react';
import { Button, Form } from 'react-bootstrap';
import { Link, useNavigate, useParams, useSearchParams } from 'react-router';
import type { CaseDetail, CaseSummary } from '../../../core/wire/cases.js';
import { listCases, openCase } from '../../../core/wire/endpoints/cases.js';
import { answerTo, call, keyOf } from '../../api/call.js';
import { usePerson } from '../../api/session.js';
import { useAsked } from '../../beam/asked.js';
import { beamSearch, useBeam } from '../../beam/beam.js';
import { CurlLink } from '../../ui/Curl.js';
import { type TableColumn, useDataTable } from '../../ui/data-table.js';
import { DataTable, TableMenu } from '../../ui/DataTable.js';
import { count, showTime } from '../../ui/format.js';
import { Key } from '../../ui/Key.js';
import { RowLink } from '../../ui/RowLink.js';
import { Empty, Failed, Reading } from '../../ui/State.js';
import { Tabs } from '../../ui/Tabs.js';
import { useKeys } from '../../ui/use-keys.js';
import { CaseSheet } from './CaseSheet.js';

const tabs = { open: 'Open', mine: 'Mine', closed: 'Closed', all: 'All' } as const;
type Tab = keyof typeof tabs;

/** One array for all renderings while there are none. */
const NONE: readonly CaseSummary[] = [];

const fits = (one: CaseSummary, tab: Tab, find: string, who: string): boolean =>
  (tab === 'all' || (tab === 'mine' ? one.state === 'open' && one.owner === who : one.state === tab)) &&
  `${one.title} ${one.owner}`.toLowerCase().includes(find.toLowerCase());

const caseColumns = (zone: string, search: string): readonly TableColumn<CaseSummary>[] => [
  {
    id: 'title',
    head: 'case',
    names: true,
    value: ({ title }) => title,
    cell: ({ id, title, updated }) => (
      <>
        <RowLink to={`/cases/${id}${search}`} title={title}>
          {title}
        </RowLink>
        <span className="queue-subject">changed {showTime(updated, zone, 'minute')}</span>
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
  { id: 'id', head: 'number', width: 76, spare: true, numeric: true, value: ({ id }) => id },
];

/** Cases: what belongs together, who works on it, and what was made of it. */
export function CasesPage(): JSX.Element {
  const { id } = useParams();
  const [parameters, setParameters] = useSearchParams();
  const navigate = useNavigate();
  const { at } = useAsked();
  const { beam } = useBeam(at);
  const person = usePerson();
  const mayChange = person.role !== 'reader';
  const tab = (Object.keys(tabs) as Tab[]).find((name) => name === parameters.get('state')) ?? 'open';
  const find = parameters.get('find') ?? '';
  const list = useQuery(answerTo(listCases));
  const all = list.data?.cases ?? NONE;
  const fitting = useMemo(
    () => all.filter((one) => fits(one, tab, find, person.name)),
    [all, tab, find, person.name],
  );
  const within = `?${parameters.toString()}`;
  const columns = useMemo(() => caseColumns(beam.zone, within), [beam.zone, within]);
  const table = useDataTable('cases', columns, fitting);
  const open = id === undefined ? table.rows[0]?.id : Number(id);
  const [naming, setNaming] = useState(false);
  const put = (name: 'state' | 'find', value: string): void =>
    setParameters(
      (before) => {
        const next = new URLSearchParams(before);
        if (value === '' || (name === 'state' && value === 'open')) next.delete(name);
        else next.set(name, value);
        return next;
      },
      { replace: true },
    );
  const go = (one: CaseSummary | undefined): void => {
    if (one !== undefined) void navigate(`/cases/${one.id}${within}`, { replace: id !== undefined });
  };
  const place = table.rows.findIndex((one) => one.id === open);
  useKeys({
    j: () => go(table.rows[place + 1]),
    k: () => go(table.rows[place - 1]),
    n: () => mayChange && setNaming(true),
  });
  return (
    <main className="bench" style={{ gridTemplateColumns: '520px minmax(0, 1fr)' }}>
      <section className="sheet" aria-label="Cases">
        <div className="sheet-head pb-1" style={{ alignItems: 'center' }}>
          <h1 className="page-title grow">Cases</h1>
          <span className="sm soft">
            {list.data !== undefined && `${count(all.filter(({ state }) => state === 'open').length)} open`}
          </span>
          {mayChange && (
            <Button variant="primary" onClick={() => setNaming(true)}>
              New case
            </Button>
          )}
        </div>
        {all.length > 0 && (
          <div className="inset d-flex gap-3 align-items-center pb-1">
            <Tabs
              className="grow"
              label="Cases"
              names={Object.keys(tabs) as Tab[]}
              chosen={tab}
              onChoose={(name) => put('state', name)}
              show={(name) => tabs[name]}
            />
            <Form.Control
              size="sm"
              style={{ width: 160 }}
              aria-label="Find a case"
              placeholder="Title, owner"
              value={find}
              onChange={(event) => put('find', event.target.value)}
            />
          </div>
        )}
        {naming && <NewCase onMade={(made) => go(made)} onDone={() => setNaming(false)} />}
        {list.isPending && <Reading title="Fetching the cases" />}
        {list.isError && <Failed title="Cases cannot be shown">{list.error.message}</Failed>}
        {list.isSuccess && all.length === 0 && (
          <Empty title="No cases yet">
            Pin an alert with C, or an event, a snapshot or a hunt where you read it:{' '}
            <Link to={`/alerts${beamSearch(parameters)}`}>to the alerts</Link>. Or open an empty one.
          </Empty>
        )}
        {all.length > 0 && fitting.length === 0 && (
          <Empty title="No case fits">
            There are {count(all.length)}.{' '}
            <button
              type="button"
              className="link"
              onClick={() => {
                setParameters(
                  (before) => {
                    const next = new URLSearchParams(before);
                    next.delete('find');
                    next.set('state', 'all');
                    return next;
                  },
                  { replace: true },
                );
              }}
            >
              Show them all
            </button>
          </Empty>
        )}
        <div className="scrolls">
          {fitting.length > 0 && (
            <DataTable table={table} keyOf={(one) => one.id} isLit={(one) => one.id === open} onOpen={go} />
          )}
        </div>
        <div className="sheet-foot">
          <Key keys={['J', 'K']}>next, previous</Key>
          {mayChange && <Key keys={['N']}>new</Key>}
          <span className="grow" />
          <span>{beam.zone}</span>
          <TableMenu table={table} />
          <CurlLink path="/cases" />
        </div>
      </section>
      {open === undefined ? (
        <section className="sheet" aria-label="Case">
          <Empty title="No case is open">Choose one, or pin something to a new one.</Empty>
        </section>
      ) : (
        <CaseSheet
          key={open}
          id={open}
          zone={beam.zone}
          mayChange={mayChange}
          search={beamSearch(parameters)}
        />
      )}
    </main>
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
  const [title, setTitle] = useState('');
  const make = useMutation({
    mutationFn: () => call(openCase, { body: { title: title.trim() } }),
    onSuccess: async (made) => {
      await client.invalidateQueries({ queryKey: keyOf(listCases) });
      onDone();
      onMade(made);
    },
  });
  return (
    <>
      <Form
        className="inset work-bar"
        aria-label="New case"
        onSubmit={(event: FormEvent) => {
          event.preventDefault();
          if (title.trim() !== '') make.mutate();
        }}
        onKeyDown={(event) => {
          if (event.key !== 'Escape') return;
          event.stopPropagation();
          onDone();
        }}
      >
        <Form.Control
          size="sm"
          autoFocus
          aria-label="Title of a new case"
          placeholder="What it is about"
          value={title}
          maxLength={300}
          onChange={(event) => setTitle(event.target.value)}
        />
        <Button type="submit" size="sm" variant="primary" className="nowrap" disabled={make.isPending}>
          Open it<kbd>Enter</kbd>
        </Button>
        <button type="button" className="link sm" onClick={onDone}>
          Cancel
        </button>
      </Form>
      {make.isError && <Failed title="It was not opened">{make.error.message}</Failed>}
    </>
  );
}
