import type { JsonObject } from '../base/json.js';
import type { RecordShape } from './joined.js';

/** A record read into fields, or why it could not be. */
export type Reading =
  | { readonly fields: JsonObject }
  | { readonly fields: null; readonly code: ReadFailure; readonly reason: string };

/** Stable names of what can be wrong with a record as such. */
export type ReadFailure =
  | 'not-json'
  | 'not-an-object'
  | 'too-deep'
  | 'too-long'
  | 'not-syslog'
  | 'not-csv'
  | 'not-pairs'
  | 'not-combined'
  | 'not-flow'
  | 'not-xml'
  | 'not-audit'
  /** A line that only names the columns; it holds nothing and is left out. */
  | 'heading';

/** What a recipe says of the shape of its records. */
export interface FormatOptions {
  /** Names of the columns in their order, for shapes that do not name them in each record. */
  readonly columns?: readonly string[];
  /** Between the columns of CSV; a comma unless given. */
  readonly delimiter?: string;
  /** How lines or documents make up records, where that is not one a line. */
  readonly records?: RecordShape;
}

/** Cuts a stream of text into the texts of its records, piece by piece, in bounded memory. */
export interface Cutter {
  /** The records that are whole with this piece. */
  push(piece: string): string[];
  /** What is left at the end of the stream. */
  end(): string[];
}

/** One shape in which records come. */
export interface Format {
  readonly title: string;
  /** True where records do not name their columns, so that the recipe must. */
  readonly needsColumns?: true;
  cutter(): Cutter;
  /** A reader of single records. It never throws. */
  reader(options: FormatOptions): (record: string) => Reading;
}

/** A record of more characters is no record; the rest of the stream is still read. */
export const MAX_RECORD_LENGTH = 1 << 20;

/** Shortens a record for a message. */
export const excerpt = (text: string): string => (text.length > 80 ? `${text.slice(0, 77)}…` : text);

export const unreadable = (code: ReadFailure, reason: string): Reading => ({ fields: null, code, reason });

/** Why a record that is too long is not read; only its beginning is kept. */
export const tooLong = (): Reading =>
  unreadable(
    'too-long',
    `longer than ${MAX_RECORD_LENGTH.toLocaleString('en')} characters; only its beginning is kept`,
  );

/** All records of a whole text. */
export function cutWhole(format: Pick<Format, 'cutter'>, text: string): string[] {
  const cutter = format.cutter();
  return [...cutter.push(text), ...cutter.end()];
}
