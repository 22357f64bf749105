import { StreamLanguage, type StreamParser } from '@codemirror/language';
import { HighlightStyle, syntaxHighlighting } from '@codemirror/language';
import { tags } from '@lezer/highlight';
import { isCallWord } from '../../core/wick/spell.js';
import { isStepName } from '../../core/wick/steps/index.js';

const WORDS = new Set([
  'and',
  'or',
  'not',
  'in',
  'like',
  'matches',
  'within',
  'between',
  'is',
  'null',
  'has',
  'as',
  'per',
  'every',
  'over',
  'last',
  'to',
  'desc',
  'asc',
  'list',
  'source',
  'all',
  'distinct',
  'true',
  'false',
  'now',
  'where',
]);

/** Colours a hunt line by line; what is right or wrong is said by the checker, not here. */
const parser: StreamParser<{ atStep: boolean }> = {
  name: 'wick',
  startState: () => ({ atStep: false }),
  token(stream, state) {
    if (stream.sol()) state.atStep = !/^\s/.test(stream.string);
    if (stream.eatSpace()) return null;
    if (stream.match('--')) {
      stream.skipToEnd();
      return 'comment';
    }
    if (stream.match(/^'(?:[^']|'')*'?/)) return 'string';
    if (stream.match(/^"(?:[^"]|"")*"?/)) return null;
    if (stream.match(/^\$[\p{L}_][\p{L}\p{N}_]*/u)) return 'variableName';
    if (stream.match(/^\d+(?:\.\d+)?[a-z]?/i)) return 'number';
    const word = stream.match(/^[\p{L}_][\p{L}\p{N}_.]*/u) as RegExpMatchArray | null;
    if (word !== null) {
      const text = word[0].toLowerCase();
      const first = state.atStep;
      state.atStep = false;
      if (first && (isStepName(text) || text === 'ask')) return 'keyword';
      if (WORDS.has(text)) return 'operatorKeyword';
      return isCallWord(text) && stream.peek() === '(' ? 'operatorKeyword' : null;
    }
    stream.next();
    return null;
  },
  languageData: { commentTokens: { line: '--' }, closeBrackets: { brackets: ['(', "'", '"'] } },
};

const colours = HighlightStyle.define([
  { tag: tags.keyword, class: 'wick-step' },
  { tag: tags.operatorKeyword, class: 'wick-word' },
  { tag: tags.string, class: 'wick-text' },
  { tag: tags.number, class: 'wick-number' },
  { tag: tags.variableName, class: 'wick-number' },
  { tag: tags.comment, class: 'wick-comment' },
]);

/** The language and its colours. */
export const wick = [StreamLanguage.define(parser), syntaxHighlighting(colours)];
