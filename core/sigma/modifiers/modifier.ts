import type { Json } from '../../base/json.js';
import type { ValueTest } from '../predicate.js';

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
  /** The test must not hold, and the field must be there. */
  readonly negated: boolean;
}

export const plainChain: Chain = {
  cased: false,
  all: false,
  before: false,
  after: false,
  make: null,
  negated: false,
};

/** One word after `|`: how it changes the chain. */
export interface Modifier {
  readonly meaning: string;
  /** @throws Error with the reason where the chain makes no sense */
  apply(chain: Chain): Chain;
}

/** Refuses a chain in which a test of another kind has been chosen already. */
export function requirePlain(chain: Chain, name: string): void {
  if (chain.make !== null || chain.before || chain.after)
    throw new Error(`"${name}" cannot follow the modifiers before it`);
}
