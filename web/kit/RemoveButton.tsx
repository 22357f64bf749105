import { Dialog } from './Dialog.js';
import { useState, type JSX } from 'react';
import { Button } from 'react-bootstrap';

/** Removes something, after asking once. */
export function RemoveButton({
  label = 'Remove',
  what,
  consequence,
  onRemove,
  className = 'link sm',
  disabled = false,
}: {
  label?: string;
  /** What goes, as it is called: "the rule Many failures". */
  what: string;
  /** What that means for others; nothing where it means nothing. */
  consequence?: string;
  onRemove: () => void;
  className?: string;
  disabled?: boolean;
}): JSX.Element {
  const [asking, setAsking] = useState(false);
  return (
    <>
      <button
        type="button"
        className={className}
        disabled={disabled}
        aria-label={`${label} ${what}`}
        onClick={() => setAsking(true)}
      >
        {label}
      </button>
      {asking && (
        <Dialog
          title={
            <>
              {label} {what}?
            </>
          }
          onClose={() => setAsking(false)}
          foot={
            <>
              <Button variant="outline-secondary" autoFocus onClick={() => setAsking(false)}>
                Keep it
              </Button>
              <Button
                variant="primary"
                onClick={() => {
                  setAsking(false);
                  onRemove();
                }}
              >
                {label}
              </Button>
            </>
          }
        >
          <p className="sm mb-0">{consequence ?? 'It cannot be brought back.'}</p>
        </Dialog>
      )}
    </>
  );
}
