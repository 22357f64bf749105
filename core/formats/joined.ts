import { parseRegex } from '../text/regex-syntax.js';
import { regexGroups, regexTest } from '../text/regex-match.js';
import { MAX_RECORD_LENGTH, type Cutter } from './format.js';

// Records of several lines. What is held is bounded: lines of one record, records that are open, characters of all.

/** Lines of one record: what goes on for longer is cut there, and the rest is a record of its own. */
const MAX_LINES = 500;
/** Records that are open at once; the oldest is given out for a further one. */
const MAX_OPEN = 64;
/** Characters of all records that are open; beyond, the oldest are given out. */
const MAX_HELD = 4 * MAX_RECORD_LENGTH;
/** A record whose last line is so many lines ago gets no more. */
const MAX_BETWEEN = 256;

/** How lines belong together; expressions are of the linear dialect. */
export interface RecordShape {
  /** A record begins with a line in which this is found; lines before the next such belong to it. */
  readonly begins?: string;
  /** Lines that begin with a blank belong to the line before. */
  readonly indented?: boolean;
  /** A line in which this is found goes on with the next, such as `\\$` for a backslash at its end. */
  readonly continues?: string;
  /** Lines are of one record where the group `id` of this is the same, as in `id=(?<id>[0-9]+)`. */
  readonly joinedBy?: string;
  /** With this line a joined record is whole. */
  readonly ends?: string;
  /** Where in each JSON document the list of records stands, with dots between names, such as `Records`. */
  readonly list?: string;
}

/** Whether a line goes on the record before it. */
export type GoesOn = (line: string, before: string) => boolean;

/** @throws RegexError */
export function goesOnOf({ begins, indented, continues }: RecordShape): GoesOn | null {
  const isBegin = begins === undefined ? null : regexTest(parseRegex(begins));
  const isOpen = continues === undefined ? null : regexTest(parseRegex(continues));
  if (isBegin === null && isOpen === null && indented !== true) return null;
  return (line, before) =>
    (indented === true && (line.startsWith(' ') || line.startsWith('\t'))) ||
    (isOpen !== null && isOpen(before)) ||
    (isBegin !== null && !isBegin(line));
}

/** Joins lines that go on to the record they belong to, with their line ends between. */
export function joinLines(lines: Cutter, goesOn: GoesOn): Cutter {
  let held: string[] = [];
  let length = 0;
  const take = (found: string[], line: string): void => {
    const last = held.at(-1);
    const fits = held.length < MAX_LINES && length + line.length < MAX_RECORD_LENGTH;
    if (last !== undefined && fits && goesOn(line, last)) {
      held.push(line);
      length += line.length + 1;
      return;
    }
    give(found);
    held = [line];
    length = line.length;
  };
  const give = (found: string[]): void => {
    if (held.length > 0) found.push(held.join('\n'));
    held = [];
    length = 0;
  };
  return {
    push(piece) {
      const found: string[] = [];
      for (const line of lines.push(piece)) take(found, line);
      return found;
    },
    end() {
      const found: string[] = [];
      for (const line of lines.end()) take(found, line);
      give(found);
      return found;
    },
  };
}

interface OpenRecord {
  readonly lines: string[];
  length: number;
  /** The number of its last line. */
  at: number;
}

/** What of a line says to which record it belongs; null for a line that is a record by itself. */
export type IdOf = (line: string) => string | null;

/** @param joinedBy an expression whose group `id` says it @throws RegexError */
export function idOfExpression(joinedBy: string): IdOf {
  const groups = regexGroups(parseRegex(joinedBy), ['id']);
  return (line) => groups(line)?.[0] ?? null;
}

/** Joins lines of the same id, which may come mixed with lines of others. */
export function joinById(lines: Cutter, idOf: IdOf, isEnd: (line: string) => boolean): Cutter {
  const open = new Map<string, OpenRecord>();
  let number = 0;
  let held = 0;
  const give = (found: string[], id: string): void => {
    const record = open.get(id);
    if (record === undefined) return;
    found.push(record.lines.join('\n'));
    held -= record.length;
    open.delete(id);
  };
  const take = (found: string[], line: string): void => {
    number++;
    const id = idOf(line);
    if (id === null) {
      found.push(line);
      return;
    }
    let record = open.get(id);
    if (
      record !== undefined &&
      (record.lines.length >= MAX_LINES || record.length + line.length > MAX_RECORD_LENGTH)
    ) {
      give(found, id);
      record = undefined;
    }
    if (record === undefined) {
      record = { lines: [], length: 0, at: number };
      open.set(id, record);
    }
    record.lines.push(line);
    record.length += line.length + 1;
    held += line.length + 1;
    record.at = number;
    if (isEnd(line)) give(found, id);
    for (const [other, { at }] of open) {
      if (open.size <= MAX_OPEN && held <= MAX_HELD && number - at <= MAX_BETWEEN) break;
      give(found, other);
    }
  };
  return {
    push(piece) {
      const found: string[] = [];
      for (const line of lines.push(piece)) take(found, line);
      return found;
    },
    end() {
      const found: string[] = [];
      for (const line of lines.end()) take(found, line);
      for (const id of [...open.keys()]) give(found, id);
      return found;
    },
  };
}
