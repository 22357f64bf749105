import { useQuery } from '@tanstack/react-query';
import type { JSX, ReactNode } from 'react';
import { readSession } from '../../core/wire/endpoints/people.js';
import { answerTo } from '../api/call.js';
import { ApiFailure } from '../api/client.js';
import { SessionContext } from '../api/session.js';
import { SignIn } from '../features/sign-in/SignIn.js';
import { Failed, Reading } from '../ui/State.js';

/** Shows what is inside to whoever is signed in, and the sign-in to everyone else. */
export function Session({ children }: { children: ReactNode }): JSX.Element {
  const session = useQuery({ ...answerTo(readSession), retry: false, staleTime: Infinity });
  if (session.isPending)
    return (
      <div className="sign-in">
        <Reading title="Lighting the lamp" />
      </div>
    );
  if (session.data !== undefined && !session.isError)
    return <SessionContext value={session.data}>{children}</SessionContext>;
  if (session.error instanceof ApiFailure && session.error.problem.status === 401) return <SignIn />;
  return (
    <div className="sign-in">
      <section className="sheet">
        <Failed title="The workbench cannot be reached">
          {session.error?.message}{' '}
          <button type="button" className="link" onClick={() => void session.refetch()}>
            Try again
          </button>
        </Failed>
      </section>
    </div>
  );
}
