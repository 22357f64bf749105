import { useEffect, type JSX } from 'react';
import { firstHunt, type BenchNow } from './first-hunt.js';

/** The guided first hunt: what to do next, and on as soon as it is done. */
export function Guide({
  step,
  now,
  onStep,
}: {
  /** From 1. */
  readonly step: number;
  readonly now: BenchNow;
  /** Goes to a step; null ends the guide. */
  readonly onStep: (step: number | null) => void;
}): JSX.Element | null {
  const shown = firstHunt[step - 1];
  const done = shown?.done(now) === true;
  useEffect(() => {
    if (done) onStep(step + 1);
  }, [done, step, onStep]);
  if (shown === undefined) return null;
  const last = step === firstHunt.length;
  return (
    <aside className="guide" aria-label="First hunt" aria-live="polite">
      <p className="xs soft mb-0">
        First hunt, {step} of {firstHunt.length}
      </p>
      <h2 className="section-head">{shown.title}</h2>
      <p className="sm mb-1">{shown.words}</p>
      <p className="d-flex gap-3 mb-0">
        {step > 1 && (
          <button type="button" className="link xs" onClick={() => onStep(step - 1)}>
            back
          </button>
        )}
        {!last && (
          <button type="button" className="link xs" onClick={() => onStep(step + 1)}>
            skip
          </button>
        )}
        <button type="button" className="link xs" onClick={() => onStep(null)}>
          {last ? 'done' : 'leave the guide'}
        </button>
      </p>
    </aside>
  );
}
