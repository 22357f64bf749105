import { ID_FIELDS, NameBeside } from '../../results/NameBeside.js';
import { dossierAddress, dossierOf } from '../../results/dossier-address.js';
import { type EventField, eventGroups, fieldsOf } from '../../results/event-groups.js';
import { X } from '@phosphor-icons/react/dist/csr/X';
import { useQuery } from '@tanstack/react-query';
import { type JSX, useMemo, useState } from 'react';
import { Button, Form } from 'react-bootstrap';
import { Link } from 'react-router';
import type { Json } from '../../../core/base/json.js';
import { columnDef } from '../../../core/events/columns.js';
import { quoteText } from '../../../core/wick/spell.js';
import type { ValueAction } from '../../../core/wick/write-step.js';
import { readEvent } from '../../../core/wire/endpoints/hunts.js';
import type { StoredEventWire } from '../../../core/wire/hunts.js';
import { answerTo } from '../../api/call.js';
import type { AlsoEvent } from '../../api/hunt-stream.js';
import { usePerson } from '../../api/session.js';
import { huntAround } from '../../beam/around.js';
import { PinToCase } from '../../cases/PinToCase.js';
import { CurlLink } from '../../kit/Curl.js';
import { showTime } from '../../ui/format.js';
import { Outcome } from '../../ui/Glyphs.js';
import { Key } from '../../ui/Key.js';
import { Failed, Reading } from '../../ui/State.js';
import { useKeys } from '../../ui/use-keys.js';
import type { PickedValue } from '../../results/menus/CellMenu.js';
import { Changes } from './reading/Changes.js';
import { MakeRule } from './reading/MakeRule.js';
import { countFields, OriginalTree } from './reading/OriginalTree.js';

const shownValue = (value: Json): string => (typeof value === 'string' ? value : JSON.stringify(value));

interface ReadingPanelProps {
  readonly id: string;
  /** When it happened, where that is known: then it is found at once. */
  readonly time?: string | null;
  readonly zone: string;
  readonly search: string;
  readonly onStep: (action: ValueAction, picked: PickedValue) => void;
  /** Everything else that can be done with a value is asked for. */
  readonly onPick: (picked: PickedValue, at: { x: number; y: number }) => void;
  readonly onClose: () => void;
  /** Further events that the row opens, such as where a journey began. */
  readonly also: readonly AlsoEvent[];
  readonly onRead: (id: string) => void;
  /** Goes to the event of the next row, or of the one before. */
  readonly onNext: (way: 1 | -1) => void;
}

/** Time before and after an event that is looked at, by what it is looked at for. */
const AROUND_ALL_MILLISECONDS = 120_000;
const AROUND_ONE_MILLISECONDS = 900_000;

/** Where to look next: what else happened then, anywhere or to the same user, host and session. */
function Neighbours({ event, search }: { event: StoredEventWire; search: string }): JSX.Element {
  const at = { from: event.time, to: event.time };
  const own = (['user', 'host', 'session', 'src_ip'] as const).flatMap((name) => {
    const value = event[name];
    return typeof value === 'string' && value !== '' ? [{ name, value }] : [];
  });
  return (
    <p className="sm pt-1 d-flex gap-3 flex-wrap mb-0">
      <Link to={huntAround(search, at, AROUND_ALL_MILLISECONDS, 'from all\nsort time')}>
        All sources, two minutes around
      </Link>
      {own.map(({ name, value }) => (
        <Link
          key={name}
          to={huntAround(
            search,
            at,
            AROUND_ONE_MILLISECONDS,
            `from all\nwhere ${name} = ${quoteText(value)}\nsort time`,
          )}
        >
          this {name === 'src_ip' ? 'address' : name}
        </Link>
      ))}
    </p>
  );
}

/** The rules that the event met. */
function Marked({ event, search }: { event: StoredEventWire; search: string }): JSX.Element | null {
  if (event.marked === undefined || event.marked.length === 0) return null;
  return (
    <p className="sm pt-1 mb-0 d-flex gap-3 flex-wrap">
      {event.marked.map(({ rule, title, alert }) => (
        <Link
          key={`${rule} ${alert ?? ''}`}
          to={alert === null ? `/rules/${rule}${search}` : `/alerts/${alert}${search}`}
        >
          {alert === null ? 'Marked by' : 'Alert'}: {title}
        </Link>
      ))}
    </p>
  );
}

/** One event in full: who, did what, to what, from where, how it ended; every original field and the raw record. */
export function ReadingPanel({
  id,
  time = null,
  zone,
  search,
  onStep,
  onPick,
  onClose,
  also,
  onRead,
  onNext,
}: ReadingPanelProps): JSX.Element {
  useKeys({ j: () => onNext(1), k: () => onNext(-1) });
  const event = useQuery({
    ...answerTo(readEvent, { params: { id }, query: { time: time ?? undefined } }),
    staleTime: Infinity,
  });
  return (
    <section className="sheet" aria-label="Reading">
      {event.isPending && <Reading title="Fetching the event" />}
      {event.isError && <Failed title="The event cannot be shown">{event.error.message}</Failed>}
      {also.length > 0 && (
        <p className="inset sm pt-2 mb-0">
          This row opens{' '}
          {also.map((one) => (
            <button
              key={one.name}
              type="button"
              className="link me-2"
              aria-pressed={one.id === id}
              onClick={() => onRead(one.id)}
            >
              {one.name}
            </button>
          ))}
        </p>
      )}
      {event.data !== undefined && (
        <EventText
          event={event.data}
          zone={zone}
          search={search}
          onStep={onStep}
          onPick={onPick}
          onClose={onClose}
        />
      )}
      {event.data === undefined && (
        <div className="sheet-foot">
          <button type="button" className="link" onClick={onClose}>
            Close
          </button>
        </div>
      )}
    </section>
  );
}

