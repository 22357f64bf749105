import { DateTime } from 'luxon';
import type { JSX } from 'react';
import { Button, Form } from 'react-bootstrap';
import { Link } from 'react-router';
import { Bar, BarChart, CartesianGrid, ResponsiveContainer, Tooltip, XAxis, YAxis } from 'recharts';
import type { ReplayPicture } from '../../../core/wire/replays.js';
import type { RuleCheck, RuleWire } from '../../../core/wire/rules.js';
import { CurlLink } from '../../kit/Curl.js';
import { count, counted, roughly, showTime } from '../../ui/format.js';
import { Empty, Failed } from '../../ui/State.js';
import { eventAddress } from './event-address.js';
import type { ReplayState } from './use-replay.js';

/** Spans that a rule is replayed over, days. */
const SPANS = [1, 7, 30, 90] as const;

interface ReplaySheetProps {
  readonly replay: ReplayState;
  readonly text: string;
  readonly rule: RuleWire | null;
  readonly check: RuleCheck | null;
  readonly right: boolean;
  readonly mayChange: boolean;
  readonly days: number;
  readonly search: string;
  readonly onDays: (days: number) => void;
  readonly onReplay: () => void;
  readonly onStop: () => void;
  readonly onPutOn: () => void;
  readonly puttingOn: boolean;
}

/** What a rule would have said: by day, about whom, and the newest of it; and the way to switch it on. */
export function ReplaySheet(props: ReplaySheetProps): JSX.Element {
  const { replay, text, check, right, days, search } = props;
  const { status, picture, problem } = replay;
  const stale = status !== 'none' && replay.text !== text;
  return (
    <section className="sheet" aria-label="Replay">
      <div className="sheet-head pb-1 align-items-center">
        <h2 className="sheet-title grow">Replay</h2>
        <Form.Select
          className="short-field"
          size="sm"
          aria-label="How far back"
          value={days}
          onChange={(event) => props.onDays(Number(event.target.value))}
        >
          {SPANS.map((span) => (
            <option key={span} value={span}>
              {span === 1 ? 'the last day' : `the last ${span} days`}
            </option>
          ))}
        </Form.Select>
      </div>
      <p className="inset xs soft pb-1">
        {replay.window === null
          ? 'Stored events, shown to the rule as if they came in now. Its own window, not the Beam’s; days in UTC.'
          : `${showTime(replay.window.from, 'UTC', 'minute')} to ${showTime(replay.window.to, 'UTC', 'minute')} UTC, not the Beam’s window${picture === null ? '' : ` · ${roughly(picture.milliseconds / 1000)}`}`}
      </p>
      {status === 'running' && (
        <div className="inset" role="status">
          <div className="d-flex sm">
            <span className="grow">
              Replaying, until{' '}
              {picture === null ? 'now nothing read' : showTime(picture.until, 'UTC', 'minute')}
            </span>
            <button type="button" className="link" onClick={props.onStop}>
              Stop
            </button>
          </div>
          <div className="reading-bar">
            <i
              style={{
                width: `${Math.round((picture?.complete === true ? 0 : (picture?.done ?? 0)) * 100)}%`,
              }}
            />
          </div>
        </div>
      )}
      {stale && status !== 'running' && (
        <p className="stale">
          The text has changed since this replay.{' '}
          <button type="button" className="link" disabled={!right} onClick={props.onReplay}>
            Replay again
          </button>
        </p>
      )}
      {status === 'stopped' && <p className="stale">Stopped: the counts are of what was read until then.</p>}
      {problem !== null && <Failed title={problem.title}>{problem.detail}</Failed>}
      {picture === null ? (
        status !== 'running' &&
        problem === null && <NotYet check={check} right={right} onReplay={props.onReplay} />
      ) : (
        <Picture
          picture={picture}
          from={replay.window?.from ?? ''}
          to={replay.window?.to ?? ''}
          search={search}
        />
      )}
      <PutOn {...props} />
      <div className="sheet-foot">
        <span>Each figure comes from running the rule, never from a guess.</span>
        <span className="grow" />
        {replay.window !== null && <CurlLink path="/rules/replay" body={{ text, window: replay.window }} />}
      </div>
    </section>
  );
}

