import { createContext, useCallback, useContext, useMemo, useState, type JSX, type ReactNode } from 'react';

interface AskedMoment {
  /** When the questions on screen were asked, milliseconds. */
  readonly at: number;
  /** Asks again: windows that follow the clock move up to now. @returns the moment it is asked at from here on */
  readonly again: () => number;
}

const AskedContext = createContext<AskedMoment>({ at: 0, again: () => 0 });

/** Keeps the one moment that all windows ending "now" end at. */
export function AskedProvider({ children }: { children: ReactNode }): JSX.Element {
  const [at, setAt] = useState(() => Date.now());
  const again = useCallback(() => {
    const now = Date.now();
    setAt(now);
    return now;
  }, []);
  const value = useMemo(() => ({ at, again }), [at, again]);
  return <AskedContext value={value}>{children}</AskedContext>;
}

export const useAsked = (): AskedMoment => useContext(AskedContext);
