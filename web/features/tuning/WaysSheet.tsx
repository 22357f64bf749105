import { type JSX, useRef } from 'react';
import { Button } from 'react-bootstrap';
import { Link } from 'react-router';
import { studyNoise } from '../../../core/wire/endpoints/tuning.js';
import type { CutWire, ProposalWire, RuleChangeWire, StudyWire } from '../../../core/wire/tuning.js';
import type { ProofWire } from '../../../core/wire/tuning-proof.js';
import { addressOf } from '../../api/call.js';
import { huntAround } from '../../beam/around.js';
import { CurlLink } from '../../kit/Curl.js';
import { count, counted, showTime } from '../../ui/format.js';
import { TextMark } from '../../ui/Glyphs.js';
import { Key } from '../../ui/Key.js';
import { Empty, Failed } from '../../ui/State.js';
import { RealDays, SmallDays } from './DayBars.js';

/** A way to cut, proposed or brought along. */
export interface Way extends CutWire {
  readonly key: string;
  readonly words: string;
  /** Null for one that was not searched but brought along: its proof tells. */
  readonly proposal: ProposalWire | null;
}

export const keyOfCut = ({ all }: CutWire): string => JSON.stringify(all);

const OPS = {
  equals: '',
  startswith: 'begins with ',
  endswith: 'ends with ',
  within: 'in ',
  missing: '',
} as const;

/** A cut as people say it, with its values in the letters of values. */
function Words({ all }: CutWire): JSX.Element {
  return (
    <>
      leave out{' '}
      {all.map(({ field, op, value }, i) => (
        <span key={field}>
          {i > 0 && ' with '}
          {field} {op === 'missing' ? 'missing' : OPS[op]}
          {op !== 'missing' && <span className="mono anywhere">{value}</span>}
        </span>
      ))}
    </>
  );
}

interface WaysSheetProps {
  readonly rule: string | null;
  readonly study: StudyWire | null;
  readonly ways: readonly Way[];
  readonly ticked: ReadonlySet<string>;
  readonly onTick: (key: string) => void;
  readonly proof: ProofWire | null;
  readonly proving: number | null;
  readonly failure: Error | null;
  readonly onStop: () => void;
  readonly onKeep: () => void;
  readonly keeping: boolean;
  readonly keepFailure: Error | null;
  readonly onUndo: (() => void) | null;
  readonly kept: number | null;
  readonly mayChange: boolean;
  /** @param begin a change to begin with */
  readonly onWriteOwn: (begin: RuleChangeWire | null) => void;
  readonly list: {
    readonly name: string;
    readonly on: boolean;
    readonly onChange: (on: boolean) => void;
  } | null;
  readonly window: { readonly from: string; readonly to: string };
  readonly zone: string;
  readonly search: string;
}