function EventText({
  event,
  zone,
  search,
  onStep,
  onPick,
  onClose,
}: Omit<ReadingPanelProps, 'id' | 'time' | 'also' | 'onRead' | 'onNext'> & {
  event: StoredEventWire;
}): JSX.Element {
  const [find, setFind] = useState('');
  const [making, setMaking] = useState(false);
  const [pinning, setPinning] = useState(false);
  const mayMake = usePerson().role !== 'reader';
  const fields = useMemo(() => countFields(event.original as Json), [event]);
  const title = [event['operation'] ?? event.kind, event['outcome']]
    .filter((word) => typeof word === 'string')
    .join(', ');
  return (
    <>
      <div className="sheet-head">
        <div className="grow">
          <h2 className="sheet-title">{title}</h2>
          <p className="sm soft pt-1">
            <span className="mono">{showTime(event.time, zone, 'log')}</span> {zone}
          </p>
          <Neighbours event={event} search={search} />
          <Marked event={event} search={search} />
        </div>
        <Button variant="outline-secondary" onClick={onClose} aria-label="Close the reading">
          <X />
        </Button>
      </div>
      <div className="scrolls">
        {eventGroups.map((group) => {
          const fields = fieldsOf(event, group);
          if (fields.length === 0) return null;
          return (
            <div key={group.title} className="group">
              <h3>{group.title}</h3>
              <dl>
                {fields.map((field) => (
                  <FieldLine
                    key={field.name}
                    field={field}
                    zone={zone}
                    search={search}
                    onStep={onStep}
                    onPick={onPick}
                    explained={event.explained?.[field.name]}
                  />
                ))}
              </dl>
            </div>
          );
        })}
        <Changes changes={(event['changes'] as Json | undefined) ?? null} />
        <div className="sub-head ruled">
          <h3 className="section-head">All original fields</h3>
          <span className="xs faint grow">{fields} fields, as the source wrote them</span>
          <Form.Control
            className="short-field"
            size="sm"
            aria-label="Find in original fields"
            placeholder="Find"
            value={find}
            onChange={(change) => setFind(change.target.value)}
          />
          <button
            type="button"
            className="link sm nowrap"
            onClick={() => void navigator.clipboard.writeText(JSON.stringify(event.original, null, 2))}
          >
            Copy all
          </button>
        </div>
        <OriginalTree value={event.original as Json} find={find} onStep={onStep} />
        <div className="raw" aria-label="Raw record">
          {event.raw}
        </div>
      </div>
      <div className="sheet-foot">
        <Key keys={['J', 'K']}>next, before</Key>
        <Key keys={['Esc']}>close</Key>
        <span className="grow" />
        {mayMake && (
          <>
            <button type="button" className="link" onClick={() => setPinning(true)}>
              Into a case
            </button>
            <button type="button" className="link" onClick={() => setMaking(true)}>
              Make a rule of it
            </button>
          </>
        )}
        <CurlLink path={`/events/${event.id}?${new URLSearchParams({ time: String(event['time']) })}`} />
      </div>
      {pinning && (
        <PinToCase
          pins={[
            {
              kind: 'event',
              ref: event.id,
              title: [title, event['user'], event['host'], event.source]
                .filter(Boolean)
                .join(' · ')
                .slice(0, 500),
              time: event.time,
            },
          ]}
          suggested={title}
          search={search}
          onClose={() => setPinning(false)}
        />
      )}
      {making && <MakeRule event={event} search={search} onClose={() => setMaking(false)} />}
    </>
  );
}

function FieldLine({
  field,
  zone,
  search,
  onStep,
  onPick,
  explained,
}: {
  field: EventField;
  /** What a code means, in plain words. */
  explained: string | undefined;
  zone: string;
  search: string;
  onStep: ReadingPanelProps['onStep'];
  onPick: ReadingPanelProps['onPick'];
}): JSX.Element {
  const { name, value } = field;
  const def = columnDef(name);
  const picked: PickedValue = { column: { name, type: def.type, field: name }, value };
  const text =
    def.type === 'time' && typeof value === 'string' ? showTime(value, zone, 'log') : shownValue(value);
  const subject = dossierOf(name, value);
  return (
    <>
      <dt title={def.meaning}>{name.replaceAll('_', ' ')}</dt>
      <dd>
        <span className="value mono">
          {subject !== null ? (
            <>
              <Link to={dossierAddress(subject.kind, subject.name, search)}>{text}</Link>
              {ID_FIELDS.has(name) && <NameBeside id={text} />}
            </>
          ) : name === 'outcome' ? (
            <Outcome outcome={text} />
          ) : (
            text
          )}
        </span>
        {explained !== undefined && <span className="explained">: {explained}</span>}
        {!Array.isArray(value) && typeof value !== 'object' && (
          <span className="duo">
            <button type="button" onClick={() => onStep('keep', picked)}>
              Keep only
            </button>
            <button type="button" onClick={() => onStep('leave-out', picked)}>
              Leave out
            </button>
            <button
              type="button"
              aria-label={`More to do with ${name}`}
              onClick={(event) => onPick(picked, { x: event.clientX, y: event.clientY + 6 })}
            >
              More
            </button>
          </span>
        )}
      </dd>
    </>
  );
}
