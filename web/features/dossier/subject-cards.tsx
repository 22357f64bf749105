import type { JSX, ReactNode } from 'react';
import { Link } from 'react-router';
import type { Card } from '../../../core/boards/board.js';
import type { Dossier, First } from '../../../core/wire/dossiers.js';
import { dossierAddress } from '../../results/dossier-address.js';
import { count, counted, showTime } from '../../ui/format.js';
import { LEVELS, Severity } from '../../ui/Glyphs.js';
import { NeighbourGraph } from './NeighbourGraph.js';

interface StateProps {
  readonly dossier: Dossier;
  readonly zone: string;
  /** The part of the address that carries the Beam. */
  readonly search: string;
  /** The address of a hunt under the Beam. */
  readonly huntAt: (hunt: string) => string;
}

const isDay = ({ from, to }: Dossier['window']): boolean =>
  Date.parse(to) - Date.parse(from) <= 24 * 3_600_000;

/** Times within a day are told by the clock alone. */
const shortTime =
  (window: Dossier['window'], zone: string) =>
  (time: string): string =>
    isDay(window) ? showTime(time, zone, 'minute').slice(-5) : showTime(time, zone, 'minute');

/** Who else ever did the same, in words; who is alone is what counts. */
function Others({ before, ever }: Pick<First, 'before' | 'ever'>): JSX.Element {
  if (ever === 0) return <b>nobody else</b>;
  return (
    <span className="soft">
      {counted(ever, 'other')}
      {before === 0 && ', later'}
    </span>
  );
}

const MAX_FIRSTS = 24;

