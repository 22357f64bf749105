import { useMutation } from '@tanstack/react-query';
import { type JSX, useState } from 'react';
import { Button } from 'react-bootstrap';
import { changePassword } from '../../core/wire/endpoints/people.js';
import { MIN_PASSWORD } from '../../core/wire/people.js';
import { call } from '../api/call.js';
import { Dialog } from '../kit/Dialog.js';
import { FieldsForm, TextField } from '../kit/form.js';

interface Words {
  readonly present: string;
  readonly next: string;
  readonly again: string;
}

const NEW_PASSWORD = {
  type: 'password',
  required: true,
  minLength: MIN_PASSWORD,
  autoComplete: 'new-password',
} as const;

/** Changes the own password. */
export function PasswordDialogue({ onHide }: { onHide: () => void }): JSX.Element {
  const [differ, setDiffer] = useState(false);
  const change = useMutation({
    mutationFn: ({ present, next }: Words) => call(changePassword, { body: { present, next } }),
  });
  if (change.isSuccess)
    return (
      <Dialog
        title="Password"
        onClose={onHide}
        foot={
          <Button variant="primary" onClick={onHide}>
            Close
          </Button>
        }
      >
        <p className="sm mb-0">
          It is changed. You are signed out everywhere else, and your tokens have ended.
        </p>
      </Dialog>
    );
  return (
    <Dialog title="Password" onClose={onHide}>
      <FieldsForm<Words>
        label="Password"
        className="d-grid gap-2"
        begin={{ present: '', next: '', again: '' }}
        onSend={(words) => {
          setDiffer(words.next !== words.again);
          if (words.next === words.again) change.mutate(words);
        }}
        send="Change it"
        isSending={change.isPending}
        failure={change.error}
      >
        <TextField<Words>
          name="present"
          label="Present password"
          type="password"
          required
          autoComplete="current-password"
        />
        <TextField<Words>
          name="next"
          label={`New password, at least ${MIN_PASSWORD} characters`}
          {...NEW_PASSWORD}
        />
        <TextField<Words> name="again" label="New password again" {...NEW_PASSWORD} />
        {differ && (
          <p role="alert" className="problem sm mb-0">
            The two differ.
          </p>
        )}
      </FieldsForm>
    </Dialog>
  );
}
