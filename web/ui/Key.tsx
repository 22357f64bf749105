import type { JSX } from 'react';

/** A key in a sheet's foot, with what it does. */
export function Key({ keys, children }: { keys: readonly string[]; children: string }): JSX.Element {
  return (
    <span>
      {keys.map((key) => (
        <kbd key={key}>{key}</kbd>
      ))}
      {children}
    </span>
  );
}
