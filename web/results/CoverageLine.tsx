import type { JSX } from 'react';
import { count } from '../ui/format.js';
import type { HuntRun } from './use-hunt-run.js';

/** How much of the window the rows rest on, while it is read from the newest day back. */
export function CoverageLine({
  run,
  onStop,
}: {
  readonly run: HuntRun;
  readonly onStop: () => void;
}): JSX.Element | null {
  const { coverage, status } = run;
  if (coverage === null || coverage.days >= coverage.of) return null;
  const words = `${count(coverage.days)} of ${count(coverage.of)} days`;
  if (status === 'running')
    return (
      <div className="coverage" role="status">
        <span>{words} read, the newest first; figures sharpen as older ones come in</span>
        <span className="reading-bar">
          <i style={{ width: `${(coverage.days / coverage.of) * 100}%` }} />
        </span>
        <button type="button" className="link sm" onClick={onStop}>
          Stop
        </button>
      </div>
    );
  return <p className="stale">It ended after {words}: figures are of those alone.</p>;
}
