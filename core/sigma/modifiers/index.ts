import { base64, base64offset, utf16any, utf16be, utf16le, wide, windash } from './encodings.js';
import type { Modifier } from './modifier.js';
import { cidr, exists, fieldref, gt, gte, i, lt, lte, m, partsOfTime, re, s } from './tests.js';
import { all, cased, contains, endswith, expand, neq, startswith } from './texts.js';

/** Every modifier, by its word. */
export const modifiers: Readonly<Record<string, Modifier>> = {
  contains,
  startswith,
  endswith,
  cased,
  all,
  neq,
  exists,
  re,
  i,
  m,
  s,
  cidr,
  lt,
  lte,
  gt,
  gte,
  fieldref,
  expand,
  windash,
  base64,
  base64offset,
  utf16: utf16any,
  utf16le,
  utf16be,
  wide,
  ...partsOfTime,
};

export const modifierNames = Object.keys(modifiers);