function Firsts({ dossier, zone, huntAt }: StateProps): JSX.Element {
  const { firsts, known, window } = dossier;
  if (firsts.length === 0)
    return (
      <p className="sm soft">
        {known === null ? 'Nothing of it was seen.' : 'Nothing that was not seen of it before.'}
      </p>
    );
  const when = shortTime(window, zone);
  const dayLong = isDay(window);
  return (
    <>
      <p className="xs soft mb-1">first time ever, and who else ever did it</p>
      <table className="table flush fixed-columns">
        <colgroup>
          <col style={{ width: 74 }} />
          <col />
          <col style={{ width: dayLong ? 52 : 100 }} />
          <col style={{ width: 98 }} />
        </colgroup>
        <thead className="visually-hidden">
          <tr>
            <th>what</th>
            <th>value</th>
            <th>first</th>
            <th>others</th>
          </tr>
        </thead>
        <tbody>
          {firsts.slice(0, MAX_FIRSTS).map((first) => (
            <tr key={`${first.what} ${first.value}`}>
              <td className="soft">{first.what}</td>
              <td className="mono cut" title={first.value}>
                <Link to={huntAt(first.hunt)}>{first.value}</Link>
              </td>
              <td className="num">{when(first.time)}</td>
              <td>
                <Others {...first} />
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      {firsts.length > MAX_FIRSTS && <p className="xs soft">and {firsts.length - MAX_FIRSTS} more</p>}
    </>
  );
}

const MAX_ALERTS = 6;

function AlertsAndCases({ dossier, zone, search }: StateProps): JSX.Element {
  const { alerts, cases, window } = dossier;
  const inside = alerts.filter(({ lastEvent }) => lastEvent >= window.from && lastEvent < window.to);
  const gravest = (level: Dossier['alerts'][number]['level']): number => LEVELS.indexOf(level);
  const shown = inside.length > 0 ? [...inside].sort((a, b) => gravest(b.level) - gravest(a.level)) : alerts;
  const before = alerts.length - inside.length;
  const when = inside.length > 0 ? shortTime(window, zone) : (time: string) => showTime(time, zone, 'minute');
  if (alerts.length === 0) return <p className="sm soft">No alert is about it.</p>;
  return (
    <>
      <ul className="subject-alerts">
        {shown.slice(0, MAX_ALERTS).map(({ id, level, title, lastEvent }) => (
          <li key={id}>
            <Severity level={level} />
            <Link className="cut" to={`/alerts/${id}${search}`} title={title}>
              {title}
            </Link>
            <span className="xs soft nowrap">{when(lastEvent)}</span>
          </li>
        ))}
      </ul>
      {cases.map(({ id, title, state, owner, pinned }) => (
        <p key={id} className="sm mb-1">
          <Link to={`/cases/${id}${search}`}>
            <span className="mono">{id}</span> {title}
          </Link>
          <span className="xs soft d-block">
            {state}, with <span className="mono">{owner}</span> · {count(pinned)} of its alerts are pinned
          </span>
        </p>
      ))}
      {cases.length === 0 && <p className="xs soft mb-1">In no case.</p>}
      {before > 0 && inside.length > 0 && (
        <p className="xs soft">{counted(before, 'alert')} outside of this Beam</p>
      )}
    </>
  );
}

function Neighbours({ dossier, search }: StateProps): JSX.Element {
  const { neighbours, subject } = dossier;
  if (neighbours.length === 0)
    return <p className="sm soft">Nobody shares anything rare with it in this Beam.</p>;
  return (
    <>
      <NeighbourGraph subject={subject.name} neighbours={neighbours} search={search} />
      <table className="table flush">
        <thead>
          <tr>
            <th>name</th>
            <th>shared</th>
            <th className="num">alerts</th>
          </tr>
        </thead>
        <tbody>
          {neighbours.map(({ kind, name, shared, alerts }) => (
            <tr key={`${kind} ${name}`}>
              <td className="mono cut" title={`${kind} ${name}`}>
                <Link to={dossierAddress(kind, name, search)}>{name}</Link>
              </td>
              <td className="cut" title={shared.join(', ')}>
                {shared[0]}
                {shared.length > 1 && <span className="soft">, +{shared.length - 1}</span>}
              </td>
              <td className="num">{alerts === 0 ? '' : <b>{count(alerts)}</b>}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </>
  );
}

function KnownState({ dossier, zone }: StateProps): JSX.Element {
  if (dossier.state.length === 0) return <p className="sm soft">No change of it was seen in 90 days.</p>;
  return (
    <table className="table flush">
      <thead className="visually-hidden">
        <tr>
          <th>field</th>
          <th>value</th>
          <th>since</th>
        </tr>
      </thead>
      <tbody>
        {dossier.state.map(({ field, value, time }) => (
          <tr key={field}>
            <td className="cut">{field}</td>
            <td className="mono cut" title={value ?? ''}>
              {value ?? <span className="soft">none</span>}
            </td>
            <td className="xs soft nowrap">{showTime(time, zone, 'minute')}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

function Makers({ dossier, zone, search, huntAt }: StateProps): JSX.Element {
  if (dossier.makers.length === 0) return <p className="sm soft">Its making was not seen in 90 days.</p>;
  return (
    <ol className="makers">
      {dossier.makers.map(({ name, by, time, operation, hunt }) => (
        <li key={name} className="sm">
          <span className="mono">{name}</span> by{' '}
          <Link className="mono" to={dossierAddress('user', by, search)}>
            {by}
          </Link>
          <span className="xs soft d-block">
            <Link to={huntAt(hunt)}>{operation}</Link>, {showTime(time, zone, 'minute')}
          </span>
        </li>
      ))}
    </ol>
  );
}

const states: Readonly<Record<string, (props: StateProps) => JSX.Element>> = {
  firsts: Firsts,
  'alerts-about': AlertsAndCases,
  neighbours: Neighbours,
  state: KnownState,
  makers: Makers,
};

/** What a card of a dossier tells that is no hunt; null for a card that is something else. */
export function subjectState(card: Card, props: StateProps): ReactNode {
  const Shown = states[card.shows ?? ''];
  return Shown === undefined ? null : <Shown {...props} />;
}
