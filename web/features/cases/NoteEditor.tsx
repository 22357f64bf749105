import { useMutation } from '@tanstack/react-query';
import { type JSX, type RefObject, useEffect, useLayoutEffect, useRef, useState } from 'react';
import { Button, Form } from 'react-bootstrap';
import type { CaseDetail } from '../../../core/wire/cases.js';
import { keepCaseDraft, writeCaseNote } from '../../../core/wire/endpoints/cases.js';
import { call } from '../../api/call.js';
import { showTime } from '../../ui/format.js';
import { Failed } from '../../ui/State.js';

/** Nothing may have been typed for so long before it is kept as a draft. */
const PAUSE = 700;

/** A note on a case or on something pinned to it; it is kept while it is written, for each person apart. */
export function NoteEditor({
  one,
  pin,
  zone,
  field,
  onKept,
}: {
  one: CaseDetail;
  /** What is looked at; null for the case. A note stays about what was looked at when it was begun. */
  pin: number | null;
  zone: string;
  field: RefObject<HTMLTextAreaElement | null>;
  onKept: (detail: CaseDetail) => void;
}): JSX.Element {
  const params = { id: one.id };
  const [text, setText] = useState(one.draft?.text ?? '');
  const [begunOn, setBegunOn] = useState(one.draft?.pin ?? pin);
  const about = text === '' ? pin : begunOn;
  const [inReport, setInReport] = useState(true);
  const saved = useRef(one.draft?.text ?? '');
  const draft = useMutation({
    mutationFn: (body: { text: string; pin: number | null }) => call(keepCaseDraft, { params, body }),
    onSuccess: (_, body) => {
      saved.current = body.text;
    },
  });
  const keep = useMutation({
    mutationFn: () => call(writeCaseNote, { params, body: { text: text.trim(), pin: about, inReport } }),
    onSuccess: (detail) => {
      saved.current = '';
      setText('');
      onKept(detail);
    },
  });
  const { mutate } = draft;
  useEffect(() => {
    if (text === saved.current) return;
    const timer = setTimeout(() => mutate({ text, pin: about }), PAUSE);
    return () => clearTimeout(timer);
  }, [text, about, mutate]);
  const latest = useRef({ text, pin: about });
  useLayoutEffect(() => {
    latest.current = { text, pin: about };
  });
  // Whoever leaves within the pause loses nothing.
  useEffect(
    () => () => {
      if (latest.current.text !== saved.current) mutate(latest.current);
    },
    [mutate],
  );
  const send = (): void => {
    if (text.trim() !== '' && !keep.isPending) keep.mutate();
  };
  return (
    <Form
      aria-label="A note"
      onSubmit={(event) => {
        event.preventDefault();
        send();
      }}
    >
      <Form.Control
        as="textarea"
        ref={field}
        rows={3}
        aria-label={
          about === null
            ? 'A note on the case'
            : about === pin
              ? 'A note on this'
              : 'A note on what it was begun on'
        }
        placeholder="What you found, what you think, what is to be done"
        value={text}
        maxLength={20_000}
        onChange={(event) => {
          if (text === '') setBegunOn(pin);
          setText(event.target.value);
        }}
        onKeyDown={(event) => {
          if (event.key === 'Enter' && (event.ctrlKey || event.metaKey)) send();
          if (event.key === 'Escape') event.currentTarget.blur();
        }}
      />
      <div className="note-buttons">
        <Button type="submit" variant="primary" disabled={text.trim() === '' || keep.isPending}>
          Keep the note<kbd>Ctrl Enter</kbd>
        </Button>
        <Button
          variant="outline-secondary"
          disabled={text === ''}
          onClick={() => {
            setText('');
            mutate({ text: '', pin: about });
          }}
        >
          Discard
        </Button>
        <label className="sm into-report">
          <input
            className="form-check-input"
            type="checkbox"
            checked={inReport}
            onChange={(event) => setInReport(event.target.checked)}
          />
          into the report
        </label>
        <span className="grow" />
        <span className="xs faint" role="status">
          {draft.isSuccess && text !== '' && draft.variables.text === text
            ? `kept as you write, ${showTime(new Date(draft.submittedAt).toISOString(), zone, 'second').slice(-8)}`
            : ''}
        </span>
      </div>
      {about !== pin && (
        <p className="xs soft mb-0 anywhere">
          Begun on {one.pinned.find(({ id }) => id === about)?.title ?? 'the case'}{' '}
          <button type="button" className="link" onClick={() => setBegunOn(pin)}>
            it is about this
          </button>
        </p>
      )}
      {keep.isError && <Failed title="The note was not kept">{keep.error.message}</Failed>}
      {draft.isError && <Failed title="The draft was not kept">{draft.error.message}</Failed>}
    </Form>
  );
}
