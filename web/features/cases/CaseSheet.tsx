import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { type FormEvent, type JSX, useState } from 'react';
import { Button, Form } from 'react-bootstrap';
import { Link } from 'react-router';
import type { CaseDetail } from '../../../core/wire/cases.js';
import { listAlertPeople } from '../../../core/wire/endpoints/alerts.js';
import {
  changeCase,
  listCases,
  readCase,
  unpinFromCase,
  writeCaseNote,
} from '../../../core/wire/endpoints/cases.js';
import { answerTo, call, keyOf } from '../../api/call.js';
import { huntAround } from '../../beam/around.js';
import { CurlLink } from '../../kit/Curl.js';
import { RemoveButton } from '../../kit/RemoveButton.js';
import { count, showTime } from '../../ui/format.js';
import { Failed, Reading } from '../../ui/State.js';

const AROUND_MILLISECONDS = 60_000;

/** Where a pin leads. */
function pinAddress({ kind, ref, time }: CaseDetail['pinned'][number], search: string): string {
  switch (kind) {
    case 'alert':
      return `/alerts/${ref}${search}`;
    case 'snapshot':
      return `/snapshot/${ref}${search}`;
    case 'hunt':
      return ref.startsWith('/hunt') ? ref : `/hunt${search}`;
    case 'event': {
      const at = time ?? new Date(0).toISOString();
      return `${huntAround(search, { from: at, to: at }, AROUND_MILLISECONDS, 'from all')}&event=${ref}`;
    }
  }
}

/** One case: what is pinned to it by when it happened, and what was written down. */
export function CaseSheet({
  id,
  zone,
  search,
  mayChange,
}: {
  id: number;
  /** Of times. */
  zone: string;
  search: string;
  mayChange: boolean;
}): JSX.Element {
  const client = useQueryClient();
  const [note, setNote] = useState('');
  const [editing, setEditing] = useState(false);
  const params = { id };
  const found = useQuery(answerTo(readCase, { params }));
  const work = useMutation({
    mutationFn: (act: () => Promise<CaseDetail>) => act(),
    onSuccess: async (detail) => {
      client.setQueryData(answerTo(readCase, { params }).queryKey, detail);
      await client.invalidateQueries({ queryKey: keyOf(listCases) });
    },
  });
  if (found.isError)
    return (
      <section className="sheet" aria-label="Case">
        <Failed title="The case cannot be shown">{found.error.message}</Failed>
      </section>
    );
  if (found.data === undefined)
    return (
      <section className="sheet" aria-label="Case">
        <Reading title="Fetching the case" />
      </section>
    );
  const { title, owner, state, pinned, notes, created } = found.data;
  const write = (event: FormEvent): void => {
    event.preventDefault();
    if (note.trim() !== '')
      work.mutate(() => call(writeCaseNote, { params, body: { text: note } }), {
        onSuccess: () => setNote(''),
      });
  };
  return (
    <section className="sheet" aria-label="Case">
      {editing ? (
        <CaseForm
          title={title}
          owner={owner}
          busy={work.isPending}
          onKeep={(body) =>
            work.mutate(() => call(changeCase, { params, body }), { onSuccess: () => setEditing(false) })
          }
          onCancel={() => setEditing(false)}
        />
      ) : (
        <div className="sheet-head pb-1 align-items-center">
          <h2 className="sheet-title grow anywhere">{title}</h2>
          {mayChange && (
            <>
              <Button variant="outline-secondary" onClick={() => setEditing(true)}>
                Rename, hand over
              </Button>
              <Button
                variant="outline-secondary"
                onClick={() =>
                  work.mutate(() =>
                    call(changeCase, { params, body: { state: state === 'open' ? 'closed' : 'open' } }),
                  )
                }
              >
                {state === 'open' ? 'Close the case' : 'Open it again'}
              </Button>
            </>
          )}
        </div>
      )}
      <p className="inset sm soft pb-2 mb-0">
        {state}, with <span className="mono">{owner}</span>, since {showTime(created, zone, 'minute')} {zone}
      </p>
      {work.isError && <Failed title="That could not be done">{work.error.message}</Failed>}
      <div className="scrolls">
        <div className="sub-head ruled">
          <h3 className="section-head grow">Pinned, by when it happened</h3>
          <span className="xs faint">{zone}</span>
        </div>
        {pinned.length === 0 && (
          <p className="inset sm soft pb-2 mb-0">
            Nothing is pinned. Pin an alert with C, or an event, a snapshot or a hunt where you read it.
          </p>
        )}
        {pinned.map((pin) => (
          <div key={pin.id} className="row-line">
            <span className="mono nowrap">{pin.time === null ? '' : showTime(pin.time, zone, 'second')}</span>
            <span className="soft">{pin.kind}</span>
            <Link className="cut fill" to={pinAddress(pin, search)} title={pin.title}>
              {pin.title}
            </Link>
            <span className="soft nowrap">
              {pin.who}
              {mayChange && (
                <RemoveButton
                  label="Take off"
                  what={pin.title}
                  consequence="The case no longer shows it; what it shows stays where it is."
                  className="link ms-2"
                  onRemove={() => work.mutate(() => call(unpinFromCase, { params: { id, pin: pin.id } }))}
                />
              )}
            </span>
          </div>
        ))}
        <div className="sub-head ruled">
          <h3 className="section-head">Notes</h3>
        </div>
        {notes.map(({ id: number, who, at, text }) => (
          <div key={number} className="inset sm pb-2">
            <p className="xs soft mb-0">
              <span className="mono">{who}</span>, {showTime(at, zone, 'minute')} {zone}
            </p>
            <p className="mb-0 as-written">{text}</p>
          </div>
        ))}
        {mayChange && (
          <Form className="inset pb-3 d-grid gap-2" onSubmit={write}>
            <Form.Control
              as="textarea"
              rows={3}
              aria-label="A note"
              placeholder="What you found, what you think, what is to be done"
              value={note}
              maxLength={20_000}
              onChange={(event) => setNote(event.target.value)}
            />
            <div>
              <Button type="submit" variant="primary" disabled={note.trim() === '' || work.isPending}>
                Write it down
              </Button>
            </div>
          </Form>
        )}
      </div>
      <div className="sheet-foot">
        <span>
          {count(pinned.length)} pinned, {count(notes.length)} {notes.length === 1 ? 'note' : 'notes'}
        </span>
        <span className="grow" />
        <CurlLink path={`/cases/${id}`} />
      </div>
    </section>
  );
}

