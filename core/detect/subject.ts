import type { Event } from '../events/event.js';
import { fieldLookup } from '../sigma/field-lookup.js';
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

/**
 * The group an event falls in.
 * @returns null when it lacks one of the fields: then it takes no part
 */
export function groupSubject(event: Event, groupBy: readonly string[]): Subject | null {
  const fields: Record<string, string> = {};
  for (const field of groupBy) {
    const value = jsonToText(fieldLookup(field)(event));
    if (value === null) return null;
    fields[field] = value;
  }
  return makeSubject(fields);
}
