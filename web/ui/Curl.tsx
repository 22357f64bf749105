import { useState, type JSX } from 'react';
import { Button, Modal } from 'react-bootstrap';

const shellQuote = (text: string): string => `'${text.replaceAll("'", `'\\''`)}'`;

/** The request behind what is shown, as a command that runs. */
export function curlOf(path: string, body?: unknown): string {
  const lines = [`curl -sS -H "Authorization: Bearer $UNDER_LAMP_TOKEN"`];
  if (body !== undefined)
    lines.push(`-H 'Content-Type: application/json' --data ${shellQuote(JSON.stringify(body))}`);
  lines.push(shellQuote(`${window.location.origin}/api/v1${path}`));
  return lines.join(' \\\n  ');
}

/** Opens the command for what is on screen. */
export function CurlLink({ path, body }: { path: string; body?: unknown }): JSX.Element {
  const [open, setOpen] = useState(false);
  const text = curlOf(path, body);
  return (
    <>
      <button type="button" className="link" onClick={() => setOpen(true)}>
        As curl
      </button>
      <Modal show={open} onHide={() => setOpen(false)} aria-label="As curl" size="lg">
        <Modal.Header closeButton>
          <Modal.Title>As curl</Modal.Title>
        </Modal.Header>
        <Modal.Body>
          <p className="sm soft pb-2">
            The same over the API. Make a token in the user menu and set it as UNDER_LAMP_TOKEN.
          </p>
          <pre className="curl-text">{text}</pre>
        </Modal.Body>
        <Modal.Footer>
          <Button variant="primary" onClick={() => void navigator.clipboard.writeText(text)}>
            Copy
          </Button>
        </Modal.Footer>
      </Modal>
    </>
  );
}
