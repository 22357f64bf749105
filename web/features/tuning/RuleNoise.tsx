import type { JSX, ReactNode } from 'react';
import { Link } from 'react-router';
import type { RankedRuleWire, StudyWire } from '../../../core/wire/tuning.js';
import { count, counted, roughly, showTime } from '../../ui/format.js';
import { Severity, TextMark } from '../../ui/Glyphs.js';
import { Empty, Failed } from '../../ui/State.js';
import { MatchDays } from './DayBars.js';
import { RestsOnGraph } from './RestsOnGraph.js';
import { VerdictBar } from './VerdictBar.js';

interface RuleNoiseProps {
  readonly rule: RankedRuleWire | null;
  readonly study: StudyWire | null;
  readonly progress: number | null;
  readonly failure: Error | null;
  readonly onStop: () => void;
  readonly onAgain: () => void;
  readonly window: { readonly from: string; readonly to: string };
  readonly beam: { readonly from: string; readonly to: string };
  readonly zone: string;
  readonly search: string;
  readonly chosenWays: number;
  readonly keptNow: number | null;
}

/** One rule: its days, what it rests on, where its noise comes from, and what was done about it before. */
export function RuleNoise(props: RuleNoiseProps): JSX.Element {
  const { rule, study, progress, failure, search, zone, window } = props;
  if (rule === null)
    return (
      <section className="sheet" aria-label="The chosen rule">
        <Empty title="Choose a rule">On the left, the one that costs most work stands first.</Empty>
      </section>
    );
  const last = study?.kept[0];
  return (
    <section className="sheet" aria-label="The chosen rule">
      <div className="sheet-head pb-0 align-items-center">
        <h2 className="sheet-title grow text-truncate" title={rule.title}>
          {rule.title}
        </h2>
        <Severity level={rule.level} />
      </div>
      <p className="inset xs soft pb-1 mb-0">
        {study === null ? 'Version' : `Version ${study.version}`}
        {last !== undefined && last.version === study?.version
          ? `, kept by ${last.author} on ${showTime(last.at, zone, 'minute')}`
          : ''}
        {' · '}
        <Link to={`/rules/${rule.id}${search}`}>Open the rule</Link>
      </p>
      {progress !== null && (
        <div className="inset" role="status">
          <div className="d-flex sm">
            <span className="grow">Replaying 30 days</span>
            <button type="button" className="link" onClick={props.onStop}>
              Stop
            </button>
          </div>
          <div className="reading-bar">
            <i style={{ width: `${Math.round(progress * 100)}%` }} />
          </div>
        </div>
      )}
      {failure !== null && (
        <Failed title="This rule cannot be studied">
          {failure.message}{' '}
          <button type="button" className="link" onClick={props.onAgain}>
            Try again
          </button>
        </Failed>
      )}
      {study === null ? null : (
        <div className="scrolls">
          <Checks study={study} chosenWays={props.chosenWays} keptNow={props.keptNow} />
          <div className="tuning-part ruled">
            <h3 className="section-head grow mb-0">Matches per day</h3>
            <span className="xs soft">
              own window: 30 days to {showTime(window.to, zone, 'minute')}, days in UTC
            </span>
          </div>
          <div className="inset">
            <MatchDays days={study.days} window={window} beam={props.beam} />
            <p className="verdict-key mb-1" aria-hidden="true">
              <span>
                <svg width="9" height="9">
                  <path className="real-mark" d="M4.5.5l4 4-4 4-4-4z" />
                </svg>
                held a real one
              </span>
              <span>
                <svg width="14" height="11">
                  <rect width="14" height="11" fill="var(--amber-wash)" />
                </svg>
                in the Beam
              </span>
            </p>
          </div>
          <div className="tuning-part ruled">
            <h3 className="section-head mb-0">What it rests on</h3>
          </div>
          <RestsOnGraph graph={study.restsOn} search={search} />
          <Origins study={study} />
          <Before study={study} search={search} zone={zone} />
          <Kept study={study} zone={zone} />
        </div>
      )}
      <div className="sheet-foot">
        {study !== null && (
          <span>
            Counted over {counted(study.matches, 'match', 'matches')} · {roughly(study.milliseconds / 1000)}
          </span>
        )}
        <span className="grow" />
        <Link
          to={`/alerts?${new URLSearchParams([...new URLSearchParams(search), ['rule', rule.id], ['state', 'all']])}`}
        >
          Read its alerts
        </Link>
      </div>
    </section>
  );
}

type Standing = 'ok' | 'note' | 'bad' | 'here' | 'todo';

function Check({
  standing,
  title,
  children,
  tone = '',
}: {
  standing: Standing;
  title: string;
  children: ReactNode;
  tone?: string;
}): JSX.Element {
  return (
    <li className={standing}>
      {standing === 'here' || standing === 'todo' ? (
        <svg width="14" height="14" aria-hidden="true">
          <circle cx="7" cy="7" r={standing === 'here' ? 5.5 : 4.5} className={standing} />
        </svg>
      ) : (
        <TextMark mark={standing === 'ok' ? 'fine' : standing === 'bad' ? 'bad' : 'note'} />
      )}
      <b>{title}</b>
      <span className={tone}>{children}</span>
    </li>
  );
}

