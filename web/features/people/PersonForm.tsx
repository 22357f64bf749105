import { useMutation } from '@tanstack/react-query';
import type { JSX } from 'react';
import { Button } from 'react-bootstrap';
import { addPerson } from '../../../core/wire/endpoints/people.js';
import {
  type ListedPerson,
  MIN_PASSWORD,
  type NewPerson,
  type PersonChange,
  roles,
} from '../../../core/wire/people.js';
import { call } from '../../api/call.js';
import { Changes } from '../../changes/Changes.js';
import { ChoiceField, FieldsForm, TextField } from '../../kit/form.js';

type Values = NewPerson;

/** Adds a person, or changes one. */
export function PersonForm({
  person,
  isMe,
  zone,
  failure,
  onChange,
  onAdded,
  onClose,
}: {
  /** Null for a new one. */
  person: ListedPerson | null;
  isMe: boolean;
  zone: string;
  failure: Error | null;
  onChange: (change: PersonChange) => void;
  onAdded: (name: string) => void;
  onClose: () => void;
}): JSX.Element {
  const add = useMutation({
    mutationFn: (body: NewPerson) => call(addPerson, { body }),
    onSuccess: (_, body) => onAdded(body.name),
  });
  const submit = ({ password, ...values }: Values): void => {
    const displayName = values.displayName.trim();
    if (person === null) add.mutate({ ...values, name: values.name.trim(), displayName, password });
    else onChange({ displayName, role: values.role, ...(password !== '' && { password }) });
  };
  return (
    <>
      <div className="sheet-head">
        <h2 className="sheet-title grow anywhere">{person === null ? 'New person' : person.name}</h2>
        <button type="button" className="link sm" onClick={onClose}>
          Close
        </button>
      </div>
      <FieldsForm<Values>
        label="Person"
        begin={{
          name: '',
          displayName: person?.displayName ?? '',
          role: person?.role ?? 'analyst',
          password: '',
        }}
        onSend={submit}
        send={person === null ? 'Add' : 'Save'}
        isSending={add.isPending}
        failure={add.error ?? failure}
        also={
          person !== null &&
          !isMe && (
            <Button
              size="sm"
              variant="outline-secondary"
              onClick={() => onChange({ disabled: !person.disabled })}
            >
              {person.disabled ? 'Enable again' : 'Disable'}
            </Button>
          )
        }
      >
        {person === null && (
          <TextField<Values>
            name="name"
            label="Name to sign in by"
            className="mono"
            required
            pattern="[a-z0-9][a-z0-9._\-]{0,62}"
            title="small letters, digits, dots, - and _"
            autoComplete="off"
          />
        )}
        <TextField<Values> name="displayName" label="Name that is shown" required maxLength={100} />
        <ChoiceField<Values> name="role" label="Role" choices={roles.map((one) => [one, one])} />
        <TextField<Values>
          name="password"
          label={person === null ? 'First password' : 'New password (empty: it stays)'}
          hint={`At least ${MIN_PASSWORD} characters; they change it after signing in.`}
          type="password"
          required={person === null}
          minLength={MIN_PASSWORD}
          autoComplete="new-password"
        />
      </FieldsForm>
      {person !== null && <Changes kind="person" name={person.name} zone={zone} />}
    </>
  );
}
