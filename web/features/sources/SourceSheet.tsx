import { useQueryClient } from '@tanstack/react-query';
import { type JSX, type ReactNode, useState } from 'react';
import { Link } from 'react-router';
import type { Source } from '../../../core/wire/sources.js';
import { about } from '../../api/call.js';
import { usePerson } from '../../api/session.js';
import { CurlLink } from '../../kit/Curl.js';
import { PullPanel } from '../../pulls/PullPanel.js';
import { count, roughly, showTime } from '../../ui/format.js';
import { SourceGlyph } from '../../ui/Glyphs.js';
import { Tabs } from '../../ui/Tabs.js';
import { Rereads } from './Rereads.js';
import { SetAsideGroups } from './SetAsideGroups.js';
import { SetUp } from './SetUp.js';
import { SourceSettings } from './SourceSettings.js';
import { Upload } from './Upload.js';

const tabs = ['How it stands', 'Send to it', 'Set aside', 'Settings'] as const;
type Tab = (typeof tabs)[number];

/** One source: how it stands, how to send to it, what could not be read, and its settings. */
export function SourceSheet({
  source,
  zone,
  search,
}: {
  source: Source;
  zone: string;
  search: string;
}): JSX.Element {
  const person = usePerson();
  const client = useQueryClient();
  const [chosen, setChosen] = useState<Tab | null>(null);
  // A source that waits needs a sender more than anything else.
  const tab = chosen ?? (source.state === 'waiting' ? 'Send to it' : 'How it stands');
  const refresh = (): void => void client.invalidateQueries(about('sources'));
  const hunt = new URLSearchParams(search);
  hunt.set('q', `from source ${source.name}`);
  return (
    <section className="sheet" aria-label="Source">
      <div className="sheet-head pb-1">
        <h2 className="sheet-title grow">{source.title}</h2>
        <Link className="sm" to={`/hunt?${hunt}`}>
          Hunt its events
        </Link>
      </div>
      {source.description !== '' && <p className="inset sm soft pb-1">{source.description}</p>}
      <Tabs
        className="inset"
        label="About the source"
        names={tabs}
        chosen={tab}
        onChoose={setChosen}
        show={(name) =>
          name === 'Set aside' && source.setAside > 0 ? `${name} ${count(source.setAside)}` : name
        }
      />
      <div className="scrolls ruled-top" role="tabpanel" aria-label={tab}>
        {tab === 'How it stands' && <Standing source={source} zone={zone} search={search} />}
        {tab === 'Send to it' && (
          <>
            <SetUp source={source} />
            <PullPanel into="source" name={source.name} zone={zone} onFetched={refresh} />
            {person.role !== 'reader' && <Upload source={source} />}
          </>
        )}
        {tab === 'Set aside' && <SetAsideGroups source={source} zone={zone} search={search} />}
        {tab === 'Settings' && <SourceSettings source={source} />}
      </div>
      <div className="sheet-foot">
        <span className="grow">Records go to /api/v1/intake/{source.name}</span>
        <CurlLink path={tab === 'Set aside' ? `/sources/${source.name}/set-aside` : '/sources'} />
      </div>
    </section>
  );
}

/** The state in a sentence, numbers first. */
function stateInWords({ state, silentSeconds, usualSeconds, lag }: Source): string {
  const usually = usualSeconds === null ? '' : `, usually one every ${roughly(usualSeconds)}`;
  switch (state) {
    case 'waiting':
      return 'waiting for its first record';
    case 'quiet':
      return `silent for ${roughly(silentSeconds ?? 0)}${usually}`;
    case 'late':
      return `late: 5 in 100 come in more than ${roughly((lag?.most ?? 0) / Math.SQRT2)} after they happened${usually}`;
    case 'flowing':
      return `flowing${usually}`;
  }
}

function Standing({ source, zone, search }: { source: Source; zone: string; search: string }): JSX.Element {
  return (
    <>
      <Line name="state">
        <SourceGlyph state={source.state} /> {stateInWords(source)}
      </Line>
      <Line name="last event">
        {source.lastEvent === null ? 'never' : `${showTime(source.lastEvent, zone, 'log')} ${zone}`}
      </Line>
      <Line name="came in last">
        {source.lastReceived === null ? 'never' : `${showTime(source.lastReceived, zone, 'log')} ${zone}`}
      </Line>
      <Line name="lag">
        {source.lag === null
          ? 'nothing came in the last 24 hours'
          : `median about ${roughly(source.lag.median)}, 95 of 100 within ${roughly(source.lag.most)}`}
      </Line>
      <Line name="events stored">{count(source.stored)}</Line>
      <Line name="sent again, already known">{count(source.known)}</Line>
      <Line name="read by">
        <span className="mono">
          {source.recipe} {source.recipeVersion}
        </span>{' '}
        <Link to={`/sources/${source.name}/recipe${search}`}>Open the workbench</Link>
      </Line>
      <Line name="kept for">
        {source.retentionDays === null ? 'ever' : `${count(source.retentionDays)} days`}
        {source.heldFrom !== null && `, held from ${source.heldFrom}`}
      </Line>
      <Rereads source={source.name} version={source.recipeVersion} zone={zone} />
      <div className="sub-head ruled">
        <h3 className="section-head">Gaps of the last week</h3>
        <span className="xs faint">
          {source.gaps.length === 0
            ? 'none: events in every hour that should have had some'
            : 'hours without an event where many were to be expected'}
        </span>
      </div>
      {source.gaps.map((gap) => (
        <Line key={gap.from} name={roughly((Date.parse(gap.to) - Date.parse(gap.from)) / 1000)}>
          {showTime(gap.from, zone, 'minute')} to {showTime(gap.to, zone, 'minute')}
        </Line>
      ))}
    </>
  );
}

function Line({ name, children }: { name: string; children: ReactNode }): JSX.Element {
  return (
    <div className="row-line">
      <span className="soft">{name}</span>
      <span>{children}</span>
    </div>
  );
}
