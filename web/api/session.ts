import { createContext, useContext } from 'react';
import type { Person } from '../../core/wire/people.js';

export const SessionContext = createContext<Person | null>(null);

/** Whoever is signed in. */
export function usePerson(): Person {
  const person = useContext(SessionContext);
  if (person === null) throw new Error('usePerson stands inside Session.');
  return person;
}
