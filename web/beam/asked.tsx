import { createContext, useCallback, useContext, useMemo, useState, type JSX, type ReactNode } from 'react';

interface AskedMoment {
  /** When the questions on screen were asked, milliseconds. */
  readonly at: number;
  /** Asks again: windows that follow the clock move up to now. */
  readonly again: () => void;
}

const AskedContext = createContext<AskedMoment>({ at: 0, again: () => undefined });

/** Keeps the one moment that all windows ending "now" end at. */
export function AskedProvider({ children }: { children: ReactNode }): JSX.Element {
  const [at, setAt] = useState(() => Date.now());
  const again = useCallback(() => setAt(Date.now()), []);
  const value = useMemo(() => ({ at, again }), [at, again]);
  return <AskedContext value={value}>{children}</AskedContext>;
}

export const useAsked = (): AskedMoment => useContext(AskedContext);
