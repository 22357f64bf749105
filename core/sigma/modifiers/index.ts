import type { Modifier } from './modifier.js';
import { cidr, exists, gt, gte, lt, lte, re } from './tests.js';
import { all, cased, contains, endswith, startswith } from './texts.js';

/** Every modifier that can be used, by its word. */
export const modifiers: Readonly<Record<string, Modifier>> = {
  contains,
  startswith,
  endswith,
  cased,
  all,
  exists,
  re,
  cidr,
  lt,
  lte,
  gt,
  gte,
};

export const modifierNames = Object.keys(modifiers);
