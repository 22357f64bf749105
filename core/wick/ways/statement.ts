import { readingWords } from './reading.js';
import { wholePart, type Way } from './way.js';

/** One statement over the whole window: it does for every plan, and comes last. */
export const statementWay: Way<object> = {
  name: 'one statement',
  applies: () => ({}),
  parts: (_found, plan) => wholePart(plan),
  merge: () => null,
  words: (_found, plan) => readingWords(plan),
  told: () => 0,
};
