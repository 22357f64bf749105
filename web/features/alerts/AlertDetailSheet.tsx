import { useQuery } from '@tanstack/react-query';
import type { JSX } from 'react';
import { Button } from 'react-bootstrap';
import { Link } from 'react-router';
import type { ColumnName } from '../../../core/events/columns.js';
import { quoteText, spellName } from '../../../core/wick/spell.js';
import type { AlertChange, AlertDetail } from '../../../core/wire/alerts.js';
import { readAlert } from '../../../core/wire/endpoints/alerts.js';
import type { StoredEventWire } from '../../../core/wire/hunts.js';
import { answerTo } from '../../api/call.js';
import { huntAround } from '../../beam/around.js';
import { CurlLink } from '../../kit/Curl.js';
import { dossierAddress, dossierOf } from '../../results/dossier-address.js';
import { count, counted, showTime } from '../../ui/format.js';
import { Outcome, Severity } from '../../ui/Glyphs.js';
import { Failed, Reading } from '../../ui/State.js';
import { Deliveries, Similar, SmallDossier, Why } from './AlertAside.js';
import { RunsPart } from '../../runbooks/RunsPart.js';
import { ResponsesPart } from './ResponsesPart.js';

interface AlertDetailSheetProps {
  readonly id: number;
  readonly zone: string;
  /** The Beam, for links. */
  readonly search: string;
  readonly mayChange: boolean;
  /** Why the last change was refused. */
  readonly problem: string | null;
  readonly onTake: () => void;
  readonly onSettle: (verdict: NonNullable<AlertChange['verdict']>) => void;
  readonly onPutBack: () => void;
  readonly onHandOver: () => void;
  readonly onNote: () => void;
  readonly onCase: () => void;
}

/** A quarter of an hour on either side of what happened. */
const AROUND_MILLISECONDS = 15 * 60_000;
/** A minute on either side of one event. */
const AROUND_ONE_MILLISECONDS = 60_000;

/** The hunt for everything about the alert's subject around its time, as an address. */
function huntAddress(alert: AlertDetail, search: string): string {
  const conditions = Object.entries(alert.subjectFields).map(
    ([field, value]) => `${spellName(field)} = ${quoteText(value)}`,
  );
  const text = `from all${conditions.length === 0 ? '' : `\nwhere ${conditions.join(' and ')}`}`;
  return huntAround(search, { from: alert.firstEvent, to: alert.lastEvent }, AROUND_MILLISECONDS, text);
}

