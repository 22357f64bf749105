import { CaretDown } from '@phosphor-icons/react/dist/csr/CaretDown';
import { User } from '@phosphor-icons/react/dist/csr/User';
import { type JSX, lazy, Suspense, useState } from 'react';
import { Dropdown } from 'react-bootstrap';
import { Link } from 'react-router';
import { signOut } from '../../core/wire/endpoints/people.js';
import { call } from '../api/call.js';
import { usePerson } from '../api/session.js';

const PasswordDialogue = lazy(async () => ({
  default: (await import('./PasswordDialogue.js')).PasswordDialogue,
}));
const TokenDialogue = lazy(async () => ({ default: (await import('./TokenDialogue.js')).TokenDialogue }));

/** Who is signed in, and what concerns them alone. */
export function UserMenu({ onKeys }: { onKeys: () => void }): JSX.Element {
  const person = usePerson();
  const [token, setToken] = useState(false);
  const [password, setPassword] = useState(false);
  const leave = (): void => void call(signOut, {}).finally(() => window.location.assign('/'));
  return (
    <>
      <Dropdown align="end" className="ms-auto">
        <Dropdown.Toggle as="button" type="button" className="me">
          <User aria-hidden />
          {person.displayName}
          <CaretDown aria-hidden />
        </Dropdown.Toggle>
        <Dropdown.Menu>
          <Dropdown.Header>
            {person.name}, {person.role}
          </Dropdown.Header>
          <Dropdown.Item onClick={() => setPassword(true)}>Password</Dropdown.Item>
          <Dropdown.Item onClick={() => setToken(true)}>API tokens</Dropdown.Item>
          {person.role === 'admin' && (
            <Dropdown.Item as={Link} to="/people">
              People
            </Dropdown.Item>
          )}
          {person.role === 'admin' && (
            <Dropdown.Item as={Link} to="/clock">
              Work by the clock
            </Dropdown.Item>
          )}
          <Dropdown.Item onClick={onKeys}>Keys</Dropdown.Item>
          <Dropdown.Divider />
          <Dropdown.Item onClick={leave}>Sign out</Dropdown.Item>
        </Dropdown.Menu>
      </Dropdown>
      {password && (
        <Suspense fallback={null}>
          <PasswordDialogue onHide={() => setPassword(false)} />
        </Suspense>
      )}
      {token && (
        <Suspense fallback={null}>
          <TokenDialogue onHide={() => setToken(false)} />
        </Suspense>
      )}
    </>
  );
}
