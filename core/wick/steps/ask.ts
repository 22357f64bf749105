import { parseDuration } from '../../base/instant.js';
import type { Span } from '../../base/span.js';
import { columnNames, isColumnName } from '../../events/columns.js';
import { nearestWord } from '../../base/text-distance.js';
import { readNumber } from '../../text/numbers.js';
import type { Cursor } from '../cursor.js';
import { HuntError } from '../hunt-error.js';
import { parseName } from '../parse-expression.js';
import type { Ask, AskChoices, AskType } from '../plan.js';
import { nameOf, type Blank } from '../scope.js';

/** How `ask` is written, for the reference and for completion. */
export const askWords = {
  call: "ask NAME 'Label' default 'x' choices 'a', 'b' any",
  meaning: 'a blank to fill in before the hunt runs, named $NAME in the steps; with "any" it may stay open',
  example: "ask who 'User name' any",
};

/** An `ask` as written, with the place of its name for refusals. */
export interface WrittenAsk {
  readonly ask: Ask;
  readonly span: Span;
}

/** Reads an `ask` after its keyword. @throws HuntError */
export function readAsk(cursor: Cursor): WrittenAsk {
  const { text: name, span } = cursor.expectNewName('after "ask"');
  const label = cursor.expectText('what to ask for,').text;
  let fallback: { type: AskType; text: string } | null = null;
  let choices: AskChoices | null = null;
  let any = false;
  for (;;) {
    if (fallback === null && cursor.takeWord('default')) fallback = readDefault(cursor);
    else if (choices === null && cursor.takeWord('choices')) choices = readChoices(cursor);
    else if (!any && cursor.takeWord('any')) any = true;
    else break;
  }
  cursor.expectEnd('or "default", "choices", "any"');
  return {
    span,
    ask: { name, label, type: fallback?.type ?? 'text', default: fallback?.text ?? null, choices, any },
  };
}

function readDefault(cursor: Cursor): { type: AskType; text: string } {
  const minus = cursor.takeSymbol('-') ? '-' : '';
  const token = cursor.peek();
  const found = ((): { type: AskType; text: string } | null => {
    if (token.kind === 'number') return { type: 'number', text: minus + token.text };
    if (minus !== '') return null;
    if (token.kind === 'text') return { type: 'text', text: token.text };
    if (token.kind === 'duration') return { type: 'duration', text: token.text };
    if (token.kind === 'word' && /^(?:true|false)$/i.test(token.text))
      return { type: 'truth', text: token.text.toLowerCase() };
    return null;
  })();
  if (found === null)
    throw cursor.unexpected('Expected a text in single quotes, a number, a duration, true or false');
  cursor.next();
  return found;
}

function readChoices(cursor: Cursor): AskChoices {
  if (cursor.takeWord('from')) {
    const node = parseName(cursor);
    const field = nameOf(node).toLowerCase();
    if (!isColumnName(field)) {
      const nearest = nearestWord(field, columnNames);
      throw new HuntError(
        'unknown-field',
        node.span,
        `No field "${nameOf(node)}" to take choices from. Did you mean "${nearest}"?`,
        nearest,
      );
    }
    return { field };
  }
  const values: string[] = [];
  do values.push(readDefault(cursor).text);
  while (cursor.takeSymbol(','));
  return { values };
}

/**
 * What a blank stands for in this run.
 * @param given what was filled in; absent or empty means the default
 * @param writing whether the hunt is only checked: then an open blank is no mistake
 * @throws HuntError on the line of the ask, for a value that cannot be read, is none of the choices, or is missing
 */
export function fillBlank({ ask, span }: WrittenAsk, given: string | undefined, writing = false): Blank {
  const text = given === undefined || given === '' ? ask.default : given;
  const { type } = ask;
  const any = ask.any || writing;
  if (text === null) {
    if (!any)
      throw new HuntError(
        'missing-value',
        span,
        `"${ask.name}" must be filled in: ${ask.label}. Give it a default, or add "any" to let it stay open.`,
      );
    return { value: null, type, any, span };
  }
  const { choices } = ask;
  if (choices !== null && 'values' in choices && !choices.values.includes(text))
    throw new HuntError(
      'unreadable',
      span,
      `"${text}" is none of the choices of "${ask.name}": ${choices.values.join(', ')}.`,
    );
  const value = readAs(text, type);
  if (value === null)
    throw new HuntError(
      'unreadable',
      span,
      `"${text}" cannot be read as ${{ number: 'a number', duration: 'a duration such as 15m', truth: 'true or false', text: 'text' }[type]}, which "${ask.name}" needs.`,
    );
  return { value, type, any, span };
}

function readAs(text: string, type: AskType): string | number | boolean | null {
  switch (type) {
    case 'text':
      return text;
    case 'number':
      return readNumber(text);
    case 'duration':
      return parseDuration(text.trim());
    case 'truth':
      return /^(?:true|false)$/i.test(text.trim()) ? text.trim().toLowerCase() === 'true' : null;
  }
}
