import { type JSX, useCallback, useMemo, useState } from 'react';
import { useNavigate, useParams, useSearchParams } from 'react-router';
import { severities } from '../../../core/events/kinds.js';
import { type AlertChange, verdicts } from '../../../core/wire/alerts.js';
import { listAlerts } from '../../../core/wire/endpoints/alerts.js';
import { addressOf } from '../../api/call.js';
import { usePages } from '../../api/pages.js';
import { usePerson } from '../../api/session.js';
import { useAsked } from '../../beam/asked.js';
import { beamSearch, useBeam } from '../../beam/beam.js';
import { PinToCase } from '../../cases/PinToCase.js';
import { oneOf, useAddressState } from '../../kit/address-state.js';
import { useChosenRows } from '../../kit/chosen-rows.js';
import { NothingOpen } from '../../kit/Detail.js';
import { ListPane } from '../../kit/ListPane.js';
import { More } from '../../kit/More.js';
import { rowKeys } from '../../kit/row-keys.js';
import { useDataTable } from '../../ui/data-table.js';
import { Key } from '../../ui/Key.js';
import { useKeys } from '../../ui/use-keys.js';
import { alertColumns } from './alert-columns.js';
import { AlertDetailSheet } from './AlertDetailSheet.js';
import { ManyBar } from './ManyBar.js';
import { AlertFilters, NoAlerts, saidOf, tabNames } from './queue-parts.js';
import { useAlertWork } from './use-alert-work.js';
import { type Asking, WorkBar } from './WorkBar.js';

/** What the address leaves out. */
const USUAL = { state: 'open', level: '', verdict: '', find: '', rule: '' } as const;
const idOf = ({ id }: { readonly id: number }): number => id;

/** Alerts by gravity, worked through by keyboard; the one looked at lies beside them with its evidence. */
export function AlertsPage(): JSX.Element {
  const { id } = useParams();
  const { at } = useAsked();
  const { beam } = useBeam(at);
  const [parameters] = useSearchParams();
  const search = beamSearch(parameters);
  const state = useAddressState(USUAL);
  const { values, within } = state;
  const navigate = useNavigate();
  const person = usePerson();
  const mayChange = person.role !== 'reader';
  const tab = oneOf(tabNames, values.state) ?? 'open';
  const asked = {
    query: {
      state: tab,
      level: oneOf(severities, values.level),
      verdict: oneOf(verdicts, values.verdict),
      find: values.find,
      rule: values.rule === '' ? undefined : values.rule,
    },
  };
  const list = usePages(listAlerts, asked);
  const listed = useMemo(() => list.pages.flatMap((page) => page.alerts), [list.pages]);
  const [first] = list.pages;
  const open = useCallback(
    (alert: { readonly id: number }): void => {
      void navigate(`/alerts/${alert.id}${within}`, { replace: id !== undefined });
    },
    [navigate, within, id],
  );
  const columns = useMemo(
    () => alertColumns(beam.zone, (one) => `/alerts/${one}${within}`, open),
    [beam.zone, within, open],
  );
  const table = useDataTable('alerts', columns, listed);
  const alerts = table.rows;
  const current =
    alerts.find((alert) => String(alert.id) === id) ?? (id === undefined ? alerts[0] : undefined);
  const openId = id === undefined ? current?.id : Number(id);

  const { change, merge, problem } = useAlertWork();
  const chosen = useChosenRows(alerts, idOf, ({ title, subject }) => `${title}, ${subject}`);
  const [asking, setAsking] = useState<Asking | null>(null);
  const [pinning, setPinning] = useState(false);
  const many = chosen.rows.map(idOf);
  const ids = many.length > 0 ? many : openId === undefined ? [] : [openId];

  const place = alerts.findIndex((alert) => alert.id === openId);
  const act = (to: AlertChange): void => {
    if (ids.length === 0 || !mayChange) return;
    setAsking(null);
    change.mutate({ ids, to });
    chosen.none();
    // What is settled leaves the queue; the next one moves up.
    if (to.state === 'settled' && tab !== 'settled')
      [...alerts.slice(place + 1), ...alerts]
        .filter((alert) => !ids.includes(alert.id))
        .slice(0, 1)
        .forEach(open);
  };
  const ask = (next: Asking): void => {
    if (ids.length > 0 && mayChange) setAsking(next);
  };
  const mergeChosen = (): void => {
    const rest = many.filter((one) => one !== openId);
    if (openId === undefined || rest.length === 0 || !mayChange) return;
    merge.mutate({ ids: rest, into: openId });
    chosen.none();
  };
  useKeys({
    ...rowKeys({ rows: alerts, at: place, onGo: open, onChoose: mayChange ? chosen.toggle : undefined }),
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
    Escape: chosen.none,
  });
  const filtered = state.differs('level', 'verdict', 'find', 'rule');

  return (
    <main className="bench bench-alerts">
      <ListPane
        title="Alerts"
        said={first !== undefined && saidOf({ ...first, alerts: listed }, tab, filtered)}
        filters={<AlertFilters tab={tab} state={state} />}
        answer={list}
        reading="Fetching alerts"
        failed="Alerts cannot be shown"
        total={alerts.length}
        none={<NoAlerts tab={tab} filtered={filtered} search={search} onAll={state.clear} />}
        table={table}
        keyOf={(alert) => alert.id}
        isLit={(alert) => alert.id === openId}
        onOpen={open}
        after={<More onMore={list.more} />}
        lead={mayChange ? chosen.lead : undefined}
        foot={
          <>
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
          </>
        }
        address={addressOf(listAlerts, asked)}
      >
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
          <ManyBar
            count={many.length}
            onTake={() => act({ state: 'looking' })}
            onAsk={ask}
            onMerge={openId !== undefined && many.some((one) => one !== openId) ? mergeChosen : null}
            onNone={chosen.none}
          />
        )}
      </ListPane>
      {openId === undefined ? (
        <NothingOpen
          label="Alert"
          title="No alert is open"
          hint={listed.length === 0 ? 'There is none in the queue to choose.' : 'Choose one from the queue.'}
        />
      ) : (
        <AlertDetailSheet
          id={openId}
          zone={beam.zone}
          search={search}
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
          search={search}
          onClose={() => setPinning(false)}
        />
      )}
    </main>
  );
}
