import type { Instant } from '../base/instant.js';
import type { Json } from '../base/json.js';
import type { Event } from '../events/event.js';
import { boundedText } from '../text/bounded-text.js';

/** What studies look at of one record: little, so that many can be held. */
export interface Fact {
  readonly time: Instant;
  readonly kind: string;
  readonly operation: string;
  readonly outcome: string;
  readonly user: string | null;
  /** Whom or what it was done to. */
  readonly target: string | null;
  readonly address: string | null;
  readonly fromHost: string | null;
  readonly host: string | null;
  readonly how: string | null;
  /** A command line, a path, a message: shortened. */
  readonly what: string | null;
}

/** Where a record stands: its file, and its number within it, from 1. */
export interface Place {
  readonly file: string;
  readonly line: number;
}

/** A fact with its place, and the titles of the rules that it matched. */
export interface PlacedFact extends Fact, Place {
  readonly rules: readonly string[];
}

/** A picture of who reached whom. */
export interface Graph {
  readonly nodes: readonly string[];
  readonly edges: readonly { readonly from: string; readonly to: string; readonly count: number }[];
}

/** What a study found. */
export interface StudyTable {
  readonly study: StudyName;
  readonly title: string;
  readonly columns: readonly string[];
  readonly rows: readonly (readonly Json[])[];
  readonly graph?: Graph;
  /** What the table leaves out, and why. */
  readonly notes: readonly string[];
}

export const studyNames = ['timeline', 'lateral-movement', 'brute-force'] as const;
export type StudyName = (typeof studyNames)[number];

/** Kinds whose every event is worth a line; of the rest only what a rule matched, or what is done seldom. */
const TOLD: ReadonlySet<string> = new Set([
  'signin',
  'account',
  'rights',
  'acting',
  'software',
  'log',
  'finding',
  'cloud',
  'process',
]);

const MAX_TEXT = 200;

const textOf = (value: unknown): string | null =>
  typeof value === 'string' && value !== '' ? boundedText(value, MAX_TEXT) : null;

/**
 * What studies look at of an event; null where it tells none of them anything.
 * @param matched whether a rule matched it: then it is always told
 */
export function factOf(event: Omit<Event, 'id'>, matched: boolean): Fact | null {
  const { kind } = event;
  if (typeof event.time !== 'number' || (!matched && !TOLD.has(kind ?? ''))) return null;
  return {
    time: event.time,
    kind: kind ?? 'system',
    operation: textOf(event.operation) ?? '',
    outcome: event.outcome ?? 'unknown',
    user: textOf(event.user),
    target: textOf(event.target_user) ?? textOf(event.acting_as) ?? textOf(event.group_name),
    address: textOf(event.src_ip),
    fromHost: textOf(event.src_host),
    host: textOf(event.host),
    how: textOf(event.logon_type) ?? textOf(event.reason),
    what:
      textOf(event.command_line) ??
      textOf(event.resource) ??
      textOf(event.service) ??
      textOf(event.application) ??
      textOf(event.process_path) ??
      textOf(event.message),
  };
}

/** Facts in the order in which they happened; of equal times in the order of the files. */
export const inOrder = (facts: readonly PlacedFact[]): PlacedFact[] =>
  [...facts].sort((a, b) => a.time - b.time);
