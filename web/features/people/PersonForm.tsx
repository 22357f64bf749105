import { useMutation } from '@tanstack/react-query';
import { type FormEvent, type JSX, useState } from 'react';
import { Button, Form } from 'react-bootstrap';
import { addPerson } from '../../../core/wire/endpoints/people.js';
import {
  type ListedPerson,
  MIN_PASSWORD,
  type NewPerson,
  type PersonChange,
  type Role,
  roles,
} from '../../../core/wire/people.js';
import { call } from '../../api/call.js';
import { Changes } from '../../changes/Changes.js';
import { Failed } from '../../ui/State.js';

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
  const [name, setName] = useState('');
  const [displayName, setDisplayName] = useState(person?.displayName ?? '');
  const [role, setRole] = useState<Role>(person?.role ?? 'analyst');
  const [password, setPassword] = useState('');
  const add = useMutation({
    mutationFn: (body: NewPerson) => call(addPerson, { body }),
    onSuccess: (_, body) => onAdded(body.name),
  });
  const submit = (event: FormEvent): void => {
    event.preventDefault();
    if (person === null) add.mutate({ name: name.trim(), displayName: displayName.trim(), role, password });
    else
      onChange({
        displayName: displayName.trim(),
        role,
        ...(password !== '' && { password }),
      });
    setPassword('');
  };
  const error = add.error ?? failure;
  return (
    <>
      <div className="sheet-head">
        <h2 className="sheet-title grow anywhere">{person === null ? 'New person' : person.name}</h2>
        <button type="button" className="link sm" onClick={onClose}>
          Close
        </button>
      </div>
      <Form className="inset d-grid gap-2 py-2" aria-label="Person" onSubmit={submit}>
        {person === null && (
          <Form.Group controlId="person-name">
            <Form.Label className="sm mb-0">Name to sign in by</Form.Label>
            <Form.Control
              size="sm"
              className="mono"
              value={name}
              required
              pattern="[a-z0-9][a-z0-9._\-]{0,62}"
              title="small letters, digits, dots, - and _"
              autoComplete="off"
              onChange={(event) => setName(event.target.value)}
            />
          </Form.Group>
        )}
        <Form.Group controlId="person-display">
          <Form.Label className="sm mb-0">Name that is shown</Form.Label>
          <Form.Control
            size="sm"
            value={displayName}
            required
            maxLength={100}
            onChange={(event) => setDisplayName(event.target.value)}
          />
        </Form.Group>
        <Form.Group controlId="person-role">
          <Form.Label className="sm mb-0">Role</Form.Label>
          <Form.Select size="sm" value={role} onChange={(event) => setRole(event.target.value as Role)}>
            {roles.map((one) => (
              <option key={one}>{one}</option>
            ))}
          </Form.Select>
        </Form.Group>
        <Form.Group controlId="person-password">
          <Form.Label className="sm mb-0">
            {person === null ? 'First password' : 'New password (empty: it stays)'}
          </Form.Label>
          <Form.Control
            size="sm"
            type="password"
            value={password}
            required={person === null}
            minLength={MIN_PASSWORD}
            autoComplete="new-password"
            onChange={(event) => setPassword(event.target.value)}
          />
          <p className="xs soft mb-0">At least {MIN_PASSWORD} characters; they change it after signing in.</p>
        </Form.Group>
        <div className="d-flex gap-2">
          <Button size="sm" type="submit" variant="primary" disabled={add.isPending}>
            {person === null ? 'Add' : 'Save'}
          </Button>
          {person !== null && !isMe && (
            <Button
              size="sm"
              variant="outline-secondary"
              onClick={() => onChange({ disabled: !person.disabled })}
            >
              {person.disabled ? 'Enable again' : 'Disable'}
            </Button>
          )}
        </div>
        {error !== null && <Failed title="Nothing was changed">{error.message}</Failed>}
      </Form>
      {person !== null && <Changes kind="person" name={person.name} zone={zone} />}
    </>
  );
}
