import { useQuery } from '@tanstack/react-query';
import { Fragment, type JSX, type RefObject } from 'react';
import { Form } from 'react-bootstrap';
import { Link } from 'react-router';
import { isJsonObject, type Json } from '../../../core/base/json.js';
import { columnDef } from '../../../core/events/columns.js';
import { labelOfMarking } from '../../../core/cases/marking.js';
import { type Marking, markings } from '../../../core/cases/words.js';
import type { CaseDetail, CaseNote, CasePinWire, PinContent } from '../../../core/wire/cases.js';
import { readCaseFile, readCasePin } from '../../../core/wire/endpoints/cases.js';
import { addressOf, answerTo } from '../../api/call.js';
import { dossierAddress, dossierOf } from '../../results/dossier-address.js';
import { eventGroups, fieldsOf } from '../../results/event-groups.js';
import { subjectKinds } from '../../../core/subjects/kinds.js';
import { count, showTime } from '../../ui/format.js';
import { Outcome, TextMark } from '../../ui/Glyphs.js';
import { Failed, Reading } from '../../ui/State.js';
import { NoteEditor } from './NoteEditor.js';
import { pinAddress } from './pin-address.js';
import type { StoryThing } from './StoryList.js';

const kindWords = {
  event: 'event',
  alert: 'alert',
  snapshot: 'snapshot of a hunt',
  hunt: 'hunt, asked anew when it is opened',
  response: 'response, as it stood when it was pinned',
  file: 'file, as it came',
} as const;

interface PinSheetProps {
  readonly one: CaseDetail;
  readonly thing: StoryThing | null;
  readonly zone: string;
  readonly search: string;
  readonly mayChange: boolean;
  readonly field: RefObject<HTMLTextAreaElement | null>;
  readonly onKept: (detail: CaseDetail) => void;
  readonly onChangePin: (
    pin: number,
    change: { why?: string; key?: boolean; marking?: Marking | null },
  ) => void;
  readonly onTakeOff: () => void;
}

/** The thing of a story that is looked at, as it was when it was pinned, and what was written on it. */
export function PinSheet(props: PinSheetProps): JSX.Element {
  const { one, thing, zone, search, mayChange } = props;
  const pin = thing?.what === 'pin' ? thing.pin : null;
  const address = pin === null ? null : pinAddress(pin, search);
  const notes = one.notes.filter((note) =>
    thing?.what === 'note' ? note.id === thing.note.id : !note.isLine && note.pin === (pin?.id ?? null),
  );
  return (
    <section className="sheet" aria-label="The thing looked at">
      {pin === null ? (
        <div className="sheet-head">
          <h2 className="sheet-title grow anywhere">
            {thing === null ? 'Nothing is pinned yet' : 'A note on the case'}
          </h2>
        </div>
      ) : (
        <>
          <div className="sheet-head pb-1">
            <h2 className="sheet-title grow anywhere">{pin.title}</h2>
            {pin.kind === 'file' ? (
              <a
                className="sm nowrap"
                href={`/api/v1${addressOf(readCaseFile, { params: { id: one.id, sha256: pin.ref } })}`}
                download
              >
                Save the file
              </a>
            ) : pin.kind === 'response' ? null : address === null ? (
              <span className="sm soft nowrap">from another installation</span>
            ) : (
              <Link className="sm nowrap" to={address}>
                Open it as it is now
              </Link>
            )}
          </div>
          <p className="inset sm soft pb-2 mb-0">
            {pin.time !== null && (
              <>
                <span className="mono">{showTime(pin.time, zone, 'log')}</span> {zone} ·{' '}
              </>
            )}
            {kindWords[pin.kind]}
          </p>
        </>
      )}
      <div className="scrolls">
        {pin !== null && <Frozen key={pin.id} id={one.id} pin={pin} zone={zone} search={search} />}
        {pin !== null && mayChange && (
          <PinWords key={`words ${pin.id}`} pin={pin} one={one} onChange={props.onChangePin} />
        )}
        {thing === null && (
          <p className="inset sm soft">
            Pin an alert with C, or an event, a snapshot or a hunt where you read it. What is pinned is kept
            as it is then.
          </p>
        )}
      </div>
      <div className="compose">
        <div className="note-head">
          <h3 className="section-head grow mb-0">{pin === null ? 'Notes' : 'Notes on this'}</h3>
          {one.writing.length > 0 && (
            <span className="xs soft" role="status">
              <span className="mono">{one.writing.join(', ')}</span> {one.writing.length === 1 ? 'is' : 'are'}{' '}
              writing
            </span>
          )}
        </div>
        <ul className="earlier-notes list-plain" aria-label="Notes so far">
          {notes.map((note) => (
            <Note key={note.id} note={note} zone={zone} />
          ))}
        </ul>
        {mayChange && (
          <NoteEditor one={one} pin={pin?.id ?? null} zone={zone} field={props.field} onKept={props.onKept} />
        )}
      </div>
      <div className="sheet-foot">
        {pin !== null && (
          <span className="cut">
            Pinned by <span className="mono">{pin.who}</span> {showTime(pin.at, zone, 'minute')}
          </span>
        )}
        <span className="grow" />
        {mayChange && pin !== null && (
          <span className="d-inline-flex gap-1 align-items-center">
            <kbd>X</kbd>
            <button type="button" className="link" onClick={props.onTakeOff}>
              take off
            </button>
          </span>
        )}
      </div>
    </section>
  );
}

