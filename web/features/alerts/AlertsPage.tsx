import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useEffect, useRef, useState, type JSX } from 'react';
import { useNavigate, useParams, useSearchParams } from 'react-router';
import type { Alert, AlertChange, AlertList } from '../../../core/wire/alerts.js';
import { askJson } from '../../api/client.js';
import { keys } from '../../api/keys.js';
import { usePerson } from '../../api/session.js';
import { useAsked } from '../../beam/asked.js';
import { beamSearch, useBeam } from '../../beam/beam.js';
import { CurlLink } from '../../ui/Curl.js';
import { ago, count, showTime } from '../../ui/format.js';
import { Severity } from '../../ui/Glyphs.js';
import { Key } from '../../ui/Key.js';
import { Empty, Failed, Reading } from '../../ui/State.js';
import { useKeys } from '../../ui/use-keys.js';
import { AlertDetailSheet } from './AlertDetailSheet.js';

type Shown = 'open' | 'settled';

/** Alerts by gravity; the one looked at lies beside them with its evidence. */
export function AlertsPage(): JSX.Element {
  const { id } = useParams();
  const { at } = useAsked();
  const { beam } = useBeam(at);
  const [parameters, setParameters] = useSearchParams();
  const navigate = useNavigate();
  const person = usePerson();
  const client = useQueryClient();
  const shown: Shown = parameters.get('state') === 'settled' ? 'settled' : 'open';
  const list = useQuery({
    queryKey: keys.alertList(shown),
    queryFn: () => askJson<AlertList>(`/alerts?state=${shown}`),
    refetchOnMount: 'always',
  });
  const alerts = list.data?.alerts ?? [];
  const current =
    alerts.find((alert) => String(alert.id) === id) ?? (id === undefined ? alerts[0] : undefined);
  const openId = id === undefined ? current?.id : Number(id);
  const mayChange = person.role !== 'reader';

  const change = useMutation({
    mutationFn: ({ alert, to }: { alert: number; to: AlertChange }) =>
      askJson<Alert>(`/alerts/${alert}`, { method: 'PATCH', body: to }),
    onSettled: () => client.invalidateQueries({ queryKey: keys.alerts }),
  });
  const open = (alert: Alert | undefined): void => {
    if (alert !== undefined)
      void navigate(`/alerts/${alert.id}?${parameters}`, { replace: id !== undefined });
  };
  const step = (direction: 1 | -1): void =>
    open(alerts[alerts.findIndex((alert) => alert.id === openId) + direction]);
  const settle = (verdict: NonNullable<AlertChange['verdict']>): void => {
    if (openId !== undefined && mayChange)
      change.mutate({ alert: openId, to: { state: 'settled', verdict } });
  };
  const move = (state: 'looking' | 'unread'): void => {
    if (openId !== undefined && mayChange) change.mutate({ alert: openId, to: { state } });
  };
  useKeys({
    j: () => step(1),
    k: () => step(-1),
    t: () => move('looking'),
    u: () => move('unread'),
    r: () => settle('real'),
    h: () => settle('harmless'),
    w: () => settle('wrong'),
  });

  return (
    <main className="bench" style={{ gridTemplateColumns: '646px minmax(0, 1fr)' }}>
      <section className="sheet" aria-label="Alerts">
        <div className="sheet-head pb-1">
          <h1 className="page-title grow">Alerts</h1>
          <span className="soft sm">
            {list.data !== undefined &&
              (shown === 'open'
                ? `${count(alerts.length)} open, ${count(list.data.unread)} unread`
                : `${count(alerts.length)} settled`)}
          </span>
        </div>
        <div className="inset tabs pb-1" role="tablist">
          {(['open', 'settled'] as const).map((name) => (
            <button
              key={name}
              type="button"
              role="tab"
              aria-selected={shown === name}
              onClick={() =>
                setParameters((before) => {
                  const next = new URLSearchParams(before);
                  next.set('state', name);
                  return next;
                })
              }
            >
              {name === 'open' ? 'Waiting and taken' : 'Settled'}
            </button>
          ))}
        </div>
        {list.isPending && <Reading title="Fetching alerts" />}
        {list.isError && <Failed title="Alerts cannot be shown">{list.error.message}</Failed>}
        {list.isSuccess && alerts.length === 0 && (
          <Empty title={shown === 'open' ? 'Nothing waits' : 'Nothing is settled yet'}>
            {shown === 'open'
              ? 'No rule that is on has matched, or all its alerts are settled.'
              : 'Alerts come here once someone has said what they turned out to be.'}
          </Empty>
        )}
        {alerts.length > 0 && <Queue alerts={alerts} openId={openId} zone={beam.zone} onOpen={open} />}
        <div className="sheet-foot">
          <Key keys={['J', 'K']}>next, previous</Key>
          {mayChange && (
            <>
              <Key keys={['T']}>take it</Key>
              <Key keys={['R']}>real</Key>
              <Key keys={['H']}>harmless</Key>
              <Key keys={['U']}>put back</Key>
            </>
          )}
          <span className="grow" />
          <CurlLink path={`/alerts?state=${shown}`} />
        </div>
      </section>
      {openId === undefined ? (
        <section className="sheet" aria-label="Alert">
          <Empty title="No alert is open">Choose one from the queue.</Empty>
        </section>
      ) : (
        <AlertDetailSheet
          id={openId}
          zone={beam.zone}
          search={beamSearch(parameters)}
          mayChange={mayChange}
          problem={change.error?.message ?? null}
          onTake={() => move('looking')}
          onSettle={settle}
          onPutBack={() => move('unread')}
        />
      )}
    </main>
  );
}

