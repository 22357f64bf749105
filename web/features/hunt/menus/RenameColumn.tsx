import { useState, type FormEvent, type JSX } from 'react';
import { Button, Form, Modal } from 'react-bootstrap';

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
  const send = (event: FormEvent): void => {
    event.preventDefault();
    onClose();
    if (clean !== name) onRename(clean);
  };
  return (
    <Modal show onHide={onClose} aria-label="Rename the column">
      <Form onSubmit={send}>
        <Modal.Header closeButton>
          <Modal.Title>Rename the column</Modal.Title>
        </Modal.Header>
        <Modal.Body>
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
        </Modal.Body>
        <Modal.Footer>
          <Button type="submit" variant="primary" disabled={clean === '' || doubled}>
            Rename
          </Button>
        </Modal.Footer>
      </Form>
    </Modal>
  );
}
