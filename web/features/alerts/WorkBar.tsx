import { useQuery } from '@tanstack/react-query';
import { type FormEvent, type JSX, useEffect, useRef, useState } from 'react';
import { Button, Form } from 'react-bootstrap';
import type { AlertChange } from '../../../core/wire/alerts.js';
import { listAlertPeople } from '../../../core/wire/endpoints/alerts.js';
import { answerTo } from '../../api/call.js';

type Verdict = NonNullable<AlertChange['verdict']>;

/** Something about to be done that needs a word more. */
export type Asking =
  | { readonly what: 'settle'; readonly verdict: Verdict }
  | { readonly what: 'hand over' }
  | { readonly what: 'note' };

/** Asks for the word that is missing: why, to whom, or what; Enter does it, Esc leaves it. */
export function WorkBar({
  asking,
  count,
  onDo,
  onCancel,
}: {
  asking: Asking;
  count: number;
  onDo: (change: AlertChange) => void;
  onCancel: () => void;
}): JSX.Element {
  const [word, setWord] = useState('');
  const field = useRef<HTMLInputElement>(null);
  useEffect(() => field.current?.focus(), []);
  const people = useQuery({ ...answerTo(listAlertPeople), enabled: asking.what === 'hand over' });
  const many = count === 1 ? 'the alert' : `${count} alerts`;
  const labels = {
    settle: asking.what === 'settle' ? `Settle ${many} as ${asking.verdict}. Why?` : '',
    'hand over': `Hand ${many} over to`,
    note: 'Note',
  };
  const send = (event: FormEvent): void => {
    event.preventDefault();
    const said = word.trim();
    if (asking.what === 'settle')
      onDo({ state: 'settled', verdict: asking.verdict, ...(said !== '' && { reason: said }) });
    else if (said !== '') onDo(asking.what === 'note' ? { note: said } : { owner: said });
  };
  return (
    <Form
      className="inset work-bar"
      aria-label={labels[asking.what]}
      onSubmit={send}
      onKeyDown={(event) => {
        if (event.key !== 'Escape') return;
        event.stopPropagation();
        onCancel();
      }}
    >
      <Form.Label className="sm mb-0 nowrap" htmlFor="work-word">
        {labels[asking.what]}
      </Form.Label>
      <Form.Control
        ref={field}
        id="work-word"
        size="sm"
        autoComplete="off"
        placeholder={asking.what === 'settle' ? 'may stay empty' : ''}
        value={word}
        maxLength={1000}
        list={asking.what === 'hand over' ? 'alert-people' : undefined}
        onChange={(event) => setWord(event.target.value)}
      />
      <datalist id="alert-people">
        {people.data?.people.map((name) => (
          <option key={name} value={name} />
        ))}
      </datalist>
      <Button type="submit" size="sm" variant="primary" className="nowrap">
        {asking.what === 'settle' ? 'Settle' : asking.what === 'note' ? 'Note it' : 'Hand over'}
        <kbd>Enter</kbd>
      </Button>
      <button type="button" className="link sm" onClick={onCancel}>
        Cancel
      </button>
    </Form>
  );
}