/** One alert: what it says, the events it rests on, whom it is about, and what has been done. */
export function AlertDetailSheet({
  id,
  zone,
  search,
  mayChange,
  problem,
  onTake,
  onSettle,
  onPutBack,
  onHandOver,
  onNote,
  onCase,
}: AlertDetailSheetProps): JSX.Element {
  const alert = useQuery({ ...answerTo(readAlert, { params: { id } }), placeholderData: (before) => before });
  const { data } = alert;
  if (alert.isError) {
    return (
      <section className="sheet" aria-label="Alert">
        <Failed title="The alert cannot be shown">{alert.error.message}</Failed>
      </section>
    );
  }
  if (data === undefined) {
    return (
      <section className="sheet" aria-label="Alert">
        <Reading title="Fetching the alert" />
      </section>
    );
  }
  const events = data.evidence as StoredEventWire[];
  // Whom it is about, else who did the last of it.
  const newest = events.at(-1);
  // Its own subject where that has a dossier, else the user of its newest event.
  const subject =
    Object.entries(data.subjectFields)
      .map(([field, value]) => dossierOf(field, value))
      .find((one) => one !== null) ??
    (newest === undefined ? null : dossierOf('user', column(newest, 'user', 'target_user')));
  return (
    <section className="sheet" aria-label="Alert">
      <div className="sheet-head pb-1 align-items-center">
        <Severity level={data.level} />
        <h2 className="sheet-title grow">{data.title}</h2>
        {data.rule === null ? (
          <span className="sm soft nowrap">raised by hand</span>
        ) : (
          <Link className="sm nowrap" to={`/rules/${data.rule}${search}`}>
            Open the rule
          </Link>
        )}
      </div>
      <div className="inset">
        <p className="mono sm anywhere">
          {Object.entries(data.subjectFields).map(([field, value]) => (
            <span key={field} className="me-3">
              <span className="soft">{field}</span> {value}
            </span>
          ))}
        </p>
        <p className="sm soft pt-1">
          {counted(
            data.matches,
            data.rule === null ? 'event' : 'match',
            data.rule === null ? 'events' : 'matches',
          )}{' '}
          from {showTime(data.firstEvent, zone, 'log')} to {showTime(data.lastEvent, zone, 'log')} {zone}
        </p>
      </div>
      {mayChange && (
        <div className="inset d-flex flex-wrap gap-2 py-2">
          {data.state === 'unread' && (
            <Button variant="primary" onClick={onTake}>
              Take it<kbd>T</kbd>
            </Button>
          )}
          {data.state !== 'settled' && (
            <>
              <Button variant="outline-secondary" onClick={() => onSettle('real')}>
                Settle as real<kbd>R</kbd>
              </Button>
              <Button variant="outline-secondary" onClick={() => onSettle('harmless')}>
                Settle as harmless<kbd>H</kbd>
              </Button>
              <Button variant="outline-secondary" onClick={() => onSettle('wrong')}>
                Settle as wrong<kbd>W</kbd>
              </Button>
              <button type="button" className="link sm" onClick={() => onSettle('unsure')}>
                Unsure <kbd>S</kbd>
              </button>
            </>
          )}
          {data.rule !== null &&
            data.state === 'settled' &&
            (data.verdict === 'harmless' || data.verdict === 'wrong') && (
              <Link className="btn btn-primary" to={tuningAddress(data.rule, data.subjectFields, search)}>
                Tune this away
              </Link>
            )}
          {data.state !== 'unread' && (
            <Button variant="outline-secondary" onClick={onPutBack}>
              Put back<kbd>U</kbd>
            </Button>
          )}
          <Button variant="outline-secondary" onClick={onCase}>
            Into a case<kbd>C</kbd>
          </Button>
          <button type="button" className="link sm" onClick={onHandOver}>
            Hand over <kbd>O</kbd>
          </button>
          <button type="button" className="link sm" onClick={onNote}>
            Note <kbd>N</kbd>
          </button>
        </div>
      )}
      {problem !== null && <Failed title="That could not be done">{problem}</Failed>}
      <div className="sub-head ruled">
        <h3 className="section-head">Evidence</h3>
        <span className="xs faint grow">
          {data.evidenceTotal > data.evidence.length
            ? `the latest ${count(data.evidence.length)} of ${count(data.evidenceTotal)} events`
            : `${count(data.evidenceTotal)} ${data.evidenceTotal === 1 ? 'event' : 'events'}`}
        </span>
        <Link className="sm" to={huntAddress(data, search)}>
          Follow in a hunt
        </Link>
      </div>
      <div className="scrolls">
        <Evidence events={events} why={data.why} zone={zone} search={search} />
        <Why why={data.why} />
        <ResponsesPart alert={data} mayChange={mayChange} zone={zone} search={search} />
        <RunsPart
          of={{ alert: data.id }}
          on={[{ id: data.id, title: data.title }]}
          zone={zone}
          search={search}
          mayChange={mayChange}
        />
        <Deliveries alert={data} mayChange={mayChange} />
        {subject !== null && <SmallDossier {...subject} until={data.lastEvent} zone={zone} search={search} />}
        <Similar similar={data.similar} search={search} zone={zone} />
        {data.cases.map((one) => (
          <div key={one.id} className="row-line ruled">
            <span className="soft">in the case</span>
            <Link to={`/cases/${one.id}${search}`}>{one.title}</Link>
          </div>
        ))}
      </div>
      {data.changes.length > 0 && (
        <>
          <div className="sub-head ruled">
            <h3 className="section-head">What was done</h3>
          </div>
          <div className="scroll-box">
            {data.changes.map((change) => (
              <div key={change.at} className="row-line">
                <span className="mono">{change.who}</span>
                <span>{change.what}</span>
                <span className="soft">{showTime(change.at, zone, 'minute')}</span>
              </div>
            ))}
          </div>
        </>
      )}
      <div className="sheet-foot">
        <span>
          {data.rule !== null && `Rule version ${data.ruleVersion} · `}
          {data.state === 'settled'
            ? `settled as ${data.verdict}${data.reason === null ? '' : `: ${data.reason}`}`
            : data.state === 'looking'
              ? `with ${data.owner}`
              : 'unread'}
        </span>
        <span className="grow" />
        <CurlLink path={`/alerts/${data.id}`} />
      </div>
    </section>
  );
}