function NotYet({
  check,
  right,
  onReplay,
}: {
  check: RuleCheck | null;
  right: boolean;
  onReplay: () => void;
}): JSX.Element {
  const before = check?.replayed ?? null;
  return (
    <Empty
      title={
        before === null
          ? 'This text was never replayed'
          : `Replayed ${showTime(before.at, 'UTC', 'minute')} UTC by ${before.who}`
      }
    >
      {before === null
        ? 'A rule goes on only after somebody saw what it would have said. '
        : `${counted(before.matches, 'match', 'matches')}, ${counted(before.alerts, 'alert')} from ${showTime(before.since, 'UTC', 'minute')} to ${showTime(before.until, 'UTC', 'minute')}. `}
      <button type="button" className="link" disabled={!right} onClick={onReplay}>
        {before === null ? 'Replay it' : 'Replay it again'}
      </button>
    </Empty>
  );
}

function Picture({
  picture,
  from,
  to,
  search,
}: {
  picture: ReplayPicture;
  from: string;
  to: string;
  search: string;
}): JSX.Element {
  const { matches, alerts, subjects, days, examples } = picture;
  return (
    <>
      <div className="replay-figures ruled">
        <div>
          <b className="big">{count(matches)}</b>
          <span>{matches === 1 ? 'match' : 'matches'}</span>
        </div>
        <div>
          <b className="big">{count(alerts)}</b>
          <span title="each settled by the end of its quiet, or within a day">
            {alerts === 1 ? 'alert' : 'alerts'}
          </span>
        </div>
        <div>
          <b className="big">{subjects.length >= 30 ? '30 and more' : count(subjects.length)}</b>
          <span>{subjects.length === 1 ? 'subject' : 'subjects'}</span>
        </div>
      </div>
      <div className="scrolls">
        {matches === 0 ? (
          <Empty title="It would have said nothing">
            Nothing in this time meets it. Look at its tests, or replay a longer time.
          </Empty>
        ) : (
          <>
            <Days days={days} from={from} to={to} />
            <div className="sub-head ruled">
              <h3 className="section-head grow">Who sets it off most</h3>
              <span className="xs faint">matches → alerts</span>
            </div>
            {subjects.slice(0, 12).map(({ subject, ...counts }) => (
              <div key={subject} className="row-line">
                <span className="mono cut fill" title={subject}>
                  {subject === '' ? 'no one in particular' : subject}
                </span>
                <span className="root-bar" aria-hidden="true">
                  <i style={{ width: `${Math.sqrt(counts.matches / (subjects[0]?.matches ?? 1)) * 100}%` }} />
                </span>
                <span className="num" style={{ width: 92 }}>
                  {count(counts.matches)} → {count(counts.alerts)}
                </span>
              </div>
            ))}
            <p className="inset xs faint">Bar length is the square root of the count.</p>
            <div className="sub-head ruled">
              <h3 className="section-head">The newest matches</h3>
            </div>
            {examples.map(({ time, subject, events, of }) => {
              const last = events.at(-1);
              return (
                <div key={`${time} ${subject} ${last?.id ?? ''}`} className="row-line">
                  <span className="mono nowrap">{showTime(time, 'UTC', 'second')}</span>
                  <span className="mono cut fill" title={subject}>
                    {subject}
                  </span>
                  {last !== undefined && (
                    <Link className="nowrap" to={eventAddress(last, search)}>
                      {of === 1 ? 'its event' : `${count(of)} events`}
                    </Link>
                  )}
                </div>
              );
            })}
          </>
        )}
      </div>
    </>
  );
}

