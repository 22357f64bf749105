import { useQuery } from '@tanstack/react-query';
import { type JSX, useState } from 'react';
import { Link } from 'react-router';
import { previewActions } from '../../../core/wire/endpoints/deliveries.js';
import { listHuntRuns } from '../../../core/wire/endpoints/rules.js';
import { listSources } from '../../../core/wire/endpoints/sources.js';
import type { RulePreview } from '../../../core/wire/replays.js';
import type { RuleCheck, RuleWire } from '../../../core/wire/rules.js';
import { answerTo } from '../../api/call.js';
import { Changes } from '../../changes/Changes.js';
import { count, roughly, showTime } from '../../ui/format.js';
import { Outcome, SourceGlyph, TextMark } from '../../ui/Glyphs.js';
import { Empty } from '../../ui/State.js';
import { Tabs } from '../../ui/Tabs.js';
import { eventAddress } from './event-address.js';
import { RuleVersionList } from './RuleVersionList.js';

interface SidebarProps {
  readonly rule: RuleWire | null;
  readonly check: RuleCheck | null;
  readonly preview: RulePreview | null;
  readonly text: string;
  readonly search: string;
  readonly mayChange: boolean;
  /** Takes an older text up again. */
  readonly onTake: (text: string) => void;
}

const tabs = { meaning: 'What it says', day: 'Last day', versions: 'Versions' } as const;

/** Beside a rule: what it means, what it matches as it is written, its tests, what it rests on, what it was before. */
export function RuleSidebar(props: SidebarProps): JSX.Element {
  const { rule, check, preview } = props;
  const [tab, setTab] = useState<keyof typeof tabs>('meaning');
  return (
    <section className="sheet" aria-label="About the rule">
      <div className="sheet-head pb-1">
        <Tabs
          className="grow"
          label="About the rule"
          names={(Object.keys(tabs) as (keyof typeof tabs)[]).filter(
            (name) => name !== 'versions' || rule !== null,
          )}
          chosen={tab}
          onChoose={setTab}
          show={(name) =>
            name === 'day' && preview !== null
              ? `${tabs[name]} (${preview.events.length}${preview.more ? '+' : ''})`
              : tabs[name]
          }
        />
      </div>
      <div className="scrolls">
        {tab === 'meaning' && check !== null && <Meaning {...props} check={check} />}
        {tab === 'day' && <LastDay {...props} />}
        {tab === 'versions' && rule !== null && (
          <>
            <RuleVersionList
              rule={rule}
              text={props.text}
              mayChange={props.mayChange}
              onTake={props.onTake}
            />
            <Changes kind="rule" name={rule.id} zone="UTC" />
          </>
        )}
      </div>
      <div className="sheet-foot">
        <span>
          {rule === null ? 'Never kept' : `Last changed ${showTime(rule.updated, 'UTC', 'minute')} UTC`}
        </span>
        <span className="grow" />
        {rule !== null && (
          <Link to={`/alerts${props.search}`}>
            {count(rule.alerts)} open {rule.alerts === 1 ? 'alert' : 'alerts'}
          </Link>
        )}
      </div>
    </section>
  );
}

function Meaning({ rule, check, search, text }: SidebarProps & { check: RuleCheck }): JSX.Element {
  return (
    <>
      {check.documents.map(({ line, title, says, then }) => (
        <div key={line} className="inset pb-2 sm anywhere">
          <h3 className="section-head">{title}</h3>
          <p>{says}.</p>
          <p className="soft">It {then}.</p>
        </div>
      ))}
      {check.documents.length === 0 && (
        <Empty title="Nothing to say yet">The text has a mistake, or holds only a filter.</Empty>
      )}
      <Tests tests={check.tests} />
      {/^\s+actions:/m.test(text) && check.mistake === null && <Actions text={text} id={rule?.id ?? null} />}
      <RestsOn check={check} search={search} />
      {rule?.type === 'hunt' && <Runs id={rule.id} />}
    </>
  );
}

function Tests({ tests }: { tests: RuleCheck['tests'] }): JSX.Element {
  const held = tests.filter(({ passed }) => passed).length;
  return (
    <>
      <div className="sub-head ruled">
        <h3 className="section-head grow">Tests</h3>
        <span className="xs faint">{tests.length === 0 ? '' : `${held} of ${tests.length} hold`}</span>
      </div>
      {tests.length === 0 && (
        <p className="inset sm soft">
          None yet. Under “lamp: tests:” stand events that it must match, or pass over.
        </p>
      )}
      {tests.map(({ name, line, must, passed, said }) => (
        <p key={`${line} ${name}`} className={`margin-note inset${passed ? '' : ' bad'}`}>
          <TextMark mark={passed ? 'fine' : 'bad'} />
          <span>
            {name}: must {must === 'match' ? 'match' : 'pass'}, {said}
          </span>
        </p>
      ))}
    </>
  );
}

