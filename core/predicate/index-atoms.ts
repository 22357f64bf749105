import { lowerText } from '../text/letters.js';
import { unreachable } from '../base/unreachable.js';
import type { Predicate, ValueTest } from './predicate.js';
import { requiredText } from '../text/regex-emit.js';
import { MANY, type Wildcard } from '../text/wildcard.js';

/** Something simple that a field's value, in small letters, must be or hold for a rule to be worth asking. */
export interface Anchor {
  readonly field: string;
  readonly how: 'is' | 'holds';
  /** At least one character; ASCII and in small letters where it is to be held. */
  readonly text: string;
}

// Only of ASCII letters is it sure that small letters of a part are a part of the small letters.
const isPlain = (text: string): boolean => /^[\x20-\x7e]+$/.test(text);

/** The longest run of plain characters that every text fitting a pattern holds; null where there is none. */
function anchorOfPattern({ parts }: Wildcard): Pick<Anchor, 'how' | 'text'> | null {
  if (parts.every((part) => typeof part === 'string')) {
    const text = lowerText(parts.join(''));
    return isPlain(text) ? { how: 'is', text } : null;
  }
  let longest = '';
  let run = '';
  for (const part of [...parts, MANY]) {
    if (typeof part === 'string' && isPlain(part)) run += part;
    else {
      if (run.length > longest.length) longest = run;
      run = '';
    }
  }
  return longest === '' ? null : { how: 'holds', text: lowerText(longest) };
}

/** What is known of every value that meets a test; null where that is nothing. */
function anchorOfTest(test: ValueTest): Pick<Anchor, 'how' | 'text'> | null {
  if (test.test === 'text') return anchorOfPattern(test.pattern);
  if (test.test !== 'regex') return null;
  const text = requiredText(test.regex.tree);
  return isPlain(text) ? { how: 'holds', text: lowerText(text) } : null;
}

/** How good anchors are at keeping events away: few of them, and those that say much. */
function strengthOf(anchors: readonly Anchor[]): number {
  const weakest = Math.min(64, ...anchors.map(({ how, text }) => (how === 'is' ? 32 : 0) + text.length));
  return weakest - Math.log2(1 + anchors.length);
}

/**
 * Anchors of which at least one must hold wherever a condition does.
 * @returns null for a condition that can hold without any
 */
export function anchorsOf(predicate: Predicate): readonly Anchor[] | null {
  switch (predicate.op) {
    case 'always':
      return predicate.holds ? null : [];
    case 'and': {
      // Any one part will do; the one that keeps most away is taken.
      const choices = predicate.parts.flatMap((part) => {
        const anchors = anchorsOf(part);
        return anchors === null ? [] : [anchors];
      });
      return choices.reduce<readonly Anchor[] | null>(
        (best, one) => (best === null || strengthOf(one) > strengthOf(best) ? one : best),
        null,
      );
    }
    case 'or': {
      const all = predicate.parts.map(anchorsOf);
      return all.some((anchors) => anchors === null) ? null : all.flatMap((anchors) => anchors ?? []);
    }
    case 'field': {
      const anchor = anchorOfTest(predicate.test);
      return anchor === null ? null : [{ field: predicate.field, ...anchor }];
    }
    case 'not':
    case 'keyword':
      return null;
    default:
      return unreachable(predicate);
  }
}
