import { Dialog } from './Dialog.js';
import type { JSX } from 'react';
import { Button } from 'react-bootstrap';

/** The command for what is on screen, to be copied. */
export function CurlDialog({ text, onClose }: { text: string; onClose: () => void }): JSX.Element {
  return (
    <Dialog
      title="As curl"
      onClose={onClose}
      size="lg"
      foot={
        <>
          <Button variant="primary" onClick={() => void navigator.clipboard.writeText(text)}>
            Copy
          </Button>
        </>
      }
    >
      <p className="sm soft pb-2">
        The same over the API. Make a token in the user menu and set it as UNDER_LAMP_TOKEN.
      </p>
      <pre className="curl-text">{text}</pre>
    </Dialog>
  );
}
