import type { JSX } from 'react';
import { Button, Modal } from 'react-bootstrap';
import { narrowBlockRule } from '../../../../core/net/block-rule.js';
import type { PickedValue } from './CellMenu.js';
import { trafficOf } from './traffic.js';

/** The rule that blocks what a row stands for and no more, as text to be handed on. */
export function BlockRule({ picked, onClose }: { picked: PickedValue; onClose: () => void }): JSX.Element {
  const rule = narrowBlockRule(trafficOf(picked)) ?? '';
  return (
    <Modal show onHide={onClose} aria-label="A narrow block rule" size="lg">
      <Modal.Header closeButton>
        <Modal.Title>A narrow block rule</Modal.Title>
      </Modal.Header>
      <Modal.Body>
        <p className="sm soft pb-2">
          It blocks what this row stands for and nothing else. What the row does not name is any: keep the
          columns that matter, and the rule gets narrower.
        </p>
        <pre className="curl-text">{rule}</pre>
      </Modal.Body>
      <Modal.Footer>
        <Button variant="primary" onClick={() => void navigator.clipboard.writeText(rule)}>
          Copy
        </Button>
      </Modal.Footer>
    </Modal>
  );
}