/** Matches and alerts, a pair of bars a day. */
function Days({ days, from, to }: { days: ReplayPicture['days']; from: string; to: string }): JSX.Element {
  const counts = new Map(days.map((day) => [day.day.slice(0, 10), day]));
  const all: { day: string; matches: number; alerts: number }[] = [];
  const end = DateTime.fromISO(to, { zone: 'UTC' });
  for (
    let day = DateTime.fromISO(from, { zone: 'UTC' }).startOf('day');
    day < end;
    day = day.plus({ days: 1 })
  ) {
    const { matches = 0, alerts = 0 } = counts.get(day.toISODate() ?? '') ?? {};
    all.push({ day: day.toFormat('d LLL'), matches, alerts });
  }
  return (
    <div className="inset ruled pt-2 stays">
      <div
        role="img"
        aria-label={`Matches by day, at most ${count(Math.max(0, ...all.map(({ matches }) => matches)))}`}
      >
        <ResponsiveContainer width="100%" height={150}>
          <BarChart
            data={all}
            margin={{ top: 6, right: 14, bottom: 0, left: 0 }}
            barGap={0}
            barCategoryGap="18%"
          >
            <CartesianGrid vertical={false} stroke="var(--paper-edge)" />
            <XAxis
              dataKey="day"
              tickLine={false}
              stroke="var(--paper-rule)"
              tick={{ fontSize: 12, fill: 'var(--ink-soft)' }}
              interval="preserveStartEnd"
              minTickGap={30}
            />
            <YAxis
              width={44}
              axisLine={false}
              tickLine={false}
              allowDecimals={false}
              tick={{ fontSize: 12, fill: 'var(--ink-soft)' }}
              tickFormatter={count}
            />
            <Tooltip
              cursor={{ fill: 'var(--amber-wash)', opacity: 0.5 }}
              contentStyle={{
                background: 'var(--paper-lit)',
                border: '1px solid var(--paper-ctl)',
                borderRadius: 3,
                fontSize: 13,
              }}
              formatter={(value) => count(Number(value))}
            />
            <Bar
              dataKey="matches"
              name="matches"
              fill="#a3b8c2"
              stroke="var(--ink-faint)"
              strokeWidth={0.6}
              isAnimationActive={false}
            />
            <Bar dataKey="alerts" name="alerts" fill="#23477a" isAnimationActive={false} />
          </BarChart>
        </ResponsiveContainer>
      </div>
      <div className="legend">
        <span>
          <i className="swatch" style={{ background: '#a3b8c2', outline: '0.6px solid var(--ink-faint)' }} />{' '}
          matches
        </span>
        <span>
          <i className="swatch" style={{ background: '#23477a' }} /> alerts
        </span>
      </div>
    </div>
  );
}

/** The way to switch a version on, once it was seen what it would say. */
function PutOn({
  rule,
  text,
  check,
  right,
  mayChange,
  onPutOn,
  puttingOn,
  replay,
}: ReplaySheetProps): JSX.Element | null {
  if (!mayChange) return null;
  const changed = rule === null || text !== rule.text;
  const running = rule?.state === 'on' && rule.liveVersion === rule.version && !changed;
  if (running) return null;
  const failing = check?.tests.some(({ passed }) => !passed) === true;
  const seen = (replay.status === 'complete' && replay.text === text) || (check?.replayed ?? null) !== null;
  const version = rule === null ? 1 : rule.version + (changed ? 1 : 0);
  return (
    <div className="inset d-flex gap-2 py-2 ruled align-items-center">
      <Button
        variant="outline-secondary"
        disabled={!right || !seen || failing || puttingOn}
        onClick={onPutOn}
      >
        {changed ? `Keep as version ${version} and switch on` : `Switch version ${version} on`}
      </Button>
      <span className="xs soft">
        {failing ? 'A test fails.' : seen ? 'From the next record on.' : 'After its replay.'}
      </span>
    </div>
  );
}
