import { isJsonObject, type Json } from '../base/json.js';
import { nearestWord } from '../base/text-distance.js';
import { jsonToText } from '../text/json-text.js';
import { modifierNames, modifiers } from './modifiers/index.js';
import { plainChain, type Chain } from './modifiers/modifier.js';
import type { Predicate, ValueTest } from './predicate.js';
import { sigmaPattern } from './text-pattern.js';

/** Refuses with the line of a key or item of the document. */
export interface Refuse {
  (path: readonly (string | number)[], message: string): never;
}

/** One named identifier of a detection: a map, a list of maps, or a list of keywords. */
export function readIdentifier(value: Json, path: readonly (string | number)[], refuse: Refuse): Predicate {
  if (isJsonObject(value)) return readMap(value, path, refuse);
  if (!Array.isArray(value)) return readKeywords([value], false, path, refuse);
  const items = value as readonly Json[];
  if (items.length === 0) refuse(path, 'the list is empty');
  if (items.every(isJsonObject))
    return { op: 'or', parts: items.map((item, i) => readMap(item, [...path, i], refuse)) };
  if (items.some((item) => isJsonObject(item) || Array.isArray(item)))
    refuse(path, 'a list holds either maps or plain values, not both');
  return readKeywords(items, false, path, refuse);
}

function readMap(
  map: { readonly [key: string]: Json },
  path: readonly (string | number)[],
  refuse: Refuse,
): Predicate {
  const parts = Object.entries(map).map(([key, value]) => readField(key, value, [...path, key], refuse));
  if (parts.length === 0) refuse(path, 'the map is empty');
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

function readField(key: string, value: Json, path: readonly (string | number)[], refuse: Refuse): Predicate {
  const [field = '', ...words] = key.split('|');
  const chain = readChain(words, path, refuse);
  if (field === '')
    return readKeywords(Array.isArray(value) ? (value as readonly Json[]) : [value], chain.all, path, refuse);
  const values = Array.isArray(value) ? (value as readonly Json[]) : [value];
  if (values.length === 0) refuse(path, 'the list of values is empty');
  if (chain.all && values.length < 2) refuse(path, '"all" needs a list of values');
  const parts = values.map((one): Predicate => ({
    op: 'field',
    field,
    test: readTest(one, chain, path, refuse),
  }));
  return parts.length === 1 && parts[0] !== undefined ? parts[0] : { op: chain.all ? 'and' : 'or', parts };
}

function readTest(value: Json, chain: Chain, path: readonly (string | number)[], refuse: Refuse): ValueTest {
  if (isJsonObject(value) || Array.isArray(value)) refuse(path, 'values may not be nested lists or maps');
  if (chain.make !== null) {
    try {
      return chain.make(value, chain);
    } catch (error) {
      refuse(path, error instanceof Error ? error.message : String(error));
    }
  }
  if (value === null) {
    if (chain.before || chain.after) refuse(path, 'null cannot be part of a text');
    return { test: 'null' };
  }
  return textTest(value, chain);
}

function textTest(value: Json, chain: Chain): ValueTest & { test: 'text' } {
  const text = jsonToText(value) ?? '';
  const spelled = chain.cased ? text : text.toLowerCase();
  return { test: 'text', pattern: sigmaPattern(spelled, chain.before, chain.after), cased: chain.cased };
}

function readKeywords(
  values: readonly Json[],
  every: boolean,
  path: readonly (string | number)[],
  refuse: Refuse,
): Predicate {
  const parts = values.map((value): Predicate => {
    if (value === null || isJsonObject(value) || Array.isArray(value))
      refuse(path, 'a keyword is a text or a number');
    return { op: 'keyword', test: textTest(value, { ...plainChain, before: true, after: true }) };
  });
  return parts.length === 1 && parts[0] !== undefined ? parts[0] : { op: every ? 'and' : 'or', parts };
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
        return;
      case 'keyword':
      case 'always':
        return;
    }
  };
  walk(predicate);
  return [...found];
}
