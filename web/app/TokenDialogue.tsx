import { useMutation } from '@tanstack/react-query';
import type { JSX } from 'react';
import { Button, Modal } from 'react-bootstrap';
import { askJson } from '../api/client.js';

/** A personal token for curl: shown once, then only its hash is kept. */
export function TokenDialogue({ onHide }: { onHide: () => void }): JSX.Element {
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
