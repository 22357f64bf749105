import { convert } from '../check-expression.js';
import { HuntError } from '../hunt-error.js';
import { parseName } from '../parse-expression.js';
import type { BlankPattern, Column, ReadAs, ReadStep } from '../plan.js';
import type { Span } from '../../base/span.js';
import { parseRegex, RegexError, type Regex, type RegexNode } from '../../text/regex-syntax.js';
import { findColumn, resolveName } from '../scope.js';
import { rowTraits, type StepDef } from './step-def.js';

const TYPES: Readonly<Record<string, ReadAs>> = {
  word: 'text',
  rest: 'text',
  number: 'number',
  ip: 'address',
};

/** `read message as 'user=<who> from <addr:ip>'` */
export const readStep: StepDef<'read'> = {
  call: "read FIELD as 'text <name> text <name:number>' | read FIELD matching 'regex with (?<name>…)'",
  meaning: 'cuts columns out of a text; rows that do not fit keep nulls',
  example: "read message as 'from <addr:ip> port <port:number>'",
  traits: {
    ...rowTraits, // Texts that patterns cut are gathered beforehand, of the whole window.
    byDay: ({ by }) => by.how === 'blanks',
    afterAddedUp: false,
    onlyShows: false,
    passesOn: false,
    heavy: true,
    answered: ({ by }) =>
      by.how === 'regex'
        ? 'texts that fit are cut outside of the database, since its patterns choose among matches differently.'
        : null,
  },
  compile(cursor, scope, context) {
    const node = parseName(cursor);
    const value = convert(resolveName(scope, node).expr, 'text');
    const matching = cursor.takeWord('matching');
    if (!matching) cursor.expectWord('as', 'or "matching"');
    const { text, span } = cursor.expectText('a pattern');
    cursor.expectEnd('after the pattern');
    const { by, names } = matching ? readMatching(text, span) : readBlanks(text, span);
    const columns = names.map(({ name, as }) => {
      const there = findColumn(scope, name);
      if (there !== undefined || /^original$/i.test(name))
        throw new HuntError(
          'needs-name',
          span,
          `There is a column "${there?.name ?? name}" already: choose another name for what is read.`,
        );
      const column: Column = { slot: context.newSlot(), name, type: as };
      return { column, as };
    });
    return {
      body: { step: 'read', value, by, columns },
      scope: { ...scope, columns: [...scope.columns, ...columns.map(({ column }) => column)] },
    };
  },
};

interface Cut {
  readonly by: ReadStep['by'];
  readonly names: readonly { readonly name: string; readonly as: ReadAs }[];
}

const BLANK = /<([\p{L}_][\p{L}\p{N}_]*)(?::([^<>]*))?>/gu;

function readBlanks(text: string, span: Span): Cut {
  const literals: string[] = [];
  const names: { name: string; as: ReadAs }[] = [];
  const seen = new Set<string>();
  let rest = false;
  let at = 0;
  for (const match of text.matchAll(BLANK)) {
    const [whole, name = '', type = 'word'] = match;
    const literal = text.slice(at, match.index);
    const as = Object.hasOwn(TYPES, type) ? TYPES[type] : undefined;
    if (as === undefined)
      throw new HuntError(
        'unreadable',
        span,
        `"${whole}": a blank is of the type word, number, ip or rest, such as <addr:ip>.`,
      );
    if (names.length > 0 && literal === '')
      throw new HuntError(
        'unreadable',
        span,
        `"${whole}" follows another blank directly: put what stands between them, if only a space.`,
      );
    if (seen.has(name.toLowerCase()))
      throw new HuntError('needs-name', span, `Two blanks are called "${name}".`);
    seen.add(name.toLowerCase());
    at = match.index + whole.length;
    if (type === 'rest' && at < text.length)
      throw new HuntError('unreadable', span, `"${whole}" takes the rest, so it can only stand last.`);
    rest = type === 'rest';
    literals.push(literal);
    names.push({ name, as });
  }
  if (names.length === 0)
    throw new HuntError(
      'unreadable',
      span,
      "The pattern holds no blank. Write one as <name>, such as 'user=<who>'.",
    );
  const endsInBlank = at === text.length;
  if (!endsInBlank) literals.push(text.slice(at));
  const pattern: BlankPattern = { literals, rest, endsInBlank };
  return { by: { how: 'blanks', pattern }, names };
}

function readMatching(text: string, span: Span): Cut {
  let regex: Regex;
  try {
    regex = parseRegex(text);
  } catch (error) {
    if (!(error instanceof RegexError)) throw error;
    throw new HuntError('unreadable', span, `"${text}" is no pattern that can run: ${error.message}`);
  }
  const groups = groupNames(regex.tree);
  if (groups.length === 0)
    throw new HuntError('unreadable', span, 'The pattern names no group. Write one as (?<name>…).');
  return {
    by: { how: 'regex', regex, groups },
    names: groups.map((name) => ({ name, as: 'text' as const })),
  };
}

/** The named groups of a pattern, in order. */
function groupNames(node: RegexNode): string[] {
  switch (node.type) {
    case 'set':
    case 'assert':
      return [];
    case 'group':
      return [...(node.name === null ? [] : [node.name]), ...groupNames(node.part)];
    case 'repeat':
      return groupNames(node.part);
    case 'sequence':
    case 'choice':
      return node.parts.flatMap(groupNames);
  }
}
