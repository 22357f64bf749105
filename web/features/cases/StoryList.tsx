import { Binoculars } from '@phosphor-icons/react/dist/csr/Binoculars';
import { NotePencil } from '@phosphor-icons/react/dist/csr/NotePencil';
import { Table } from '@phosphor-icons/react/dist/csr/Table';
import { Fragment, type JSX } from 'react';
import { parseInstant } from '../../../core/base/instant.js';
import { storyOf } from '../../../core/cases/story.js';
import type { CaseDetail, CaseNote, CasePinWire } from '../../../core/wire/cases.js';
import { showTime } from '../../ui/format.js';
import { Fan, type Level, LEVELS, Outcome } from '../../ui/Glyphs.js';

/** A thing of a story: something pinned, or a note on the case. */
export type StoryThing =
  { readonly what: 'pin'; readonly pin: CasePinWire } | { readonly what: 'note'; readonly note: CaseNote };

/** What tells things of a story apart, in addresses too. */
export const keyOfThing = (thing: StoryThing): string =>
  thing.what === 'pin' ? `p${thing.pin.id}` : `n${thing.note.id}`;

const isoOf = (thing: StoryThing): string =>
  thing.what === 'pin' ? (thing.pin.time ?? thing.pin.at) : thing.note.at;

/** The things of a story, in the order in which they happened. */
export function thingsOf({ pinned, notes }: CaseDetail, show: 'story' | 'key' | 'notes'): StoryThing[] {
  const pins = pinned
    .filter(({ key }) => show === 'story' || (show === 'key' && key))
    .map((pin): StoryThing => ({ what: 'pin', pin }));
  const written = notes
    .filter(({ isLine, pin }) => !isLine && (show === 'notes' || (show === 'story' && pin === null)))
    .map((note): StoryThing => ({ what: 'note', note }));
  return storyOf(
    [...pins, ...written],
    (one) => parseInstant(isoOf(one)) ?? 0,
    () => '',
  ).map(({ one }) => one);
}

const dayName = (iso: string, zone: string): string =>
  new Intl.DateTimeFormat('en-GB', { timeZone: zone, weekday: 'long', day: 'numeric', month: 'long' })
    .format(new Date(iso))
    .replace(',', '');

const isLevel = (word: string | null): word is Level => (LEVELS as readonly (string | null)[]).includes(word);

function Kind({ thing }: { thing: StoryThing }): JSX.Element {
  if (thing.what === 'note')
    return (
      <>
        <NotePencil aria-hidden="true" />
        <span className="visually-hidden">note</span>
      </>
    );
  const { kind, level, outcome } = thing.pin;
  if (kind === 'alert' && isLevel(level))
    return (
      <>
        <Fan count={LEVELS.indexOf(level) + 1} reversed={false} size={24} />
        <span className="visually-hidden">alert, {level}</span>
      </>
    );
  if (kind === 'event' && outcome !== null) return <Outcome outcome={outcome} text="" />;
  const Icon = kind === 'snapshot' ? Table : Binoculars;
  return (
    <>
      <Icon aria-hidden="true" />
      <span className="visually-hidden">{kind}</span>
    </>
  );
}

const titleOf = (thing: StoryThing): string =>
  thing.what === 'pin' ? thing.pin.title : (thing.note.text.split('\n')[0] ?? '');
const lineOf = (thing: StoryThing): string =>
  thing.what === 'pin'
    ? [thing.pin.why, thing.pin.place].filter(Boolean).join(', ')
    : thing.note.text.split('\n').slice(1).join(' ');

/** A case in order of happening, with the time between; nothing is drawn to scale. */
export function StoryList({
  things,
  zone,
  lit,
  onOpen,
}: {
  things: readonly StoryThing[];
  zone: string;
  /** The key of the thing that is looked at. */
  lit: string | null;
  onOpen: (thing: StoryThing) => void;
}): JSX.Element {
  const steps = storyOf(
    things,
    (one) => parseInstant(isoOf(one)) ?? 0,
    (one) => dayName(isoOf(one), zone),
  );
  return (
    <ol className="story scrolls" aria-label="Story">
      {steps.map(({ one, gap, newDay }, i) => {
        const key = keyOfThing(one);
        const isKey = one.what === 'pin' && one.pin.key;
        return (
          <Fragment key={key}>
            {gap !== null ? (
              <li className={`gap ${gap.long ? 'long' : ''}`}>
                <span>{gap.words}</span>
                {newDay && <b>{dayName(isoOf(one), zone)}</b>}
              </li>
            ) : (
              newDay && <li className={`day ${i === 0 ? 'first' : ''}`}>{dayName(isoOf(one), zone)}</li>
            )}
            <li className={`step ${isKey ? 'key' : ''} ${lit === key ? 'lit' : ''}`}>
              <span className="bead" aria-hidden="true" />
              <time dateTime={isoOf(one)}>{showTime(isoOf(one), zone, 'second').slice(-8)}</time>
              <div className="said">
                <div className="first-line">
                  <span className="kind">
                    <Kind thing={one} />
                  </span>
                  <button
                    type="button"
                    className="cut"
                    title={titleOf(one)}
                    aria-current={lit === key || undefined}
                    onClick={() => onOpen(one)}
                  >
                    {titleOf(one)}
                  </button>
                  {isKey && <span className="word">key</span>}
                </div>
                <div className="second-line">
                  <span className="cut">{lineOf(one)}</span>
                  <span className="mono by">{one.what === 'pin' ? one.pin.who : one.note.who}</span>
                </div>
              </div>
            </li>
          </Fragment>
        );
      })}
    </ol>
  );
}
