import type { JSX, ReactNode } from 'react';

/** Nothing is here: says what is missing, and what to do next. */
export function Empty({ title, children }: { title: string; children?: ReactNode }): JSX.Element {
  return (
    <div className="state">
      <p className="section-head mb-0">{title}</p>
      {children !== undefined && <p>{children}</p>}
    </div>
  );
}

/** Something failed: what, and what to do. */
export function Failed({ title, children }: { title: string; children?: ReactNode }): JSX.Element {
  return (
    <div className="state bad" role="alert">
      <p className="section-head mb-0">{title}</p>
      {children !== undefined && <p>{children}</p>}
    </div>
  );
}

/** Something is on its way; with a way to stop where there is one. */
export function Reading({ title, onStop }: { title: string; onStop?: () => void }): JSX.Element {
  return (
    <div className="state" role="status">
      <p className="section-head mb-0">{title}</p>
      <div className="reading-bar unknown">
        <i />
      </div>
      {onStop !== undefined && (
        <button type="button" className="link sm" onClick={onStop}>
          Stop
        </button>
      )}
    </div>
  );
}
