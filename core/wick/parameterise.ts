import { asksOf } from './compile.js';
import { HuntError } from './hunt-error.js';
import { quoteText } from './spell.js';
import { Scanner, type Token } from './tokens.js';

// A value written in a hunt becomes a blank of it, so that the hunt can be handed to somebody as a form.

/** A value that stands in a hunt, and the field it is compared with where that can be told. */
export interface WrittenValue {
  /** Offsets in the text, in UTF-16 units. */
  readonly from: number;
  readonly to: number;
  /** As it is written, quotes included. */
  readonly written: string;
  /** The last name before it, such as `user` in `user = 'teo.marrash'`. */
  readonly near: string | null;
}

const VALUES: ReadonlySet<Token['kind']> = new Set(['text', 'number', 'duration']);
/** Words before a name that say that it is none. */
const NO_NAMES: ReadonlySet<string> = new Set([
  'and',
  'or',
  'not',
  'in',
  'like',
  'between',
  'matches',
  'within',
  'list',
  'has',
  'about',
  'is',
  'last',
]);

/** Every value that stands in the steps of a hunt, in order; as far as the text can be read. */
export function writtenValues(text: string): WrittenValue[] {
  const found: WrittenValue[] = [];
  try {
    const scanner = new Scanner(text);
    while (scanner.startStep()) {
      const begins = scanner.peek();
      let near: string | null = null;
      // What an "ask" or a "read" says is theirs: nothing to be filled in.
      const fixed = begins.kind === 'word' && /^(?:ask|read|from)$/i.test(begins.text);
      for (let token = scanner.next(); token.kind !== 'end'; token = scanner.next()) {
        if (token.kind === 'name' || (token.kind === 'word' && !NO_NAMES.has(token.text.toLowerCase())))
          near = token === begins ? null : token.text;
        if (fixed || !VALUES.has(token.kind)) continue;
        const from = token.span.offset;
        const to = from + token.span.end - token.span.column;
        found.push({ from, to, written: text.slice(from, to), near });
      }
    }
  } catch (error) {
    if (!(error instanceof HuntError)) throw error;
  }
  return found;
}

/** The value that an offset lies in, or that it touches; else the first of its line; null where the line has none. */
export function valueAt(text: string, offset: number): WrittenValue | null {
  const values = writtenValues(text);
  const touched = values.find(({ from, to }) => from <= offset && offset <= to);
  if (touched !== undefined) return touched;
  const begins = text.lastIndexOf('\n', offset - 1) + 1;
  const ends = text.indexOf('\n', offset);
  return values.find(({ from }) => from >= begins && from < (ends < 0 ? text.length : ends)) ?? null;
}

const asName = (near: string): string => {
  const plain = near
    .toLowerCase()
    .replace(/[^a-z0-9_]+/g, '_')
    .replace(/^[\d_]+|_+$/g, '');
  return plain === '' ? 'value' : plain;
};

/**
 * The hunt with a value replaced by a blank of its own; what stood there is the blank's default, so that it runs as
 * before. The same value elsewhere stays.
 */
export function parameterise(text: string, { from, to, written, near }: WrittenValue): string {
  const asks = asksOf(text);
  const taken = new Set(asks.map(({ name }) => name.toLowerCase()));
  const base = asName(near ?? '');
  let name = base;
  for (let i = 2; taken.has(name); i++) name = `${base}_${i}`;
  const label = `${name.charAt(0).toUpperCase()}${name.slice(1).replaceAll('_', ' ')}`;
  const ask = `ask ${name} ${quoteText(label)} default ${written}`;
  const lines = `${text.slice(0, from)}$${name}${text.slice(to)}`.split('\n');
  // Blanks come before the one "from", after those that are there.
  const at = lines.findIndex((line) => /^from\b/i.test(line));
  lines.splice(Math.max(0, at), 0, ask);
  return lines.join('\n');
}
