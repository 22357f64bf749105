import { isJsonObject, type Json } from '../base/json.js';
import { unreachable } from '../base/unreachable.js';
import type { Event } from '../events/event.js';
import { fieldLookup } from '../predicate/field-lookup.js';
import { describeTest } from '../sigma/describe.js';
import type { Predicate } from '../predicate/predicate.js';
import { jsonToText } from '../text/json-text.js';
import { compilePredicate } from '../predicate/in-memory.js';

/** A condition that an event met. */
export interface MetCondition {
  /** The field it asks for; null for a text anywhere. */
  readonly field: string | null;
  /** What the event has there; null where it has nothing. */
  readonly value: string | null;
  /** What the condition asks, in words. */
  readonly says: string;
}

/** The leaf of a JSON value that holds a text; the whole record otherwise. */
function textWith(value: Json, fits: (text: string) => boolean): string | null {
  if (Array.isArray(value)) {
    for (const one of value as readonly Json[]) {
      const found = textWith(one, fits);
      if (found !== null) return found;
    }
    return null;
  }
  if (isJsonObject(value)) return textWith(Object.values(value), fits);
  const text = jsonToText(value);
  return text !== null && fits(text) ? text : null;
}

/**
 * Why an event meets a rule's condition: the conditions that hold, of choices the first that does. What must not be is
 * told as it is asked, with what the event has instead.
 * @returns none where it does not meet it
 */
export function whyMet(predicate: Predicate, event: Event): MetCondition[] {
  if (!compilePredicate(predicate)(event)) return [];
  switch (predicate.op) {
    case 'always':
      return [];
    case 'and':
      return predicate.parts.flatMap((part) => whyMet(part, event));
    case 'or': {
      const first = predicate.parts.find((part) => compilePredicate(part)(event));
      return first === undefined ? [] : whyMet(first, event);
    }
    case 'not':
      return fieldsUnder(predicate.part).map(({ field, says }) => ({
        field,
        value: jsonToText(fieldLookup(field)(event)),
        says: `not: ${says}`,
      }));
    case 'field':
      return [
        {
          field: predicate.field,
          value: jsonToText(fieldLookup(predicate.field)(event)),
          says: describeTest(predicate.test),
        },
      ];
    case 'keyword': {
      const one: Predicate = predicate;
      const fits = (text: string): boolean => compilePredicate(one)({ id: '', time: 0, message: text });
      const value = textWith([event.message ?? null, event.original ?? null], fits);
      return [{ field: null, value, says: describeTest(predicate.test) }];
    }
    default:
      return unreachable(predicate);
  }
}

/** The fields that a condition asks for, with what it asks. */
function fieldsUnder(predicate: Predicate): { field: string; says: string }[] {
  switch (predicate.op) {
    case 'and':
    case 'or':
      return predicate.parts.flatMap(fieldsUnder);
    case 'not':
      return fieldsUnder(predicate.part);
    case 'field':
      return [{ field: predicate.field, says: describeTest(predicate.test) }];
    case 'always':
    case 'keyword':
      return [];
    default:
      return unreachable(predicate);
  }
}
