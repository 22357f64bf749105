import type { JSX } from 'react';
import { count as figure } from '../../ui/format.js';
import type { Asking } from './WorkBar.js';

/** What can be done with all alerts that are chosen. */
export function ManyBar({
  count,
  onTake,
  onAsk,
  onMerge,
  onNone,
}: {
  count: number;
  onTake: () => void;
  onAsk: (asking: Asking) => void;
  /** Null where there is nothing to merge. */
  onMerge: (() => void) | null;
  onNone: () => void;
}): JSX.Element {
  return (
    <div className="inset work-bar sm">
      <b className="fw-medium grow">{figure(count)} chosen</b>
      <button type="button" className="link" onClick={onTake}>
        Take<kbd>T</kbd>
      </button>
      <button type="button" className="link" onClick={() => onAsk({ what: 'settle', verdict: 'harmless' })}>
        Settle as harmless<kbd>H</kbd>
      </button>
      <button type="button" className="link" onClick={() => onAsk({ what: 'hand over' })}>
        Hand over<kbd>O</kbd>
      </button>
      {onMerge !== null && (
        <button type="button" className="link" onClick={onMerge}>
          Merge into the open one<kbd>M</kbd>
        </button>
      )}
      <button type="button" className="link" onClick={onNone}>
        None
      </button>
    </div>
  );
}
