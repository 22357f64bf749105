import { useCallback } from 'react';
import { useSearchParams } from 'react-router';

/** Words of a page that stand in its address, so that a link carries them. */
export interface AddressState<Name extends string> {
  readonly values: Readonly<Record<Name, string>>;
  readonly put: (changes: Partial<Record<Name, string>>) => void;
  /** All of them as they usually are. */
  readonly clear: () => void;
  /** Whether any of these is not as it usually is. */
  readonly differs: (...names: readonly Name[]) => boolean;
  /** The whole query of the address, with its `?`: for links that stay on the page. */
  readonly within: string;
}

/**
 * What a page shows, kept in the query of its address; what is as usual is left out of it.
 * @param usual what each word is where the address does not say; the same object at each rendering
 */
export function useAddressState<Name extends string>(
  usual: Readonly<Record<Name, string>>,
): AddressState<Name> {
  const [parameters, setParameters] = useSearchParams();
  const names = Object.keys(usual) as Name[];
  const values = Object.fromEntries(
    names.map((name) => [name, parameters.get(name) ?? usual[name]]),
  ) as Record<Name, string>;
  const change = useCallback(
    (changes: Partial<Record<Name, string>>): void =>
      setParameters(
        (before) => {
          const next = new URLSearchParams(before);
          for (const [name, value] of Object.entries<string | undefined>(changes) as [Name, string][])
            if (value === usual[name]) next.delete(name);
            else next.set(name, value);
          return next;
        },
        { replace: true },
      ),
    [setParameters, usual],
  );
  return {
    values,
    put: change,
    clear: () => change(usual),
    differs: (...among) => (among.length === 0 ? names : among).some((name) => values[name] !== usual[name]),
    within: `?${parameters.toString()}`,
  };
}

/** A word of an address, where it is one of those that mean something there. */
export const oneOf = <T extends string>(words: readonly T[], word: string): T | undefined =>
  words.find((one) => one === word);
