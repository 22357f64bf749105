import type { Event } from '../events/event.js';
import { renamedLookup } from '../predicate/field-lookup.js';
import type { GroupField } from '../sigma/rule-model.js';
import { boundedText } from '../text/bounded-text.js';
import { jsonToText } from '../text/json-text.js';

/** Whom or what a match is about: the fields it is made of, and one text that names it. */
export interface Subject {
  readonly fields: Readonly<Record<string, string>>;
  readonly text: string;
}

/** Where a rule says nothing, a match is about the first of these that the event has. */
export const USUAL_SUBJECTS = ['user', 'target_user', 'src_ip', 'host', 'account', 'source'] as const;

/** Bytes of a subject's text: alerts are found by it, and an index takes no longer one. */
const MAX_SUBJECT_BYTES = 1000;

/** A subject of fields; its text names their values, shortened where they are very long. */
export const makeSubject = (fields: Record<string, string>): Subject => ({
  fields,
  text: boundedText(Object.values(fields).join(', '), MAX_SUBJECT_BYTES),
});

/** The subject of a match of a rule without groups. */
export function usualSubject(event: Event): Subject {
  for (const field of USUAL_SUBJECTS) {
    const value = event[field];
    if (typeof value === 'string' && value !== '') return makeSubject({ [field]: value });
  }
  return makeSubject({});
}

/**
 * The subject of a match of a rule that names the fields of it; those that the event lacks are left out, and where it
 * has none of them it is the usual one.
 */
export function subjectReader(fields: readonly string[] | null): (event: Event) => Subject {
  if (fields === null) return usualSubject;
  const readers = fields.map((name) => [name, renamedLookup(name)] as const);
  return (event) => {
    const found = readers.flatMap(([name, read]) => {
      const value = jsonToText(read(event));
      return value === null || value === '' ? [] : [[name, value] as const];
    });
    return found.length === 0 ? usualSubject(event) : makeSubject(Object.fromEntries(found));
  };
}

/** Reads a correlation's group off an event that a rule matched; null when it lacks a field: then it takes no part. */
export type GroupReader = (event: Event) => Subject | null;

/**
 * How the group of a correlation is read.
 * @param referred the rule that matched, whose fields may be called otherwise
 * @param renames what its log source calls our fields
 */
export function groupReader(
  groupBy: readonly GroupField[],
  referred: number,
  renames: Readonly<Record<string, string>> = {},
): GroupReader {
  const readers = groupBy.map(
    ({ name, per }) => [name, renamedLookup(per.get(referred) ?? name, renames)] as const,
  );
  return (event) => {
    const fields: Record<string, string> = {};
    for (const [name, read] of readers) {
      const value = jsonToText(read(event));
      if (value === null) return null;
      fields[name] = value;
    }
    return makeSubject(fields);
  };
}

/**
 * The group of a completed correlation within another that rests on it: by the names that it is grouped by itself.
 * @returns null when the inner group lacks a field
 */
export function outerGroup(inner: Subject, groupBy: readonly GroupField[], referred: number): Subject | null {
  const fields: Record<string, string> = {};
  for (const { name, per } of groupBy) {
    const value = inner.fields[per.get(referred) ?? name];
    if (value === undefined) return null;
    fields[name] = value;
  }
  return makeSubject(fields);
}
