import { parseInstant } from '../../base/instant.js';
import { nearestWord } from '../../base/text-distance.js';
import { isKind, kindNames, type Kind } from '../../events/kinds.js';
import type { Cursor } from '../cursor.js';
import { HuntError } from '../hunt-error.js';
import type { Window } from '../plan.js';
import { eventScopeOf, type CheckContext } from '../scope.js';
import { rowTraits, type StepDef } from './step-def.js';

/** `from signin, rights` · `from source harbour-id` · `from all over last 24h` */
export const fromStep: StepDef<'from'> = {
  call: 'from KIND, …',
  meaning: 'which events: kinds, or "source NAME", or "all"; optional "over last 24h"',
  example: 'from signin',
  traits: { ...rowTraits, byDay: () => true, afterAddedUp: false, onlyShows: false, passesOn: true },
  compile(cursor, _scope, context) {
    const [kinds, sources] = readWhich(cursor);
    const window = cursor.takeWord('over') ? readOver(cursor, context) : context.window;
    cursor.expectEnd('(only "over …" may follow)');
    return { body: { step: 'from', window, kinds, sources }, scope: eventScopeOf(window) };
  },
};

function readWhich(cursor: Cursor): [Kind[] | null, string[] | null] {
  if (cursor.takeWord('all')) return [null, null];
  if (cursor.takeWord('source')) {
    const sources: string[] = [];
    do {
      const name = cursor.scanner.takeBareName();
      if (name === undefined) throw cursor.unexpected('Expected the name of a source');
      sources.push(name.text);
    } while (cursor.takeSymbol(','));
    return [null, sources];
  }
  return [
    readKinds(
      cursor,
      'Expected a kind of event, "source NAME" or "all"',
      (name) => ` For a source write: from source ${name}.`,
    ),
    null,
  ];
}

/** Reads `KIND, KIND…`. @param hint what else an unknown name may have meant */
export function readKinds(cursor: Cursor, expected: string, hint: (name: string) => string): Kind[] {
  const found: Kind[] = [];
  do {
    const token = cursor.peek();
    if (token.kind !== 'word' && token.kind !== 'name') throw cursor.unexpected(expected);
    cursor.next();
    const kind = token.text.toLowerCase();
    if (!isKind(kind)) {
      const nearest = nearestWord(kind, kindNames);
      throw new HuntError(
        'unknown-kind',
        token.span,
        `No kind of event is called "${token.text}". Did you mean "${nearest}"?${hint(token.text)}`,
        nearest,
      );
    }
    found.push(kind);
  } while (cursor.takeSymbol(','));
  return found;
}

function readOver(cursor: Cursor, context: CheckContext): Window {
  if (cursor.takeWord('last')) {
    const { value } = cursor.expectDuration('after "last"');
    return { from: context.now - value, to: context.now };
  }
  const from = readTime(cursor);
  cursor.expectWord('to', 'between the two times');
  const span = cursor.peek().span;
  const to = readTime(cursor);
  if (to <= from)
    throw new HuntError('unreadable', span, 'This window ends before it begins: put the earlier time first.');
  return { from, to };
}

function readTime(cursor: Cursor): number {
  const token = cursor.peekLiteral();
  if (token.kind === 'word' && token.text.toLowerCase() === 'now')
    throw cursor.unexpected('Expected "last 24h" or a time in quotes after "over"');
  if (token.kind !== 'text') throw cursor.unexpected('Expected "last 24h" or a time in quotes');
  const time = parseInstant(token.text.trim());
  if (time === null)
    throw new HuntError(
      'unreadable',
      token.span,
      `"${token.text}" cannot be read as a time. Write ISO 8601, such as '2026-11-14T06:00:00Z'.`,
    );
  cursor.next();
  return time;
}