function Queue({
  alerts,
  openId,
  zone,
  onOpen,
}: {
  alerts: readonly Alert[];
  openId: number | undefined;
  zone: string;
  onOpen: (alert: Alert) => void;
}): JSX.Element {
  const lit = useRef<HTMLTableRowElement>(null);
  const [now, setNow] = useState(() => Date.now());
  useEffect(() => {
    const clock = setInterval(() => setNow(Date.now()), 30_000);
    return () => clearInterval(clock);
  }, []);
  useEffect(() => {
    // Newer browsers give a promise here, which an effect must not return.
    lit.current?.scrollIntoView({ block: 'nearest' });
  }, [openId]);
  return (
    <div className="scrolls">
      <table className="table queue" style={{ tableLayout: 'fixed' }}>
        <thead>
          <tr>
            <th style={{ width: 124 }}>severity</th>
            <th>rule and subject</th>
            <th className="num" style={{ width: 68 }}>
              matches
            </th>
            <th style={{ width: 98 }}>last seen</th>
            <th style={{ width: 92 }}>state</th>
          </tr>
        </thead>
        <tbody>
          {alerts.map((alert) => (
            <tr
              key={alert.id}
              ref={alert.id === openId ? lit : null}
              data-opens
              className={alert.id === openId ? 'lit' : ''}
              onClick={() => onOpen(alert)}
            >
              <td>
                <Severity level={alert.level} />
              </td>
              <td>
                <a
                  className="queue-title"
                  href={`/alerts/${alert.id}`}
                  aria-current={alert.id === openId ? 'true' : undefined}
                  onClick={(event) => {
                    event.preventDefault();
                    onOpen(alert);
                  }}
                  style={{ color: 'inherit', textDecoration: 'none' }}
                >
                  {alert.title}
                </a>
                <span className="queue-subject mono" title={alert.subject}>
                  {alert.subject}
                </span>
              </td>
              <td className="num">{count(alert.matches)}</td>
              <td title={`${showTime(alert.lastEvent, zone, 'log')} ${zone}`}>
                {showTime(alert.lastEvent, zone, 'minute')}
              </td>
              <td className="cut">
                {alert.state === 'settled'
                  ? alert.verdict
                  : alert.state === 'looking'
                    ? `with ${alert.owner ?? 'someone'}`
                    : `waits ${ago(alert.created, now)}`}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}