function Note({ note, zone }: { note: CaseNote; zone: string }): JSX.Element {
  return (
    <li className="written">
      <p className="mb-0 as-written">{note.text}</p>
      <p className="xs soft mb-0">
        <span className="mono">{note.who}</span> {showTime(note.at, zone, 'minute')}
        {!note.inReport && ' · not in the report'}
      </p>
    </li>
  );
}

/** Why it is here, and who may read it. */
function PinWords({
  pin,
  one,
  onChange,
}: {
  pin: CasePinWire;
  one: CaseDetail;
  onChange: PinSheetProps['onChangePin'];
}): JSX.Element {
  return (
    <div className="pin-words ruled">
      <Form.Control
        size="sm"
        aria-label="Why it is pinned"
        placeholder="Why it is pinned, in a line"
        defaultValue={pin.why}
        maxLength={1000}
        onBlur={(event) => {
          const why = event.target.value.trim();
          if (why !== pin.why) onChange(pin.id, { why });
        }}
        onKeyDown={(event) => {
          if (event.key === 'Enter') event.currentTarget.blur();
        }}
      />
      <Form.Select
        size="sm"
        aria-label="Who may read it"
        value={pin.marking ?? ''}
        onChange={(event) =>
          onChange(pin.id, { marking: markings.find((marking) => marking === event.target.value) ?? null })
        }
      >
        <option value="">as the case: {labelOfMarking(one.marking)}</option>
        {markings.map((marking) => (
          <option key={marking} value={marking}>
            {labelOfMarking(marking)}
          </option>
        ))}
      </Form.Select>
    </div>
  );
}

/** Names that stand beside evidence, at most. */
const MAX_NAMED = 12;

/** What was frozen when it was pinned. */
function Frozen({
  id,
  pin,
  zone,
  search,
}: {
  id: number;
  pin: CasePinWire;
  zone: string;
  search: string;
}): JSX.Element {
  const found = useQuery({
    ...answerTo(readCasePin, { params: { id, pin: pin.id } }),
    staleTime: Infinity,
  });
  if (found.isError) return <Failed title="It cannot be shown">{found.error.message}</Failed>;
  if (found.data === undefined) return <Reading title="Fetching the evidence" />;
  const { frozen, facts, table, subjects } = found.data;
  const event = isJsonObject(frozen) ? (frozen as { event?: Json }).event : undefined;
  return (
    <>
      {event !== undefined && isJsonObject(event) ? (
        <EventFields event={event} zone={zone} search={search} />
      ) : (
        <dl className="facts inset">
          {facts.map(({ label, value }) => (
            <FactLine key={label} label={label} value={shown(value, zone)} />
          ))}
        </dl>
      )}
      {table !== null && <EvidenceRows table={table} zone={zone} search={search} />}
      <Dossiers subjects={subjects} search={search} />
      <Hash content={found.data} />
    </>
  );
}

/** A value of evidence; a moment in the zone of whoever reads. */
const shown = (value: string, zone: string): string =>
  /^\d{4}-\d\d-\d\dT\d\d:\d\d:\d\d(\.\d+)?Z$/.test(value) ? showTime(value, zone, 'second') : value;

