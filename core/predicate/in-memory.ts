import { lowerText } from '../text/letters.js';
import { isJsonObject, type Json } from '../base/json.js';
import { unreachable } from '../base/unreachable.js';
import type { Event } from '../events/event.js';
import { addressKey } from '../net/address.js';
import { networkContains } from '../net/network.js';
import type { Predicate, ValueTest } from './predicate.js';
import { readNumber } from '../text/numbers.js';
import { regexTest } from '../text/regex-match.js';
import { wildcardTest } from '../text/wildcard.js';

import { FieldMemory, textOrNull } from './field-memory.js';
import { timePartOf } from './time-part.js';

/** Tells whether an event meets a rule's condition. */
export type EventTest = (event: Event) => boolean;
type SingleTest = (value: Json) => boolean;

function numberTest(sign: '<' | '<=' | '>' | '>=', limit: number): (value: number) => boolean {
  switch (sign) {
    case '<':
      return (value) => value < limit;
    case '<=':
      return (value) => value <= limit;
    case '>':
      return (value) => value > limit;
    case '>=':
      return (value) => value >= limit;
  }
}

/** A test of one value; lists are met by one of their elements. */
function compileValueTest(test: ValueTest): SingleTest {
  switch (test.test) {
    case 'text': {
      const fits = wildcardTest(test.pattern);
      return (value) => {
        const text = textOrNull(value);
        return text !== null && fits(test.cased ? text : lowerText(text));
      };
    }
    case 'regex': {
      const fits = regexTest(test.regex);
      return (value) => {
        const text = textOrNull(value);
        return text !== null && fits(text);
      };
    }
    case 'network':
      return (value) => {
        const key = typeof value === 'string' ? addressKey(value.trim()) : null;
        return key !== null && networkContains(test.network, key);
      };
    case 'number': {
      const fits = numberTest(test.sign, test.value);
      return (value) => {
        const number =
          typeof value === 'number' ? value : typeof value === 'string' ? readNumber(value) : null;
        return number !== null && fits(number);
      };
    }
    case 'null':
      return (value) => value === null;
    case 'exists':
      return (value) => (value !== null) === test.wanted;
    case 'time-part': {
      const fits = compileValueTest(test.of);
      return (value) => {
        const part = timePartOf(value, test.part);
        return part !== null && fits(part);
      };
    }
    case 'fieldref':
      throw new Error('A reference to another field is compared where the event is at hand.');
    default:
      return unreachable(test);
  }
}

function overElements(test: SingleTest): SingleTest {
  return (value) => (Array.isArray(value) ? (value as readonly Json[]).some(test) : test(value));
}

/** The message and every value of the source's own fields, in which keywords are searched. */
function anyValue(event: Event, test: SingleTest): boolean {
  const walk = (value: Json): boolean => {
    if (Array.isArray(value)) return (value as readonly Json[]).some(walk);
    return isJsonObject(value) ? Object.values(value).some(walk) : test(value);
  };
  return test(event.message ?? null) || walk(event.original ?? null);
}

/** Compares a field with another of the same event, as texts; lists are met by any pair of their elements. */
function compileReference(
  field: string,
  { field: other, how, cased }: ValueTest & { test: 'fieldref' },
  memory: FieldMemory,
): EventTest {
  const [left, right] = [memory.slot(field), memory.slot(other)];
  const textsOf = (value: Json): string[] =>
    (Array.isArray(value) ? (value as readonly Json[]) : [value]).flatMap((one) => {
      const text = textOrNull(one);
      return text === null ? [] : [cased ? text : lowerText(text)];
    });
  const fits = {
    equals: (a: string, b: string) => a === b,
    startswith: (a: string, b: string) => a.startsWith(b),
    endswith: (a: string, b: string) => a.endsWith(b),
    contains: (a: string, b: string) => a.includes(b),
  }[how];
  return (event) => {
    const others = textsOf(right.of(event));
    return others.length > 0 && textsOf(left.of(event)).some((a) => others.some((b) => fits(a, b)));
  };
}

/** Makes a predicate ready to run over events. */
export function compilePredicate(predicate: Predicate, memory = new FieldMemory()): EventTest {
  const compile = (part: Predicate): EventTest => compilePredicate(part, memory);
  switch (predicate.op) {
    case 'always':
      return () => predicate.holds;
    case 'and': {
      const parts = predicate.parts.map(compile);
      return (event) => parts.every((part) => part(event));
    }
    case 'or': {
      const parts = predicate.parts.map(compile);
      return (event) => parts.some((part) => part(event));
    }
    case 'not': {
      const part = compile(predicate.part);
      return (event) => !part(event);
    }
    case 'field': {
      if (predicate.test.test === 'fieldref')
        return compileReference(predicate.field, predicate.test, memory);
      const slot = memory.slot(predicate.field);
      const one = compileValueTest(predicate.test);
      // A field is there whatever its list holds, or if that is empty.
      const test = predicate.test.test === 'exists' ? one : overElements(one);
      if (predicate.test.test !== 'text' || predicate.test.cased) return (event) => test(slot.of(event));
      const fits = wildcardTest(predicate.test.pattern);
      return (event) => {
        const value = slot.of(event);
        if (Array.isArray(value)) return test(value);
        const text = slot.loweredOf(event);
        return text !== null && fits(text);
      };
    }
    case 'keyword': {
      const test = compileValueTest(predicate.test);
      return predicate.record === true
        ? (event) => anyValue(event, test) || test(event.raw ?? null)
        : (event) => anyValue(event, test);
    }
    default:
      return unreachable(predicate);
  }
}
