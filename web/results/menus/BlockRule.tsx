import type { JSX } from 'react';
import { Button } from 'react-bootstrap';
import { narrowBlockRule } from '../../../core/net/block-rule.js';
import { Dialog } from '../../kit/Dialog.js';
import type { PickedValue } from './CellMenu.js';
import { trafficOf } from './traffic.js';

/** The rule that blocks what a row stands for and no more, as text to be handed on. */
export function BlockRule({ picked, onClose }: { picked: PickedValue; onClose: () => void }): JSX.Element {
  const rule = narrowBlockRule(trafficOf(picked)) ?? '';
  return (
    <Dialog
      title="A narrow block rule"
      onClose={onClose}
      size="lg"
      foot={
        <>
          <Button variant="primary" onClick={() => void navigator.clipboard.writeText(rule)}>
            Copy
          </Button>
        </>
      }
    >
      <p className="sm soft pb-2">
        It blocks what this row stands for and nothing else. What the row does not name is any: keep the
        columns that matter, and the rule gets narrower.
      </p>
      <pre className="curl-text">{rule}</pre>
    </Dialog>
  );
}