/** Ways to cut a rule's noise, each with what it removes and loses; those that are ticked are replayed together. */
export function WaysSheet(props: WaysSheetProps): JSX.Element {
  const { study, ways, ticked, onTick, proof, proving, failure, window, zone } = props;
  const list = useRef<HTMLDivElement>(null);
  const days = Math.round((Date.parse(window.to) - Date.parse(window.from)) / 86_400_000);
  return (
    <section className="sheet" aria-label="Ways to cut it">
      <div className="sheet-head pb-2">
        <h2 className="sheet-title grow">Ways to cut it</h2>
        {props.rule !== null && (
          <button type="button" className="link sm" onClick={() => props.onWriteOwn(null)}>
            Write one of your own
          </button>
        )}
      </div>
      <div className="way top" aria-hidden="true">
        <span />
        <span>way</span>
        <span className="num">matches</span>
        <span className="num">alerts</span>
        <span className="num">real lost</span>
      </div>
      <div className="scrolls" ref={list}>
        {props.rule !== null && study === null && (
          <p className="inset sm soft py-2 mb-0">Ways are looked for while it replays.</p>
        )}
        {study !== null && study.note !== null && <p className="inset sm soft py-2 mb-0">{study.note}</p>}
        {study !== null && ways.length === 0 && study.tunable && (
          <Empty title={study.matches === 0 ? 'There is nothing to cut' : 'No way is worth proposing'}>
            {study.matches === 0
              ? 'It matched nothing in 30 days.'
              : 'No value explains enough of it without losing a real one. Write one of your own, and see what it would do.'}
          </Empty>
        )}
        {ways.map((way) => (
          <WayRow
            key={way.key}
            way={way}
            matches={study?.matches ?? 0}
            days={days}
            on={ticked.has(way.key)}
            onTick={() => onTick(way.key)}
          />
        ))}
        {study !== null && study.changes.length > 0 && (
          <section aria-label="Change the rule itself">
            <h3 className="section-head inset pt-2 mb-0">Or change the rule itself</h3>
            {study.changes.map((change) => (
              <ChangeRow key={change.kind} change={change} onTry={() => props.onWriteOwn(change)} />
            ))}
          </section>
        )}
      </div>
      <div className="proof">
        {failure !== null && <Failed title="It cannot be proved">{failure.message}</Failed>}
        {proving !== null && (
          <div className="inset py-2" role="status">
            <div className="d-flex sm">
              <span className="grow">
                Replaying with {ticked.size === 1 ? 'the one' : `the ${count(ticked.size)}`} ticked
              </span>
              <button type="button" className="link" onClick={props.onStop}>
                Stop
              </button>
            </div>
            <div className="reading-bar">
              <i style={{ width: `${Math.round(proving * 100)}%` }} />
            </div>
          </div>
        )}
        {proof !== null && ticked.size > 0 && (
          <Proof proof={proof} ticked={ticked.size} window={window} zone={zone} search={props.search} />
        )}
        {props.kept !== null && (
          <p className="inset sm py-2 mb-0 ruled" role="status">
            <TextMark mark="fine" /> Version {props.kept} is on.{' '}
            {props.onUndo !== null && (
              <button type="button" className="link" onClick={props.onUndo}>
                Undo
              </button>
            )}
          </p>
        )}
        {props.keepFailure !== null && <Failed title="Nothing was kept">{props.keepFailure.message}</Failed>}
        {props.mayChange && study !== null && props.kept === null && (
          <div className="keep-bar ruled">
            <Button
              variant="primary"
              className="text-nowrap"
              disabled={proof === null || ticked.size === 0 || proving !== null || props.keeping}
              onClick={props.onKeep}
            >
              Keep as version {study.version + 1}
              <kbd>Ctrl Enter</kbd>
            </Button>
            {props.list !== null && (
              <label className="form-check sm">
                <input
                  className="form-check-input"
                  type="checkbox"
                  checked={props.list.on}
                  onChange={(event) => props.list?.onChange(event.target.checked)}
                />
                As a list row,
                <br />
                in <span className="mono">{props.list.name}</span>
              </label>
            )}
          </div>
        )}
        <div className="sheet-foot mt-0">
          <Key keys={['Space']}>tick</Key>
          <Key keys={['U']}>undo</Key>
          <span className="grow" />
          {props.rule !== null && (
            <CurlLink
              path={addressOf(studyNoise, { params: { id: props.rule }, body: { window } })}
              body={{ window }}
            />
          )}
        </div>
      </div>
    </section>
  );
}

function WayRow({
  way,
  matches,
  days,
  on,
  onTick,
}: {
  way: Way;
  matches: number;
  days: number;
  on: boolean;
  onTick: () => void;
}): JSX.Element {
  const { proposal } = way;
  const lost = proposal?.realLost.length ?? 0;
  return (
    <div className={`way ${on ? 'on' : ''}`}>
      <input
        className="form-check-input"
        type="checkbox"
        checked={on}
        onChange={onTick}
        aria-label={`Leave out: ${way.words}`}
      />
      <span>
        <Words all={way.all} />
      </span>
      <span className="num">{proposal === null ? '' : `−${count(proposal.removed)}`}</span>
      <span className="num">{proposal === null ? '' : `−${count(proposal.alerts)}`}</span>
      <span className={`num ${lost > 0 ? 'bad' : ''}`}>{proposal === null ? '' : count(lost)}</span>
      <div className="more">
        {on && proposal !== null && proposal.adds.length > 0 && (
          <pre className="added-lines">{proposal.adds.map((line) => `  ${line}`).join('\n')}</pre>
        )}
        {proposal === null ? (
          <p className="proved">brought along from an alert; tick it to see what it does</p>
        ) : (
          <>
            <p className="proved">
              Replayed over {counted(days, 'day')}, {counted(matches, 'match', 'matches')}
            </p>
            {!proposal.heldOut.found && (
              <p className="proved">
                <TextMark mark="note" /> The older two thirds alone do not tell it
              </p>
            )}
            {lost > 0 ? (
              <p className="proved bad">
                <TextMark mark="bad" /> Loses a real one: {proposal.realLost.slice(0, 3).join('; ')}
              </p>
            ) : proposal.removedUnsettled > 0 ? (
              <p className="proved">
                <TextMark mark="note" /> Would also hide{' '}
                {counted(proposal.removedUnsettled, 'unsettled match', 'unsettled matches')}
              </p>
            ) : (
              <p className="proved">
                <TextMark mark="fine" /> Hides nothing unsettled
              </p>
            )}
          </>
        )}
      </div>
    </div>
  );
}

const less = (n: number): string => (n === 0 ? '0' : `−${count(n)}`);

