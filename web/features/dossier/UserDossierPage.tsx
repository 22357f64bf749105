import { useQuery } from '@tanstack/react-query';
import type { JSX } from 'react';
import { Link, useParams, useSearchParams } from 'react-router';
import { quoteText, spellName } from '../../../core/wick/spell.js';
import type { UserDossier } from '../../../core/wire/dossiers.js';
import { readUserDossier } from '../../../core/wire/endpoints/dossiers.js';
import { addressOf, answerTo } from '../../api/call.js';
import { useAsked } from '../../beam/asked.js';
import { type BeamChange, beamSearch, useBeam } from '../../beam/beam.js';
import { OnABoard } from '../../boards/OnABoard.js';
import { CurlLink } from '../../kit/Curl.js';
import { count, showTime } from '../../ui/format.js';
import { Severity } from '../../ui/Glyphs.js';
import { Empty, Failed, Reading } from '../../ui/State.js';
import { HourHeat } from './HourHeat.js';

type Counted = UserDossier['operations'][number];

/** Everything about one user in the Beam's window: when, where from, what, alerts. */
export function UserDossierPage(): JSX.Element {
  const { user = '' } = useParams();
  const { at } = useAsked();
  const { beam, change } = useBeam(at);
  const [parameters] = useSearchParams();
  const search = beamSearch(parameters);
  const { from, to } = beam.window;
  // Whom the page is about is said already: what the Beam carries of users would only empty it.
  const carried = beam.carried.filter((condition) => !/^user\b/.test(condition));
  const asked = { params: { user }, query: { from, to, zone: beam.zone, carried: JSON.stringify(carried) } };
  const dossier = useQuery({
    ...answerTo(readUserDossier, asked),
    placeholderData: (before) => (before?.user === user ? before : undefined),
  });
  /** Every number opens the hunt behind it. */
  const huntFor = (condition: string): string => {
    const query = new URLSearchParams(search);
    query.set('q', `from all\nwhere user = ${quoteText(user)}${condition === '' ? '' : ` and ${condition}`}`);
    return `/hunt?${query}`;
  };
  return (
    <main className="bench">
      <section className="sheet" aria-label="Dossier">
        <div className="sheet-head">
          <h1 className="page-title mono grow cut" title={user}>
            {user}
          </h1>
          <Link to={huntFor('')} className="sm nowrap">
            Hunt everything of this user
          </Link>
        </div>
        {dossier.isPending && <Reading title="Gathering the dossier" />}
        {dossier.isError && <Failed title="The dossier cannot be shown">{dossier.error.message}</Failed>}
        {dossier.data !== undefined && (
          <DossierBody
            dossier={dossier.data}
            zone={beam.zone}
            search={search}
            huntFor={huntFor}
            change={change}
          />
        )}
        <div className="sheet-foot">
          <span>Figures are of the Beam's window, times {beam.zone}. Every figure opens as a hunt.</span>
          <span className="grow" />
          <CurlLink path={addressOf(readUserDossier, asked)} />
        </div>
      </section>
    </main>
  );
}

interface BodyProps {
  readonly dossier: UserDossier;
  readonly zone: string;
  readonly search: string;
  readonly huntFor: (condition: string) => string;
  readonly change: (change: BeamChange) => void;
}

