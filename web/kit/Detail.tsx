import type { JSX } from 'react';
import { Empty } from '../ui/State.js';

/** The place of what a list opens, while nothing is open; or while the address names what is not there. */
export function NothingOpen({
  label,
  title,
  hint,
}: {
  /** What opens there: "Case". */
  label: string;
  title: string;
  hint: string;
}): JSX.Element {
  return (
    <section className="sheet" aria-label={label}>
      <Empty title={title}>{hint}</Empty>
    </section>
  );
}
