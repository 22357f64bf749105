import type { Instant } from '../base/instant.js';
import type { SubjectKind } from './kinds.js';

/** Another name or id of a subject: between its first and last sighting, or always where both are null. */
export interface Joined {
  readonly value: string;
  readonly from: Instant | null;
  readonly to: Instant | null;
}

export interface Subject {
  readonly kind: SubjectKind;
  readonly name: string;
  readonly also: readonly Joined[];
}

/** What else a subject is called. Nothing for one that is not known. */
export type SubjectIndex = (kind: SubjectKind, name: string) => readonly Joined[];

const keyOf = (kind: SubjectKind, name: string): string => `${kind} ${name.trim().toLowerCase()}`;

/** Finds the other names of the given subjects, whatever the case of their names. */
export function indexSubjects(subjects: readonly Subject[]): SubjectIndex {
  const known = new Map<string, Joined[]>();
  for (const { kind, name, also } of subjects) {
    const key = keyOf(kind, name);
    known.set(key, [...(known.get(key) ?? []), ...also]);
  }
  return (kind, name) => known.get(keyOf(kind, name)) ?? [];
}