/** What to look at, in order; each says what it finds. */
function Checks({
  study,
  chosenWays,
  keptNow,
}: {
  study: StudyWire;
  chosenWays: number;
  keptNow: number | null;
}): JSX.Element {
  const sources = study.restsOn.nodes.filter(({ column }) => column === 'sources');
  const missing = sources.filter(({ state }) => state === 'quiet' || state === 'absent').length;
  const late = sources.filter(({ state }) => state === 'late').length;
  const lists = study.restsOn.nodes.filter(({ id }) => id.startsWith('list '));
  const empty = lists.filter(({ state }) => state !== 'well').length;
  const cut = study.proposals.reduce((all, { removed }) => Math.min(study.matches, all + removed), 0);
  const explained = study.matches === 0 ? 0 : Math.round((cut / study.matches) * 100);
  const understood = study.matches > 0 && explained >= 50;
  const sourcesSay =
    sources.length === 0
      ? 'none gives it'
      : missing > 0
        ? `${missing} of ${sources.length} quiet`
        : late > 0
          ? `${late} of ${sources.length} late`
          : `all ${sources.length} flowing`;
  return (
    <ol className="guided" aria-label="Checks in order">
      <Check
        standing={
          sources.length === 0 || missing === sources.length ? 'bad' : missing + late > 0 ? 'note' : 'ok'
        }
        title="1 sources present"
        tone={missing > 0 || sources.length === 0 ? 'warn' : late > 0 ? 'mid' : ''}
      >
        {sourcesSay}
      </Check>
      <Check standing={empty > 0 ? 'note' : 'ok'} title="2 lists filled" tone={empty > 0 ? 'mid' : ''}>
        {lists.length === 0
          ? 'it asks none'
          : empty > 0
            ? `${empty} of ${lists.length} empty`
            : `all ${lists.length} filled`}
      </Check>
      <Check standing={understood ? 'ok' : study.matches === 0 ? 'todo' : 'note'} title="3 noise understood">
        {study.matches === 0 ? 'nothing matched' : `${explained}% explained`}
      </Check>
      <Check standing={keptNow !== null ? 'ok' : understood ? 'here' : 'todo'} title="4 cut proved">
        {chosenWays === 0 ? 'none chosen' : `${counted(chosenWays, 'way')} chosen`}
      </Check>
      <Check standing={keptNow !== null ? 'ok' : 'todo'} title="5 kept">
        {keptNow === null ? 'not yet' : `version ${keptNow}`}
      </Check>
    </ol>
  );
}

const SHOWN_ORIGINS = 12;

function Origins({ study }: { study: StudyWire }): JSX.Element {
  const most = Math.max(1, ...study.origins.map(({ matches }) => matches));
  const shown = study.origins.slice(0, SHOWN_ORIGINS);
  return (
    <>
      <div className="tuning-part ruled">
        <h3 className="section-head grow mb-0">Where the noise comes from</h3>
        <span className="xs soft">one match may stand in several rows</span>
      </div>
      {shown.length === 0 ? (
        <p className="inset sm soft">
          {study.matches === 0 ? 'It matched nothing in 30 days.' : 'No value stands out among its matches.'}
        </p>
      ) : (
        <table className="table noise-table">
          <thead>
            <tr>
              <th>field</th>
              <th>value</th>
              <th className="num">matches</th>
              <th aria-label="share" />
              <th className="num">subjects</th>
              <th>verdicts</th>
            </tr>
          </thead>
          <tbody>
            {shown.map((one) => (
              <tr key={JSON.stringify(one.values)}>
                <td className="mono">{one.values.map(({ field }) => field).join(' and ')}</td>
                <td className="mono value" title={one.values.map(({ value }) => value).join(' and ')}>
                  {one.values.map(({ value }) => value).join(' and ')}
                </td>
                <td className="num">{count(one.matches)}</td>
                <td>
                  <svg width="38" height="9" aria-hidden="true">
                    <rect className="share" width={Math.max(1, (one.matches / most) * 38)} height="9" />
                  </svg>
                </td>
                <td className="num">{count(one.subjects)}</td>
                <td>
                  <VerdictBar verdicts={one.verdicts} width={50} />
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </>
  );
}

function Before({
  study,
  search,
  zone,
}: {
  study: StudyWire;
  search: string;
  zone: string;
}): JSX.Element | null {
  if (study.before.length === 0) return null;
  return (
    <>
      <div className="tuning-part ruled">
        <h3 className="section-head grow mb-0">Settled before</h3>
        <span className="xs soft">the newest first</span>
      </div>
      <ul className="list-plain inset settled-before">
        {study.before.slice(0, 8).map((one) => (
          <li key={one.alert} className="sm">
            <Link to={`/alerts/${one.alert}${search}`} className="mono">
              {one.subject === '' ? `alert ${one.alert}` : one.subject}
            </Link>{' '}
            <b>{one.verdict}</b>
            <span className="soft">
              {one.reason === null ? '' : `, ${one.reason}`}
              {one.owner === null ? '' : `, ${one.owner}`}, {showTime(one.at, zone, 'minute')}
            </span>
          </li>
        ))}
      </ul>
    </>
  );
}

const aDay = (n: number): string => n.toLocaleString('en-GB', { maximumFractionDigits: 1 });

function Kept({ study, zone }: { study: StudyWire; zone: string }): JSX.Element | null {
  if (study.kept.length === 0) return null;
  return (
    <>
      <div className="tuning-part ruled">
        <h3 className="section-head grow mb-0">Kept with a proof</h3>
        <span className="xs soft">alerts a day</span>
      </div>
      <ul className="list-plain inset settled-before">
        {study.kept.map((one) => (
          <li key={one.version} className="sm">
            <b>Version {one.version}</b>
            <span className="soft">
              , {one.author}, {showTime(one.at, zone, 'minute')}: {one.why}.
            </span>{' '}
            Expected {aDay(one.expected.alertsAfter)} instead of {aDay(one.expected.alertsBefore)}
            {one.actual === null
              ? '; how it does is told after a week.'
              : `; it came to ${aDay(one.actual.alerts)} over ${aDay(one.actual.days)} days.`}
          </li>
        ))}
      </ul>
    </>
  );
}
