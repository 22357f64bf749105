import { useQuery } from '@tanstack/react-query';
import { type JSX, useCallback, useMemo, useState } from 'react';
import { Form } from 'react-bootstrap';
import { Link, useNavigate, useParams, useSearchParams } from 'react-router';
import { severities } from '../../../core/events/kinds.js';
import type { AlertChange, AlertList } from '../../../core/wire/alerts.js';
import { listAlerts } from '../../../core/wire/endpoints/alerts.js';
import { addressOf, answerTo } from '../../api/call.js';
import { usePerson } from '../../api/session.js';
import { useAsked } from '../../beam/asked.js';
import { beamSearch, useBeam } from '../../beam/beam.js';
import { PinToCase } from '../../cases/PinToCase.js';
import { choiceLead } from '../../ui/choice-lead.js';
import { CurlLink } from '../../ui/Curl.js';
import { useDataTable } from '../../ui/data-table.js';
import { DataTable, TableMenu } from '../../ui/DataTable.js';
import { count } from '../../ui/format.js';
import { Key } from '../../ui/Key.js';
import { Empty, Failed, Reading } from '../../ui/State.js';
import { Tabs } from '../../ui/Tabs.js';
import { useKeys } from '../../ui/use-keys.js';
import { alertColumns } from './alert-columns.js';
import { AlertDetailSheet } from './AlertDetailSheet.js';
import { useAlertWork } from './use-alert-work.js';
import { type Asking, WorkBar } from './WorkBar.js';

const tabs = { open: 'Waiting and taken', mine: 'Mine', settled: 'Settled' } as const;
type Tab = keyof typeof tabs;

/** What of the queue stands in the address. */
const FILTERS = ['state', 'level', 'verdict', 'find', 'rule'] as const;
/** One array for all renderings while there are none. */
const NONE: AlertList['alerts'] = [];
const foundOf = ({ alerts, found }: AlertList): string =>
  found > alerts.length ? `the first ${count(alerts.length)} of ${count(found)}` : count(found);
const verdicts = ['real', 'harmless', 'wrong', 'unsure'] as const;

/** A word of an address, where it is one of those that mean something there. */
const oneOf = <T extends string>(words: readonly T[], word: string | null): T | undefined =>
  words.find((one) => one === word);

