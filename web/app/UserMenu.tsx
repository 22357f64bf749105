import { CaretDown } from '@phosphor-icons/react/dist/csr/CaretDown';
import { User } from '@phosphor-icons/react/dist/csr/User';
import { useMutation } from '@tanstack/react-query';
import { useState, type JSX } from 'react';
import { Button, Dropdown, Modal } from 'react-bootstrap';
import { ask, askJson } from '../api/client.js';
import { usePerson } from '../api/session.js';

/** A personal token for curl: shown once, then only its hash is kept. */
function TokenDialogue({ onHide }: { onHide: () => void }): JSX.Element {
  const make = useMutation({
    mutationFn: () =>
      askJson<{ token: string }>('/tokens', { method: 'POST', body: { label: 'made in the user menu' } }),
  });
  return (
    <Modal show onHide={onHide} aria-label="API token">
      <Modal.Header closeButton>
        <Modal.Title>API token</Modal.Title>
      </Modal.Header>
      <Modal.Body>
        <p className="sm pb-2">
          With a token, curl and other programs do whatever you may do. Everything they can ask for is
          described at /api/v1/openapi.json.
        </p>
        {make.data !== undefined && (
          <>
            <p className="sm pb-1">Keep it now; it is not shown again.</p>
            <pre
              className="curl-text"
              data-testid="token"
            >{`export UNDER_LAMP_TOKEN=${make.data.token}`}</pre>
          </>
        )}
        {make.isError && <p role="alert">{make.error.message}</p>}
      </Modal.Body>
      <Modal.Footer>
        {make.data === undefined ? (
          <Button variant="primary" onClick={() => make.mutate()} disabled={make.isPending}>
            Make a token
          </Button>
        ) : (
          <Button variant="primary" onClick={() => void navigator.clipboard.writeText(make.data.token)}>
            Copy
          </Button>
        )}
      </Modal.Footer>
    </Modal>
  );
}

/** Who is signed in, and what concerns them alone. */
export function UserMenu({ onKeys }: { onKeys: () => void }): JSX.Element {
  const person = usePerson();
  const [token, setToken] = useState(false);
  const signOut = (): void =>
    void ask('/session', { method: 'DELETE' }).finally(() => window.location.assign('/'));
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
          <Dropdown.Item onClick={() => setToken(true)}>API token</Dropdown.Item>
          <Dropdown.Item onClick={onKeys}>Keys</Dropdown.Item>
          <Dropdown.Divider />
          <Dropdown.Item onClick={signOut}>Sign out</Dropdown.Item>
        </Dropdown.Menu>
      </Dropdown>
      {token && <TokenDialogue onHide={() => setToken(false)} />}
    </>
  );
}
