import type { JSX } from 'react';
import { count } from '../../ui/format.js';
import type { HuntRun } from '../../results/use-hunt-run.js';

/** The steps folded to a strip while an event is read. */
export function Spine({ steps, onOpen }: { steps: HuntRun['steps']; onOpen: () => void }): JSX.Element {
  return (
    <section className="sheet spine" aria-label="Steps, folded">
      <ol>
        <li>
          <button type="button" className="link" onClick={onOpen} aria-label="Open the steps">
            »
          </button>
        </li>
        {steps.map(({ line, keyword, rows }) => (
          <li key={line}>
            <b>{keyword}</b>
            {rows === null ? '' : count(rows)}
          </li>
        ))}
      </ol>
    </section>
  );
}
