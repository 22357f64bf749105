import type { Json, JsonObject } from '../base/json.js';
import { jsonToText } from '../text/json-text.js';
import { parseWildcard, wildcardTest } from '../text/wildcard.js';
import { fieldReader } from './field-path.js';
import type { When } from './recipe-schema.js';

export type Holds = (fields: JsonObject) => boolean;

/** Prepares a condition of a recipe: every field it names must have one of its values. */
export function compileWhen(when: When): Holds {
  const tests = Object.entries(when).map(([name, wanted]): Holds => {
    const read = fieldReader(name);
    if (wanted === null) return (fields) => read(fields) === null;
    const texts = (Array.isArray(wanted) ? wanted : [wanted]).map(String);
    const plain = new Set(texts.filter((text) => !text.includes('*')));
    const wild = texts
      .filter((text) => text.includes('*'))
      .map((text) => wildcardTest(parseWildcard(text, '*', '\0')));
    return (fields) => {
      const value = read(fields);
      if (value === null) return false;
      // Of a list any value will do.
      return (Array.isArray(value) ? (value as readonly Json[]) : [value]).some((one) => {
        const text = jsonToText(one) ?? '';
        return plain.has(text) || wild.some((test) => test(text));
      });
    };
  });
  return (fields) => tests.every((test) => test(fields));
}
