import type { JsonObject } from '../base/json.js';

/** A record read into fields, or why it could not be. */
export type Reading =
  | { readonly fields: JsonObject }
  | { readonly fields: null; readonly code: ReadFailure; readonly reason: string };

/** Stable names of what can be wrong with a record as such. */
export type ReadFailure = 'not-json' | 'not-an-object' | 'too-deep' | 'too-long' | 'not-syslog';

/** One shape in which records come. */
export interface Format {
  readonly title: string;
  /** Cuts a whole text into the texts of its records. */
  split(text: string): Iterable<string>;
  /** Reads the text of one record. It never throws. */
  read(record: string): Reading;
}

/** A record of more signs is no record; the rest of the stream is still read. */
export const LONGEST_RECORD = 1 << 20;

/** Shortens a record for a message. */
export const excerpt = (text: string): string => (text.length > 80 ? `${text.slice(0, 77)}…` : text);

/** Lines of a text without their ends, leaving out empty ones. */
export function* lines(text: string): Generator<string> {
  let from = 0;
  while (from < text.length) {
    const end = text.indexOf('\n', from);
    const line = text.slice(from, end < 0 ? text.length : end);
    const bare = line.endsWith('\r') ? line.slice(0, -1) : line;
    if (bare.trim() !== '') yield bare;
    if (end < 0) return;
    from = end + 1;
  }
}
