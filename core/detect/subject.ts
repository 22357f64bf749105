import type { Event } from '../events/event.js';
import { fieldLookup } from '../sigma/field-lookup.js';
import type { GroupField } from '../sigma/predicate.js';
import { jsonToText } from '../text/json-text.js';

/** Whom or what a match is about: the fields it is made of, and one text that names it. */
export interface Subject {
  readonly fields: Readonly<Record<string, string>>;
  readonly text: string;
}

/** Where a rule says nothing, a match is about the first of these that the event has. */
const USUAL = ['user', 'target_user', 'src_ip', 'host', 'account', 'source'] as const;

const makeSubject = (fields: Record<string, string>): Subject => ({
  fields,
  text: Object.values(fields).join(', '),
});

/** The subject of a match of a rule without groups. */
export function usualSubject(event: Event): Subject {
  for (const field of USUAL) {
    const value = event[field];
    if (typeof value === 'string' && value !== '') return makeSubject({ [field]: value });
  }
  return makeSubject({});
}

/** Reads a correlation's group off an event that a rule matched; null when it lacks a field: then it takes no part. */
export type GroupReader = (event: Event) => Subject | null;

/** How the group of a correlation is read. @param referred the rule that matched, whose fields may be called otherwise */
export function groupReader(groupBy: readonly GroupField[], referred: number): GroupReader {
  const readers = groupBy.map(({ name, per }) => [name, fieldLookup(per.get(referred) ?? name)] as const);
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