/** A new title, another owner; only what changed is sent. */
function CaseForm({
  title: was,
  owner: had,
  busy,
  onKeep,
  onCancel,
}: {
  title: string;
  owner: string;
  busy: boolean;
  onKeep: (body: { title?: string; owner?: string }) => void;
  onCancel: () => void;
}): JSX.Element {
  const [title, setTitle] = useState(was);
  const [owner, setOwner] = useState(had);
  const people = useQuery(answerTo(listAlertPeople));
  const body = { ...(title.trim() !== was && { title: title.trim() }), ...(owner !== had && { owner }) };
  return (
    <Form
      className="inset work-bar"
      aria-label="Title and owner"
      onSubmit={(event: FormEvent) => {
        event.preventDefault();
        if (Object.keys(body).length === 0) onCancel();
        else if (title.trim() !== '') onKeep(body);
      }}
      onKeyDown={(event) => {
        if (event.key !== 'Escape') return;
        event.stopPropagation();
        onCancel();
      }}
    >
      <Form.Control
        size="sm"
        autoFocus
        aria-label="Title"
        value={title}
        maxLength={300}
        onChange={(event) => setTitle(event.target.value)}
      />
      <Form.Select
        className="short-field"
        size="sm"
        aria-label="Owner"
        value={owner}
        onChange={(event) => setOwner(event.target.value)}
      >
        {[...new Set([had, ...(people.data?.people ?? [])])].map((name) => (
          <option key={name}>{name}</option>
        ))}
      </Form.Select>
      <Button type="submit" size="sm" variant="primary" className="nowrap" disabled={busy}>
        Keep
      </Button>
      <button type="button" className="link sm" onClick={onCancel}>
        Cancel
      </button>
    </Form>
  );
}
