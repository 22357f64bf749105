import type { Json } from '../../base/json.js';
import type { RefHow, TimePart, ValueTest } from '../../predicate/predicate.js';

/** A written value on its way through a chain: text with wildcards, or the bytes it was encoded to. */
export type Piece = string | Uint8Array;

/** What a chain of modifiers has gathered on its way to a test. */
export interface Chain {
  readonly cased: boolean;
  /** All values of a list must hold, not one of them. */
  readonly all: boolean;
  /** A wildcard before and after the text. */
  readonly before: boolean;
  readonly after: boolean;
  /** Makes the test instead of the plain text comparison. @throws Error with the reason */
  readonly make: ((value: Json, chain: Chain) => ValueTest) | null;
  /** What may still follow a test that was chosen. */
  readonly kind: 'text' | 'regex' | 'fieldref' | 'other';
  /** The test must not hold, and the field must be there. */
  readonly negated: boolean;
  /** What a written text becomes before it is looked for; any of them will do. @throws Error with the reason */
  readonly encode: readonly ((piece: Piece) => readonly Piece[])[];
  /** Whether the last of them gives bytes, which nothing can be compared with. */
  readonly bytes: boolean;
  /** `%name%` stands for the values of a list. */
  readonly expand: boolean;
  /** Switches of a regular expression. */
  readonly flags: string;
  readonly part: TimePart | null;
}

export const plainChain: Chain = {
  cased: false,
  all: false,
  before: false,
  after: false,
  make: null,
  kind: 'text',
  negated: false,
  encode: [],
  bytes: false,
  expand: false,
  flags: '',
  part: null,
};

/** How a field is compared with another, by the wildcards of the chain. */
export const refHow = ({ before, after }: Chain): RefHow =>
  before && after ? 'contains' : before ? 'endswith' : after ? 'startswith' : 'equals';

/** One word after `|`: how it changes the chain. */
export interface Modifier {
  readonly meaning: string;
  /** @throws Error with the reason where the chain makes no sense */
  apply(chain: Chain): Chain;
}

/** Refuses a chain in which a test of another kind has been chosen already. */
export function requirePlain(chain: Chain, name: string): void {
  if (chain.make !== null || chain.before || chain.after || chain.encode.length > 0)
    throw new Error(`"${name}" cannot follow the modifiers before it`);
}
