import { useMutation, useQueryClient } from '@tanstack/react-query';
import type { JSX } from 'react';
import { readSession, signInPerson } from '../../../core/wire/endpoints/people.js';
import { answerTo, call } from '../../api/call.js';
import { FieldsForm, TextField } from '../../kit/form.js';
import { Lamp } from '../../ui/Glyphs.js';

interface Credentials {
  readonly name: string;
  readonly password: string;
}

/** The way in. After it, the page that was asked for opens. */
export function SignIn(): JSX.Element {
  const client = useQueryClient();
  const signIn = useMutation({
    mutationFn: (body: Credentials) => call(signInPerson, { body }),
    onSuccess: (person) => client.setQueryData(answerTo(readSession).queryKey, person),
  });
  return (
    <main className="sign-in">
      <section className="sheet" aria-label="Sign in">
        <div className="sheet-head">
          <Lamp />
          <h1 className="page-title">Under Lamp</h1>
        </div>
        <FieldsForm<Credentials>
          label="Sign in"
          className=""
          begin={{ name: '', password: '' }}
          send="Sign in"
          isSending={signIn.isPending}
          onSend={(values) => signIn.mutate(values)}
          failure={signIn.error}
          failed="You are not signed in"
        >
          <TextField<Credentials> name="name" label="Name" autoFocus autoComplete="username" required />
          <TextField<Credentials>
            name="password"
            label="Password"
            type="password"
            autoComplete="current-password"
            required
          />
        </FieldsForm>
      </section>
    </main>
  );
}
