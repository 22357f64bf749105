import { useMutation, useQueryClient } from '@tanstack/react-query';
import { type FormEvent, type JSX, useState } from 'react';
import { Button, Form } from 'react-bootstrap';
import { readSession, signInPerson } from '../../../core/wire/endpoints/people.js';
import { answerTo, call } from '../../api/call.js';
import { Lamp } from '../../ui/Glyphs.js';

/** The way in. After it, the page that was asked for opens. */
export function SignIn(): JSX.Element {
  const client = useQueryClient();
  const [name, setName] = useState('');
  const [password, setPassword] = useState('');
  const signIn = useMutation({
    mutationFn: () => call(signInPerson, { body: { name, password } }),
    onSuccess: (person) => client.setQueryData(answerTo(readSession).queryKey, person),
  });
  const submit = (event: FormEvent): void => {
    event.preventDefault();
    signIn.mutate();
  };
  return (
    <main className="sign-in">
      <section className="sheet" aria-label="Sign in">
        <div className="sheet-head" style={{ alignItems: 'center', padding: '20px 24px 12px' }}>
          <Lamp />
          <h1 className="page-title">Under Lamp</h1>
        </div>
        <form onSubmit={submit}>
          <Form.Group controlId="name">
            <Form.Label className="sm">Name</Form.Label>
            <Form.Control
              autoFocus
              autoComplete="username"
              value={name}
              onChange={(event) => setName(event.target.value)}
              required
            />
          </Form.Group>
          <Form.Group controlId="password">
            <Form.Label className="sm">Password</Form.Label>
            <Form.Control
              type="password"
              autoComplete="current-password"
              value={password}
              onChange={(event) => setPassword(event.target.value)}
              required
            />
          </Form.Group>
          {signIn.isError && (
            <p className="sm problem" role="alert">
              {signIn.error.message}
            </p>
          )}
          <Button type="submit" variant="primary" disabled={signIn.isPending}>
            Sign in
          </Button>
        </form>
      </section>
    </main>
  );
}