/** A change of the rule that leaves no value out; it is replayed where its text can be read and changed further. */
function ChangeRow({ change, onTry }: { change: RuleChangeWire; onTry: () => void }): JSX.Element {
  return (
    <div className="way">
      <span />
      <span className="anywhere">{change.words}</span>
      <span className="num">{less(change.removed)}</span>
      <span className="num">{less(change.alerts)}</span>
      <span className="num">0</span>
      <p className="more proved">
        <button type="button" className="link" aria-label={`Replay: ${change.words}`} onClick={onTry}>
          Replay it
        </button>
        {change.removedUnsettled > 0 &&
          ` · would also hide ${counted(change.removedUnsettled, 'unsettled match', 'unsettled matches')}`}
        {change.kind === 'mark' && ' · its matches stay, in hunts and for other rules'}
      </p>
    </div>
  );
}

const SHOWN_MATCHES = 5;

/** Before and after, on one scale, with what is lost by name. */
export function Proof({
  proof,
  ticked,
  window,
  zone,
  search,
}: {
  proof: ProofWire;
  /** How many ways it has; null for a text of one's own. */
  ticked: number | null;
  window: { readonly from: string; readonly to: string };
  zone: string;
  search: string;
}): JSX.Element {
  const top = Math.max(
    1,
    ...proof.before.days.map(({ matches }) => matches),
    ...proof.after.days.map(({ matches }) => matches),
  );
  const real = proof.realKept.length + proof.realLost.length;
  return (
    <div className="ruled pt-1">
      <div className="tuning-part">
        <h3 className="section-head grow mb-0">
          {ticked === null
            ? 'Replay with your text'
            : ticked === 1
              ? 'Replay with the one ticked'
              : `Replay with the ${count(ticked)} ticked`}
        </h3>
        <span className="xs soft">one scale, days in UTC</span>
      </div>
      <div className="compare">
        <span>before</span>
        <SmallDays days={proof.before.days} window={window} top={top} kind="before" />
        <span className="num">
          {count(proof.before.matches)}
          <br />
          {counted(proof.before.alerts, 'alert')}
        </span>
        <span>after</span>
        <SmallDays days={proof.after.days} window={window} top={top} kind="after" />
        <b className="num">
          {count(proof.after.matches)}
          <br />
          {counted(proof.after.alerts, 'alert')}
        </b>
        <span className="xs">real</span>
        <RealDays days={proof.after.days} window={window} />
        <b className={`num ${proof.realLost.length > 0 ? 'bad' : ''}`}>
          {proof.realLost.length > 0
            ? `${count(proof.realLost.length)} of ${count(real)} lost`
            : real === 0
              ? 'none known'
              : `${count(real)}, all kept`}
        </b>
      </div>
      <div className="inset pb-1">
        {proof.realLost.map((one) => (
          <p key={`${one.subject} ${one.time}`} className="proved bad mb-0">
            <TextMark mark="bad" /> Loses a real one: {one.subject}, {showTime(one.time, zone, 'minute')}
          </p>
        ))}
        {proof.unsettledTotal > 0 && (
          <details className="proved">
            <summary>
              {counted(proof.unsettledTotal, 'unsettled match', 'unsettled matches')} would go: look
            </summary>
            <Told matches={proof.unsettledLost} zone={zone} search={search} />
          </details>
        )}
        {proof.addedTotal > 0 && (
          <details className="proved">
            <summary>{counted(proof.addedTotal, 'new match', 'new matches')}: look</summary>
            <Told matches={proof.added} zone={zone} search={search} />
          </details>
        )}
        {ticked === null && proof.lostTotal > 0 && (
          <details className="proved">
            <summary>{counted(proof.lostTotal, 'match', 'matches')} would go: look</summary>
            <Told matches={proof.lost} zone={zone} search={search} />
          </details>
        )}
        {proof.reach !== null && proof.reach > 0 && (
          <p className="proved mb-0">
            Reaches {proof.reachCounted ? '' : 'about '}
            {counted(proof.reach, 'event', 'events')} of its sources that never matched.
          </p>
        )}
      </div>
    </div>
  );
}

function Told({
  matches,
  zone,
  search,
}: {
  matches: ProofWire['lost'];
  zone: string;
  search: string;
}): JSX.Element {
  return (
    <ul className="list-plain">
      {matches.slice(0, SHOWN_MATCHES).map((one, i) => (
        <li key={`${one.time} ${i}`}>
          {one.event === null ? (
            <span className="mono">{one.subject}</span>
          ) : (
            <Link
              className="mono"
              to={`${huntAround(search, { from: one.event.time, to: one.event.time }, 60_000, 'from all')}&event=${one.event.id}`}
            >
              {one.subject === '' ? one.event.id : one.subject}
            </Link>
          )}{' '}
          {showTime(one.time, zone, 'second')}, {one.judged}
        </li>
      ))}
    </ul>
  );
}