function DossierBody({ dossier, zone, search, huntFor, change }: BodyProps): JSX.Element {
  const { events, firstEver, lastEver } = dossier;
  if (firstEver === null || lastEver === null) {
    return (
      <Empty title="Nobody of this name has been seen">
        No event of any time names this user. Look whether the name is spelled as the sources spell it.
      </Empty>
    );
  }
  return (
    <>
      <div className="figures">
        <Figure value={events.total} name="events" to={huntFor('')} />
        <Figure value={events.success} name="succeeded" to={huntFor("outcome = 'success'")} />
        <Figure value={events.failure} name="failed" to={huntFor("outcome = 'failure'")} />
        <p className="soft">
          first seen ever
          <br />
          <span className="mono">{showTime(firstEver, zone, 'log')}</span>
        </p>
        <p className="soft">
          last seen ever
          <br />
          <span className="mono">{showTime(lastEver, zone, 'log')}</span>
        </p>
      </div>
      {events.total === 0 && (
        <Empty title="Nothing in this window">
          The last event of this user was {showTime(lastEver, zone, 'minute')}.{' '}
          <button type="button" className="link" onClick={() => change({ last: '30d' })}>
            Look at the last 30 days
          </button>
        </Empty>
      )}
      <div className="columns-three ruled">
        <div>
          <div className="sub-head">
            <h2 className="section-head grow">When</h2>
            <span className="xs faint">by weekday and hour, {zone}</span>
            <OnABoard
              hunt={`from all\nwhere user = ${quoteText(dossier.user)}\ntally count() as events, every 1h`}
              title={`When ${dossier.user} works`}
              picture="hours"
            />
          </div>
          <HourHeat hours={dossier.hours} zone={zone} huntFor={huntFor} />
          <div className="sub-head ruled">
            <h2 className="section-head">Alerts</h2>
          </div>
          {dossier.alerts.length === 0 && <p className="inset sm soft pb-2">No alert is about this user.</p>}
          {dossier.alerts.map((alert) => (
            <div key={alert.id} className="row-line">
              <Severity level={alert.level} />
              <Link to={`/alerts/${alert.id}${search}`} className="cut">
                {alert.title}
              </Link>
              <span className="soft nowrap">
                {alert.state}, {showTime(alert.lastEvent, zone, 'minute')}
              </span>
            </div>
          ))}
        </div>
        <div>
          <CountedTable
            user={dossier.user}
            title="Where from"
            field="src_ip"
            rows={dossier.addresses}
            zone={zone}
            huntFor={huntFor}
            place={(row) =>
              [
                (row as UserDossier['addresses'][number]).city,
                (row as UserDossier['addresses'][number]).country,
              ]
                .filter((part) => part !== null)
                .join(', ')
            }
          />
          <CountedTable
            user={dossier.user}
            title="What"
            field="operation"
            rows={dossier.operations}
            zone={zone}
            huntFor={huntFor}
          />
          <CountedTable
            user={dossier.user}
            title="Applications"
            field="application"
            rows={dossier.applications}
            zone={zone}
            huntFor={huntFor}
          />
          <CountedTable
            user={dossier.user}
            title="Hosts"
            field="host"
            rows={dossier.hosts}
            zone={zone}
            huntFor={huntFor}
          />
        </div>
      </div>
    </>
  );
}

function Figure({ value, name, to }: { value: number; name: string; to: string }): JSX.Element {
  return (
    <p>
      <Link to={to} className="big plain-link">
        {count(value)}
      </Link>
      <br />
      <span className="soft">{name}</span>
    </p>
  );
}

interface CountedTableProps {
  readonly user: string;
  readonly title: string;
  readonly field: string;
  readonly rows: readonly Counted[];
  readonly zone: string;
  readonly huntFor: (condition: string) => string;
  readonly place?: (row: Counted) => string;
}

function CountedTable({
  user,
  title,
  field,
  rows,
  zone,
  huntFor,
  place,
}: CountedTableProps): JSX.Element | null {
  if (rows.length === 0) return null;
  return (
    <>
      <div className="sub-head ruled">
        <h2 className="section-head grow">{title}</h2>
        <OnABoard
          hunt={`from all\nwhere user = ${quoteText(user)} and ${spellName(field)} is not null\ntally count() as events per ${spellName(field)}\nsort events desc\nfirst 10`}
          title={`${title} of ${user}`}
          picture="ranked"
        />
      </div>
      <table className="table fixed-columns">
        <thead>
          <tr>
            <th>{field.replaceAll('_', ' ')}</th>
            {place !== undefined && <th>place</th>}
            <th className="num" style={{ width: 86 }}>
              succeeded
            </th>
            <th className="num" style={{ width: 64 }}>
              failed
            </th>
            <th style={{ width: 112 }}>first</th>
            <th style={{ width: 112 }}>last</th>
          </tr>
        </thead>
        <tbody>
          {rows.map((row) => (
            <tr key={row.value}>
              <td className="mono cut">
                <Link to={huntFor(`${spellName(field)} = ${quoteText(row.value)}`)}>{row.value}</Link>
              </td>
              {place !== undefined && <td className="cut">{place(row)}</td>}
              <td className="num">{count(row.success)}</td>
              <td className="num">{count(row.failure)}</td>
              <td>{showTime(row.first, zone, 'minute')}</td>
              <td>{showTime(row.last, zone, 'minute')}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </>
  );
}