function FactLine({ label, value }: { label: string; value: string }): JSX.Element {
  return (
    <>
      <dt>{label}</dt>
      <dd className="mono as-written">{value}</dd>
    </>
  );
}

function EventFields({
  event,
  zone,
  search,
}: {
  event: Readonly<Record<string, unknown>>;
  zone: string;
  search: string;
}): JSX.Element {
  return (
    <>
      {eventGroups.map((group) => {
        const fields = fieldsOf(event, group);
        if (fields.length === 0) return null;
        return (
          <div key={group.title} className="group">
            <h3>{group.title}</h3>
            <dl>
              {fields.map(({ name, value }) => {
                const subject = dossierOf(name, value);
                const text =
                  columnDef(name).type === 'time' && typeof value === 'string'
                    ? showTime(value, zone, 'log')
                    : typeof value === 'string'
                      ? value
                      : JSON.stringify(value);
                return (
                  <Fragment key={name}>
                    <dt>{name}</dt>
                    <dd className="mono anywhere">
                      {name === 'outcome' && typeof value === 'string' ? (
                        <Outcome outcome={value} />
                      ) : subject === null ? (
                        text
                      ) : (
                        <Link to={dossierAddress(subject.kind, subject.name, search)}>{text}</Link>
                      )}
                    </dd>
                  </Fragment>
                );
              })}
            </dl>
          </div>
        );
      })}
    </>
  );
}

/** Whom the evidence names, each with the way to its dossier. */
function Dossiers({
  subjects,
  search,
}: {
  subjects: PinContent['subjects'];
  search: string;
}): JSX.Element | null {
  const known = subjects.flatMap(({ kind, name }) => {
    const of = subjectKinds.find((one) => one === kind);
    return of === undefined ? [] : [{ kind: of, name }];
  });
  if (known.length === 0) return null;
  return (
    <p className="inset sm py-2 mb-0 anywhere">
      <span className="soft">It names</span>{' '}
      {known.slice(0, MAX_NAMED).map(({ kind, name }, i) => (
        <Fragment key={`${kind} ${name}`}>
          {i > 0 && ', '}
          <Link
            className="mono"
            to={dossierAddress(kind, name, search)}
            title={`Open the dossier of this ${kind}`}
          >
            {name}
          </Link>
        </Fragment>
      ))}
      {known.length > MAX_NAMED && <span className="soft"> and {count(known.length - MAX_NAMED)} more</span>}
    </p>
  );
}

function EvidenceRows({
  table,
  zone,
  search,
}: {
  table: NonNullable<PinContent['table']>;
  zone: string;
  search: string;
}): JSX.Element {
  return (
    <div className="evidence-rows ruled">
      <table className="table mb-0">
        <thead>
          <tr>
            {table.columns.map((column) => (
              <th key={column} scope="col">
                {column}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {table.rows.map((row, i) => (
            <tr key={i}>
              {row.map((cell, at) => (
                <td key={table.columns[at]} className="mono" title={cell}>
                  <Cell column={table.columns[at] ?? ''} value={cell} zone={zone} search={search} />
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
      {table.rows.length < table.total && (
        <p className="inset xs soft py-1 mb-0">
          The first {count(table.rows.length)} of {count(table.total)}
        </p>
      )}
    </div>
  );
}

function Cell({
  column,
  value,
  zone,
  search,
}: {
  column: string;
  value: string;
  zone: string;
  search: string;
}): JSX.Element {
  const subject = dossierOf(column, value);
  return subject === null ? (
    <>{shown(value, zone)}</>
  ) : (
    <Link to={dossierAddress(subject.kind, subject.name, search)}>{value}</Link>
  );
}

function Hash({ content: { sha256, holds } }: { content: PinContent }): JSX.Element {
  if (sha256 === null)
    return <p className="inset xs soft py-2 mb-0">Pinned before evidence was frozen: it has no hash.</p>;
  return (
    <p className={`inset xs py-2 mb-0 ${holds === false ? 'bad' : 'soft'}`}>
      <TextMark mark={holds === false ? 'bad' : 'fine'} />{' '}
      {holds === false ? 'It is no longer what was pinned.' : 'As it was when it was pinned.'} SHA-256{' '}
      <span className="mono anywhere">{sha256}</span>
    </p>
  );
}
