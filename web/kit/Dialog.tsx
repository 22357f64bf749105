import { type JSX, type ReactNode, useId } from 'react';
import { Modal } from 'react-bootstrap';

/** A dialogue over the page: a title, what is asked or shown, and what can be done about it. Escape closes it. */
export function Dialog({
  title,
  onClose,
  size,
  foot,
  children,
  onSend,
}: {
  title: ReactNode;
  onClose: () => void;
  size?: 'lg' | 'xl';
  /** Buttons at its end. */
  foot?: ReactNode;
  children: ReactNode;
  /** Makes a form of it, which Enter sends. */
  onSend?: () => void;
}): JSX.Element {
  const id = useId();
  const inside = (
    <>
      <Modal.Header closeButton>
        <Modal.Title as="h2" id={id} className="anywhere">
          {title}
        </Modal.Title>
      </Modal.Header>
      <Modal.Body>{children}</Modal.Body>
      {foot !== undefined && <Modal.Footer>{foot}</Modal.Footer>}
    </>
  );
  return (
    <Modal show onHide={onClose} scrollable aria-labelledby={id} {...(size && { size })}>
      {onSend === undefined ? (
        inside
      ) : (
        <form
          className="modal-form"
          onSubmit={(event) => {
            event.preventDefault();
            onSend();
          }}
        >
          {inside}
        </form>
      )}
    </Modal>
  );
}
