import { type JSX, useState } from 'react';
import { Button, Form } from 'react-bootstrap';
import { Dialog } from '../../kit/Dialog.js';

/** Asks for another name of a column; what is shown goes into the step that renames it. */
export function RenameColumn({
  name,
  taken,
  onRename,
  onClose,
}: {
  readonly name: string;
  /** Names of the other columns. */
  readonly taken: readonly string[];
  readonly onRename: (name: string) => void;
  readonly onClose: () => void;
}): JSX.Element {
  const [next, setNext] = useState(name);
  const clean = next.trim();
  const doubled = taken.some((other) => other.toLowerCase() === clean.toLowerCase());
  const send = (): void => {
    onClose();
    if (clean !== name) onRename(clean);
  };
  return (
    <Dialog
      onSend={send}
      title="Rename the column"
      onClose={onClose}
      foot={
        <>
          <Button type="submit" variant="primary" disabled={clean === '' || doubled}>
            Rename
          </Button>
        </>
      }
    >
      <Form.Group controlId="rename-column">
        <Form.Label className="sm mb-0">Name of {name}</Form.Label>
        <Form.Control
          autoFocus
          value={next}
          maxLength={80}
          isInvalid={doubled}
          onChange={(event) => setNext(event.target.value)}
        />
        <Form.Control.Feedback type="invalid">Another column is called so.</Form.Control.Feedback>
      </Form.Group>
      <p className="xs soft pt-1 mb-0">It is written as a “show” step with the columns you see now.</p>
    </Dialog>
  );
}
