import { lowerText } from '../text/letters.js';
import { isJsonObject, type Json } from '../base/json.js';
import { nearestWord } from '../base/text-distance.js';
import { jsonToText } from '../text/json-text.js';
import { modifierNames, modifiers } from './modifiers/index.js';
import { plainChain, type Chain, type Piece } from './modifiers/modifier.js';
import type { Predicate, ValueTest } from '../predicate/predicate.js';
import { escapeWildcards } from '../text/wildcard.js';
import { sigmaPattern } from './text-pattern.js';

/** Refuses with the line of a key or item of the document. */
export interface Refuse {
  (path: readonly (string | number)[], message: string): never;
}

/** The values of a list by its name, for `%name%`; null for one that is not there. */
export type Lists = (name: string) => readonly string[] | null;

/** What reading a detection needs besides its text. */
export interface Context {
  readonly refuse: Refuse;
  readonly lists: Lists;
}

/** One named identifier of a detection: a map, a keyword, or a list of either, of which one has to hold. */
export function readIdentifier(value: Json, path: readonly (string | number)[], context: Context): Predicate {
  const { refuse } = context;
  if (isJsonObject(value)) return readMap(value, path, context);
  if (!Array.isArray(value)) return readKeywords([value], plainChain, path, context);
  const items = value as readonly Json[];
  if (items.length === 0) refuse(path, 'the list is empty');
  return combine(
    false,
    items.map((item, i) =>
      isJsonObject(item)
        ? readMap(item, [...path, i], context)
        : readKeywords([item], plainChain, [...path, i], context),
    ),
  );
}

function readMap(
  map: { readonly [key: string]: Json },
  path: readonly (string | number)[],
  context: Context,
): Predicate {
  const parts = Object.entries(map).map(([key, value]) => readField(key, value, [...path, key], context));
  if (parts.length === 0) context.refuse(path, 'the map is empty');
  return parts.length === 1 && parts[0] !== undefined ? parts[0] : { op: 'and', parts };
}

function readChain(words: readonly string[], path: readonly (string | number)[], refuse: Refuse): Chain {
  let chain = plainChain;
  for (const word of words) {
    const modifier = Object.hasOwn(modifiers, word) ? modifiers[word] : undefined;
    if (modifier === undefined)
      refuse(path, `no modifier is called "${word}". Did you mean "${nearestWord(word, modifierNames)}"?`);
    try {
      chain = modifier.apply(chain);
    } catch (error) {
      refuse(path, error instanceof Error ? error.message : String(error));
    }
  }
  return chain;
}

function readField(
  key: string,
  value: Json,
  path: readonly (string | number)[],
  context: Context,
): Predicate {
  const { refuse } = context;
  const [field = '', ...words] = key.split('|');
  const chain = readChain(words, path, refuse);
  const values = Array.isArray(value) ? (value as readonly Json[]) : [value];
  if (values.length === 0) refuse(path, 'the list of values is empty');
  if (chain.all && values.length < 2) refuse(path, '"all" needs a list of values');
  if (field === '') return readKeywords(values, chain, path, context);
  const parts = values.map((one) =>
    anyOf(readTests(one, chain, path, context), (test) => ({ op: 'field', field, test })),
  );
  const whole = combine(chain.all, parts);
  if (!chain.negated) return whole;
  // A field that is missing does not match.
  const there: Predicate = { op: 'field', field, test: { test: 'exists', wanted: true } };
  return { op: 'and', parts: [there, { op: 'not', part: whole }] };
}

const combine = (every: boolean, parts: readonly Predicate[]): Predicate =>
  parts.length === 1 && parts[0] !== undefined ? parts[0] : { op: every ? 'and' : 'or', parts };

const anyOf = (tests: readonly ValueTest[], make: (test: ValueTest) => Predicate): Predicate =>
  combine(false, tests.map(make));

/** The tests that a written value stands for: any of them will do. */
function readTests(
  value: Json,
  chain: Chain,
  path: readonly (string | number)[],
  { refuse, lists }: Context,
): ValueTest[] {
  if (isJsonObject(value) || Array.isArray(value)) refuse(path, 'values may not be nested lists or maps');
  try {
    return expanded(value, chain, lists).flatMap((one) =>
      encoded(one, chain).map((text) => makeTest(text, chain)),
    );
  } catch (error) {
    return refuse(path, error instanceof Error ? error.message : String(error));
  }
}