/** Alerts by gravity, worked through by keyboard; the one looked at lies beside them with its evidence. */
export function AlertsPage(): JSX.Element {
  const { id } = useParams();
  const { at } = useAsked();
  const { beam } = useBeam(at);
  const [parameters, setParameters] = useSearchParams();
  const navigate = useNavigate();
  const person = usePerson();
  const mayChange = person.role !== 'reader';
  const tab = (Object.keys(tabs) as Tab[]).find((name) => name === parameters.get('state')) ?? 'open';
  const asked = {
    query: {
      state: tab,
      level: oneOf(severities, parameters.get('level')),
      verdict: oneOf(verdicts, parameters.get('verdict')),
      find: parameters.get('find') ?? undefined,
      rule: parameters.get('rule') ?? undefined,
    },
  };
  const list = useQuery({
    ...answerTo(listAlerts, asked),
    refetchOnMount: 'always',
    placeholderData: (before) => before,
  });
  const listed = list.data?.alerts ?? NONE;
  const open = useCallback(
    (alert: { readonly id: number } | undefined): void => {
      if (alert !== undefined)
        void navigate(`/alerts/${alert.id}?${parameters}`, { replace: id !== undefined });
    },
    [navigate, parameters, id],
  );
  const columns = useMemo(
    () => alertColumns(beam.zone, (one) => `/alerts/${one}?${parameters}`, open),
    [beam.zone, parameters, open],
  );
  const table = useDataTable('alerts', columns, listed);
  const alerts = table.rows;
  const current =
    alerts.find((alert) => String(alert.id) === id) ?? (id === undefined ? alerts[0] : undefined);
  const openId = id === undefined ? current?.id : Number(id);

  const { change, merge, problem } = useAlertWork();
  const [chosen, setChosen] = useState<ReadonlySet<number>>(new Set());
  const [asking, setAsking] = useState<Asking | null>(null);
  const [pinning, setPinning] = useState(false);
  // What is no longer in the queue is no longer chosen.
  const many = alerts.flatMap((alert) => (chosen.has(alert.id) ? [alert.id] : []));
  const ids = many.length > 0 ? many : openId === undefined ? [] : [openId];

  const place = alerts.findIndex((alert) => alert.id === openId);
  const step = (direction: 1 | -1): void => open(alerts[place + direction]);
  const act = (to: AlertChange): void => {
    if (ids.length === 0 || !mayChange) return;
    setAsking(null);
    change.mutate({ ids, to });
    setChosen(new Set());
    // What is settled leaves the queue; the next one moves up.
    if (to.state === 'settled' && tab !== 'settled')
      open(
        alerts.slice(place + 1).find((alert) => !ids.includes(alert.id)) ??
          alerts.find((alert) => !ids.includes(alert.id)),
      );
  };
  const ask = (next: Asking): void => {
    if (ids.length > 0 && mayChange) setAsking(next);
  };
  const choose = (alert: number): void =>
    setChosen((before) => {
      const next = new Set(before);
      if (!next.delete(alert)) next.add(alert);
      return next;
    });
  const mergeChosen = (): void => {
    const rest = many.filter((one) => one !== openId);
    if (openId === undefined || rest.length === 0 || !mayChange) return;
    merge.mutate({ ids: rest, into: openId });
    setChosen(new Set());
  };
  useKeys({
    j: () => step(1),
    k: () => step(-1),
    x: () => openId !== undefined && mayChange && choose(openId),
    t: () => act({ state: 'looking' }),
    u: () => act({ state: 'unread' }),
    r: () => ask({ what: 'settle', verdict: 'real' }),
    h: () => ask({ what: 'settle', verdict: 'harmless' }),
    w: () => ask({ what: 'settle', verdict: 'wrong' }),
    s: () => ask({ what: 'settle', verdict: 'unsure' }),
    o: () => ask({ what: 'hand over' }),
    n: () => ask({ what: 'note' }),
    m: mergeChosen,
    c: () => mayChange && openId !== undefined && setPinning(true),
    Escape: () => setChosen(new Set()),
  });
  const put = (name: (typeof FILTERS)[number], value: string): void =>
    setParameters(
      (before) => {
        const next = new URLSearchParams(before);
        if (value === '') next.delete(name);
        else next.set(name, value);
        return next;
      },
      { replace: true },
    );
  const filtered = FILTERS.some((name) => name !== 'state' && (parameters.get(name) ?? '') !== '');

  return (
    <main className="bench" style={{ gridTemplateColumns: 'minmax(660px, 46%) minmax(0, 1fr)' }}>
      <section className="sheet" aria-label="Alerts">
        <div className="sheet-head pb-1">
          <h1 className="page-title grow">Alerts</h1>
          <span className="soft sm">
            {list.data !== undefined &&
              (tab === 'settled'
                ? `${foundOf(list.data)} settled`
                : `${foundOf(list.data)} ${tab === 'mine' ? 'with you' : 'open'}${filtered ? '; in all' : ','} ${count(list.data.unread)} unread`)}
          </span>
        </div>
        <div className="inset d-flex gap-3 align-items-center pb-1">
          <Tabs
            className="grow"
            label="Alerts"
            names={Object.keys(tabs) as Tab[]}
            chosen={tab}
            onChoose={(name) => put('state', name)}
            show={(name) => tabs[name]}
          />
          <Form.Control
            size="sm"
            style={{ width: 140 }}
            aria-label="Find an alert"
            placeholder="Title, subject, owner"
            defaultValue={parameters.get('find') ?? ''}
            onChange={(event) => put('find', event.target.value)}
          />
          <Form.Select
            size="sm"
            style={{ width: 124 }}
            aria-label="Severity"
            value={parameters.get('level') ?? ''}
            onChange={(event) => put('level', event.target.value)}
          >
            <option value="">any severity</option>
            {[...severities].reverse().map((level) => (
              <option key={level}>{level}</option>
            ))}
          </Form.Select>
          {tab === 'settled' && (
            <Form.Select
              size="sm"
              style={{ width: 112 }}
              aria-label="Verdict"
              value={parameters.get('verdict') ?? ''}
              onChange={(event) => put('verdict', event.target.value)}
            >
              <option value="">any verdict</option>
              {verdicts.map((verdict) => (
                <option key={verdict}>{verdict}</option>
              ))}
            </Form.Select>
          )}
        </div>
        {asking !== null && (
          <WorkBar
            key={JSON.stringify(asking)}
            asking={asking}
            count={ids.length}
            onDo={act}
            onCancel={() => setAsking(null)}
          />
        )}
        {asking === null && many.length > 0 && (
          <div className="inset work-bar sm">
            <b className="fw-medium grow">{count(many.length)} chosen</b>
            <button type="button" className="link" onClick={() => act({ state: 'looking' })}>
              Take<kbd>T</kbd>
            </button>
            <button
              type="button"
              className="link"
              onClick={() => ask({ what: 'settle', verdict: 'harmless' })}
            >
              Settle as harmless<kbd>H</kbd>
            </button>
            <button type="button" className="link" onClick={() => ask({ what: 'hand over' })}>
              Hand over<kbd>O</kbd>
            </button>
            {openId !== undefined && many.some((one) => one !== openId) && (
              <button type="button" className="link" onClick={mergeChosen}>
                Merge into the open one<kbd>M</kbd>
              </button>
            )}
            <button type="button" className="link" onClick={() => setChosen(new Set())}>
              None
            </button>
          </div>
        )}
        {list.isPending && <Reading title="Fetching alerts" />}
        {list.isError && <Failed title="Alerts cannot be shown">{list.error.message}</Failed>}
        {list.isSuccess && alerts.length === 0 && filtered && (
          <Empty title="No alert fits">
            <button
              type="button"
              className="link"
              onClick={() => setParameters(new URLSearchParams(beamSearch(parameters)))}
            >
              Show all that wait
            </button>
          </Empty>
        )}
        {list.isSuccess && alerts.length === 0 && !filtered && (
          <Empty
            title={
              tab === 'open'
                ? 'Nothing waits'
                : tab === 'mine'
                  ? 'Nothing is with you'
                  : 'Nothing is settled yet'
            }
          >
            {tab === 'open' ? (
              <>
                No rule that is on has matched, or all its alerts are settled.{' '}
                <Link to={`/rules${beamSearch(parameters)}`}>See the rules</Link>
              </>
            ) : tab === 'mine' ? (
              'Take one of those that wait with T.'
            ) : (
              'Alerts come here once someone has said what they turned out to be.'
            )}
          </Empty>
        )}
        {alerts.length > 0 && (
          <div className="scrolls">
            <DataTable
              table={table}
              keyOf={(alert) => alert.id}
              isLit={(alert) => alert.id === openId}
              onOpen={open}
              lead={
                mayChange
                  ? choiceLead({
                      rows: alerts,
                      idOf: ({ id: own }) => own,
                      nameOf: ({ title, subject }) => `${title}, ${subject}`,
                      chosen,
                      onChosen: setChosen,
                    })
                  : undefined
              }
            />
          </div>
        )}
        <div className="sheet-foot">
          <Key keys={['J', 'K']}>next, previous</Key>
          {mayChange && (
            <>
              <Key keys={['X']}>choose</Key>
              <Key keys={['T']}>take</Key>
              <Key keys={['R']}>real</Key>
              <Key keys={['H']}>harmless</Key>
              <Key keys={['?']}>all</Key>
            </>
          )}
          <span className="grow" />
          <TableMenu table={table} />
          <CurlLink path={addressOf(listAlerts, asked)} />
        </div>
      </section>
      {openId === undefined ? (
        <section className="sheet" aria-label="Alert">
          <Empty title="No alert is open">
            {listed.length === 0 ? 'There is none in the queue to choose.' : 'Choose one from the queue.'}
          </Empty>
        </section>
      ) : (
        <AlertDetailSheet
          id={openId}
          zone={beam.zone}
          search={beamSearch(parameters)}
          mayChange={mayChange}
          problem={problem}
          onTake={() => act({ state: 'looking' })}
          onSettle={(verdict) => ask({ what: 'settle', verdict })}
          onPutBack={() => act({ state: 'unread' })}
          onHandOver={() => ask({ what: 'hand over' })}
          onNote={() => ask({ what: 'note' })}
          onCase={() => setPinning(true)}
        />
      )}
      {pinning && current !== undefined && (
        <PinToCase
          pins={alerts
            .filter((alert) => ids.includes(alert.id))
            .map((alert) => ({
              kind: 'alert' as const,
              ref: String(alert.id),
              title: `${alert.title}: ${alert.subject}`.slice(0, 500),
              time: alert.firstEvent,
            }))}
          suggested={`${current.title}: ${current.subject}`.slice(0, 300)}
          search={beamSearch(parameters)}
          onClose={() => setPinning(false)}
        />
      )}
    </main>
  );
}
