import { useQuery } from '@tanstack/react-query';
import type { JSX } from 'react';
import type { AlertChange } from '../../../core/wire/alerts.js';
import { listAlertPeople } from '../../../core/wire/endpoints/alerts.js';
import { answerTo } from '../../api/call.js';
import { LineForm } from '../../kit/LineForm.js';

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
  const people = useQuery({ ...answerTo(listAlertPeople), enabled: asking.what === 'hand over' });
  const many = count === 1 ? 'the alert' : `${count} alerts`;
  const label = {
    settle: asking.what === 'settle' ? `Settle ${many} as ${asking.verdict}. Why?` : '',
    'hand over': `Hand ${many} over to`,
    note: 'Note',
  }[asking.what];
  const send = (said: string): void => {
    if (asking.what === 'settle')
      onDo({ state: 'settled', verdict: asking.verdict, ...(said !== '' && { reason: said }) });
    else onDo(asking.what === 'note' ? { note: said } : { owner: said });
  };
  return (
    <LineForm
      className="inset work-bar"
      label={label}
      field={label}
      isFieldSeen
      maxLength={1000}
      {...(asking.what === 'settle' && { mayBeEmpty: true, placeholder: 'may stay empty' })}
      {...(asking.what === 'hand over' && { proposals: people.data?.people ?? [] })}
      send={
        <>
          {asking.what === 'settle' ? 'Settle' : asking.what === 'note' ? 'Note it' : 'Hand over'}
          <kbd>Enter</kbd>
        </>
      }
      onSend={send}
      onCancel={onCancel}
    />
  );
}