const PLACEHOLDER = /%([^%\s]+)%/g;
/** A value stands for at most so many, once its lists are written out. */
const MAX_EXPANDED = 100_000;

/** A value with the values of lists in place of `%name%`. @throws Error for a list that is not there */
function expanded(value: Json, chain: Chain, lists: Lists): readonly Json[] {
  if (!chain.expand || typeof value !== 'string') return [value];
  let texts = [value];
  for (const [, name = ''] of value.matchAll(PLACEHOLDER)) {
    const values = lists(name);
    if (values === null) throw new Error(`there is no list "${name}" for %${name}%`);
    if (texts.length * values.length > MAX_EXPANDED)
      throw new Error(`its lists stand for more than ${MAX_EXPANDED.toLocaleString('en')} values`);
    // What stands in a list is literal: its characters are no wildcards.
    const literal = values.map(escapeWildcards);
    texts = texts.flatMap((text) => literal.map((one) => text.replace(`%${name}%`, () => one)));
  }
  return texts;
}

/** What a value is looked for as, such as in base64. @throws Error with the reason */
function encoded(value: Json, chain: Chain): readonly Json[] {
  if (chain.bytes) throw new Error('bytes cannot be compared: let base64 follow the encoding');
  if (chain.encode.length === 0) return [value];
  const text = jsonToText(value);
  if (text === null) throw new Error('null cannot be encoded');
  const pieces = chain.encode.reduce<readonly Piece[]>(
    (all, step) => all.flatMap((one) => step(one)),
    [text],
  );
  return pieces.map((piece) => {
    if (typeof piece !== 'string') throw new Error('bytes cannot be compared');
    return piece;
  });
}

function makeTest(value: Json, chain: Chain): ValueTest {
  if (chain.part !== null && chain.make === null) requireWhole(value, chain.part);
  const whole = chain.make === null ? plainTest(value, chain) : chain.make(value, chain);
  return chain.part === null ? whole : { test: 'time-part', part: chain.part, of: whole };
}

/** Parts of a time are whole numbers. @throws Error */
function requireWhole(value: Json, part: string): void {
  const text = jsonToText(value);
  if (text === null || !/^\d{1,4}$/.test(text))
    throw new Error(`${part} is a whole number, and ${JSON.stringify(value)} is none`);
}

function plainTest(value: Json, chain: Chain): ValueTest {
  if (value !== null) return textTest(value, chain);
  if (chain.before || chain.after) throw new Error('null cannot be part of a text');
  return { test: 'null' };
}

function textTest(value: Json, chain: Chain): ValueTest & { test: 'text' } {
  const text = jsonToText(value) ?? '';
  const spelled = chain.cased ? text : lowerText(text);
  return { test: 'text', pattern: sigmaPattern(spelled, chain.before, chain.after), cased: chain.cased };
}

function readKeywords(
  values: readonly Json[],
  chain: Chain,
  path: readonly (string | number)[],
  context: Context,
): Predicate {
  if (chain.negated || chain.part !== null || (chain.kind !== 'text' && chain.kind !== 'regex'))
    context.refuse(path, 'keywords are texts or regular expressions, looked for in the whole event');
  const anywhere = { ...chain, before: true, after: true };
  const parts = values.map((value): Predicate => {
    if (value === null || isJsonObject(value) || Array.isArray(value))
      context.refuse(path, 'a keyword is a text or a number');
    return anyOf(readTests(value, anywhere, path, context), (test) => ({
      op: 'keyword',
      test: test as ValueTest & { test: 'text' | 'regex' },
    }));
  });
  return combine(chain.all, parts);
}

/** The fields a predicate looks at, each once. */
export function fieldsOf(predicate: Predicate): string[] {
  const found = new Set<string>();
  const walk = (node: Predicate): void => {
    switch (node.op) {
      case 'and':
      case 'or':
        node.parts.forEach(walk);
        return;
      case 'not':
        walk(node.part);
        return;
      case 'field':
        found.add(node.field);
        if (node.test.test === 'fieldref') found.add(node.test.field);
        return;
      case 'keyword':
      case 'always':
        return;
    }
  };
  walk(predicate);
  return [...found];
}