/** The first of some columns that the event has, as text. */
function column(event: StoredEventWire, ...names: readonly ColumnName[]): string {
  for (const name of names) {
    const value = event[name];
    if (typeof value === 'string') return value;
  }
  return '';
}

function Evidence({
  events,
  why,
  zone,
  search,
}: {
  events: readonly StoredEventWire[];
  why: AlertDetail['why'];
  zone: string;
  search: string;
}): JSX.Element {
  const huntOf = ({ id, time }: StoredEventWire): string =>
    `${huntAround(search, { from: time, to: time }, AROUND_ONE_MILLISECONDS, 'from all')}&event=${id}`;
  // What met a condition is marked where it stands.
  const met = new Set(why.map(({ event, field }) => `${event} ${field ?? ''}`));
  const mark = (event: StoredEventWire, ...names: readonly ColumnName[]): string =>
    names.some((name) => met.has(`${event.id} ${name}`) && column(event, name) !== '') ? ' met-value' : '';
  return (
    <div className="scroll-box tall stays">
      <table className="table fixed-columns">
        <thead>
          <tr>
            <th style={{ width: 140 }}>time</th>
            <th>operation</th>
            <th style={{ width: 116 }}>user</th>
            <th style={{ width: 124 }}>from</th>
            <th>place, reason</th>
          </tr>
        </thead>
        <tbody>
          {events.map((event) => (
            <tr key={event.id}>
              <td className="mono">
                <Link to={huntOf(event)} title="Read this event, with all sources a minute around it">
                  {showTime(event.time, zone, 'second')}
                </Link>
              </td>
              <td
                className={`cut${mark(event, 'outcome', 'operation')}`}
                title={column(event, 'operation', 'kind')}
              >
                <Outcome
                  outcome={column(event, 'outcome') || 'unknown'}
                  text={column(event, 'operation', 'kind')}
                />
              </td>
              <td className={`mono cut${mark(event, 'user')}`}>
                <ToDossier event={event} fields={['user']} search={search} />
              </td>
              <td className={`mono cut${mark(event, 'src_ip', 'host')}`}>
                <ToDossier event={event} fields={['src_ip', 'host']} search={search} />
              </td>
              <td className={`cut${mark(event, 'country', 'reason')}`} title={column(event, 'reason')}>
                {[column(event, 'city', 'country'), column(event, 'reason')].filter(Boolean).join(' · ')}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}

/** The first of some fields that has a value, as a way to its dossier. */
function ToDossier({
  event,
  fields,
  search,
}: {
  readonly event: StoredEventWire;
  readonly fields: readonly ColumnName[];
  readonly search: string;
}): JSX.Element {
  const field = fields.find((name) => column(event, name) !== '');
  const subject = field === undefined ? null : dossierOf(field, column(event, field));
  if (subject === null) return <>{column(event, ...fields)}</>;
  return (
    <Link
      to={dossierAddress(subject.kind, subject.name, search)}
      title={`Open the dossier of ${subject.name}`}
    >
      {subject.name}
    </Link>
  );
}

/** The bench of the rule, with the values of the alert chosen. */
function tuningAddress(rule: string, subjectFields: AlertDetail['subjectFields'], search: string): string {
  const within = new URLSearchParams(search);
  for (const [field, value] of Object.entries(subjectFields)) within.append('leave', `${field}:${value}`);
  return `/tuning/${rule}?${within}`;
}
