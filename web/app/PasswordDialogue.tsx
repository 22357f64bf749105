import { useMutation } from '@tanstack/react-query';
import { type FormEvent, type JSX, useState } from 'react';
import { Button, Form, Modal } from 'react-bootstrap';
import { changePassword } from '../../core/wire/endpoints/people.js';
import { MIN_PASSWORD } from '../../core/wire/people.js';
import { call } from '../api/call.js';

/** Changes the own password. */
export function PasswordDialogue({ onHide }: { onHide: () => void }): JSX.Element {
  const [present, setPresent] = useState('');
  const [next, setNext] = useState('');
  const [again, setAgain] = useState('');
  const change = useMutation({
    mutationFn: () => call(changePassword, { body: { present, next } }),
  });
  const field = (
    id: string,
    label: string,
    value: string,
    set: (text: string) => void,
    autoComplete: string,
    minLength: number,
  ): JSX.Element => (
    <Form.Group controlId={`password-${id}`} className="pb-2">
      <Form.Label className="sm mb-0">{label}</Form.Label>
      <Form.Control
        size="sm"
        type="password"
        value={value}
        required
        minLength={minLength}
        autoComplete={autoComplete}
        onChange={(event) => set(event.target.value)}
      />
    </Form.Group>
  );
  const differ = again !== '' && again !== next;
  return (
    <Modal show onHide={onHide} aria-label="Password">
      <Modal.Header closeButton>
        <Modal.Title as="h2">Password</Modal.Title>
      </Modal.Header>
      {change.isSuccess ? (
        <>
          <Modal.Body>
            <p className="sm mb-0">
              It is changed. You are signed out everywhere else, and your tokens have ended.
            </p>
          </Modal.Body>
          <Modal.Footer>
            <Button variant="primary" onClick={onHide}>
              Close
            </Button>
          </Modal.Footer>
        </>
      ) : (
        <Form
          aria-label="Password"
          onSubmit={(event: FormEvent) => {
            event.preventDefault();
            if (!differ) change.mutate();
          }}
        >
          <Modal.Body>
            {field('present', 'Present password', present, setPresent, 'current-password', 1)}
            {field(
              'next',
              `New password, at least ${MIN_PASSWORD} characters`,
              next,
              setNext,
              'new-password',
              MIN_PASSWORD,
            )}
            {field('again', 'New password again', again, setAgain, 'new-password', MIN_PASSWORD)}
            {differ && <p className="problem sm">The two differ.</p>}
            {change.isError && (
              <p role="alert" className="problem sm mb-0">
                {change.error.message}
              </p>
            )}
          </Modal.Body>
          <Modal.Footer>
            <Button type="submit" variant="primary" disabled={change.isPending}>
              Change it
            </Button>
          </Modal.Footer>
        </Form>
      )}
    </Modal>
  );
}