/** What the actions would say of the newest alert. */
function Actions({ text, id }: { text: string; id: string | null }): JSX.Element {
  const preview = useQuery({
    ...answerTo(previewActions, { body: { text, ...(id !== null && { id }) } }),
    placeholderData: (before) => before,
  });
  return (
    <>
      <div className="sub-head ruled">
        <h3 className="section-head grow">With each alert</h3>
        <span className="xs faint cut" title={preview.data?.of ?? ''}>
          {preview.data === undefined
            ? ''
            : preview.data.of === null
              ? 'of an invented match'
              : 'of its newest alert'}
        </span>
      </div>
      {preview.data?.previews.map(({ does, shown, missing }, i) => (
        <div key={`${does} ${i}`} className="inset sm pb-2">
          <p className="mb-0">{does}</p>
          <pre className="rule-diff">{shown}</pre>
          {missing !== null && (
            <p className="margin-note bad">
              <TextMark mark="bad" />
              <span>{missing}</span>
            </p>
          )}
        </div>
      ))}
    </>
  );
}

function RestsOn({ check, search }: { check: RuleCheck; search: string }): JSX.Element {
  const sources = useQuery(answerTo(listSources));
  const known = new Map(sources.data?.sources.map((source) => [source.name, source]));
  return (
    <>
      <div className="sub-head ruled">
        <h3 className="section-head grow">What it rests on</h3>
        <Link className="xs" to={`/rules/log-sources${search}`}>
          Log sources
        </Link>
      </div>
      {check.absent !== null && (
        <p className="margin-note inset bad">
          <TextMark mark="bad" />
          <span>{check.absent}.</span>
        </p>
      )}
      {check.sources.map((name) => {
        const source = known.get(name);
        return (
          <div key={name} className="row-line">
            {source !== undefined && <SourceGlyph state={source.state} />}
            <Link className="mono" to={`/sources/${name}${search}`}>
              {name}
            </Link>
            <span className={source?.state === 'quiet' ? 'problem' : 'soft'}>
              {source === undefined
                ? ''
                : source.state === 'quiet'
                  ? `quiet for ${roughly(source.silentSeconds ?? 0)}`
                  : source.state}
            </span>
          </div>
        );
      })}
      {check.lists.map((name) => (
        <div key={name} className="row-line">
          <span className="soft">list</span>
          <Link className="mono" to={`/lists/${encodeURIComponent(name)}${search}`}>
            {name}
          </Link>
        </div>
      ))}
    </>
  );
}

function LastDay({ preview, check, search }: SidebarProps): JSX.Element {
  if (check?.mistake != null)
    return (
      <Empty title="Not while there is a mistake">
        Put line {check.mistake.line} right, and the matches come.
      </Empty>
    );
  if (preview === null) return <p className="inset sm soft">Looking at the last day…</p>;
  if (preview.events.length === 0)
    return (
      <Empty title="Nothing in the last day">
        No event meets its conditions. A hunt that is run by the clock shows in its replay.
      </Empty>
    );
  return (
    <>
      <p className="inset xs soft">
        The newest events that meet its conditions, as you write. Times in UTC · {preview.milliseconds} ms
      </p>
      {preview.events.map(({ id, time, document, fields }) => (
        <Link key={id} className="preview-event" to={eventAddress({ id, time }, search)}>
          <span className="mono">{showTime(time, 'UTC', 'second')}</span>{' '}
          <b className="fw-medium">{document}</b>
          <span className="queue-subject mono">
            {fields['outcome'] !== undefined && (
              <Outcome outcome={fields['outcome']} text={fields['operation'] ?? fields['outcome']} />
            )}{' '}
            {[fields['user'], fields['host'], fields['src_ip'], fields['source']].filter(Boolean).join(' · ')}
          </span>
        </Link>
      ))}
      {preview.more && <p className="inset xs faint pt-1">There are more; the replay counts them.</p>}
    </>
  );
}

function Runs({ id }: { id: string }): JSX.Element {
  const runs = useQuery({ ...answerTo(listHuntRuns, { params: { id } }), refetchInterval: 30_000 });
  return (
    <>
      <div className="sub-head ruled">
        <h3 className="section-head grow">Runs</h3>
        <span className="xs faint">UTC</span>
      </div>
      {runs.data?.runs.length === 0 && <p className="inset sm soft">It did not run yet.</p>}
      {runs.data?.runs.slice(0, 12).map(({ due, measured, told, failure, milliseconds }) => (
        <div key={due} className="row-line" title={failure ?? ''}>
          <span className="mono">{showTime(due, 'UTC', 'minute')}</span>
          <span className={failure === null ? 'soft cut' : 'problem cut'}>
            {failure ?? `${measured === null ? '' : `${count(measured)} measured, `}${count(told)} told`}
          </span>
          <span className="num faint">{count(milliseconds)} ms</span>
        </div>
      ))}
    </>
  );
}
