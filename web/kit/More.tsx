import type { JSX } from 'react';

/** Asks for the rows that follow those that are shown; nothing where there are none. */
export function More({
  onMore,
  label = 'Show more',
}: {
  onMore: (() => void) | null;
  label?: string;
}): JSX.Element | null {
  return onMore === null ? null : (
    <p className="inset py-2 mb-0">
      <button type="button" className="link sm" onClick={onMore}>
        {label}
      </button>
    </p>
  );
}
