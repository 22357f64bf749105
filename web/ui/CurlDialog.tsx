import type { JSX } from 'react';
import { Button, Modal } from 'react-bootstrap';

/** The command for what is on screen, to be copied. */
export function CurlDialog({ text, onClose }: { text: string; onClose: () => void }): JSX.Element {
  return (
    <Modal show onHide={onClose} aria-label="As curl" size="lg">
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
  );
}
