import type { Event } from '../events/event.js';
import { compilePredicate } from '../predicate/in-memory.js';
import type { Predicate } from '../predicate/predicate.js';
import { fieldLookup } from '../predicate/field-lookup.js';
import { describeTest } from '../sigma/describe.js';

/** Why no event meets a condition, by a sample of those it is asked of. */
export interface NearestMiss {
  /** A field it asks for that no event has; null where each is filled somewhere. */
  readonly emptyField: string | null;
  /** What the event that comes nearest lacks, in words; null where nothing comes near. */
  readonly lacks: string | null;
  /** How many parts of the condition the nearest event meets, and of how many. */
  readonly met: number;
  readonly of: number;
}

const partsOf = (predicate: Predicate): readonly Predicate[] =>
  predicate.op === 'and' ? predicate.parts.flatMap(partsOf) : [predicate];

function wordsOf(predicate: Predicate): string {
  switch (predicate.op) {
    case 'field':
      return `${predicate.field} ${describeTest(predicate.test)}`;
    case 'keyword':
      return `a text that ${describeTest(predicate.test)}`;
    case 'not':
      return `not: ${wordsOf(predicate.part)}`;
    case 'and':
    case 'or': {
      const [first] = predicate.parts;
      const more = predicate.parts.length - 1;
      return first === undefined ? 'nothing' : `${wordsOf(first)}${more > 0 ? `, or ${more} more` : ''}`;
    }
    case 'always':
      return 'anything';
  }
}

const asked = (predicate: Predicate): string[] => {
  switch (predicate.op) {
    case 'field':
      return [predicate.field];
    case 'and':
      return predicate.parts.flatMap(asked);
    default:
      return [];
  }
};

/** Finds what keeps events from meeting a condition. @param events of the sources it is asked of */
export function nearestMiss(predicate: Predicate, events: readonly Event[]): NearestMiss {
  const parts = partsOf(predicate);
  const emptyField =
    events.length === 0
      ? null
      : (asked(predicate).find((field) => {
          const read = fieldLookup(field);
          return events.every((event) => read(event) === null);
        }) ?? null);
  const tests = parts.map((part) => ({ part, meets: compilePredicate(part) }));
  let met = 0;
  let lacks: string | null = null;
  for (const event of events) {
    const failing = tests.filter(({ meets }) => !meets(event));
    if (parts.length - failing.length <= met) continue;
    met = parts.length - failing.length;
    lacks = failing[0] === undefined ? null : wordsOf(failing[0].part);
  }
  return {
    emptyField,
    lacks: lacks ?? (tests[0] === undefined ? null : wordsOf(tests[0].part)),
    met,
    of: parts.length,
  };
}
