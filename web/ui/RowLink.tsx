import type { JSX, ReactNode } from 'react';
import { Link } from 'react-router';

/** The name in a row that opens something when it is clicked anywhere; as a link it also opens beside. */
export function RowLink({
  to,
  mono = false,
  title,
  children,
}: {
  to: string;
  mono?: boolean;
  title?: string;
  children: ReactNode;
}): JSX.Element {
  return (
    <Link
      className={`queue-title${mono ? ' mono' : ''}`}
      to={to}
      title={title}
      // The row would open it a second time.
      onClick={(event) => event.stopPropagation()}
    >
      {children}
    </Link>
  );
}
