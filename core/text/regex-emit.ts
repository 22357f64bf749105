import { complement, LAST_CODE_POINT, type CharSet } from './char-set.js';
import type { RegexNode } from './regex-syntax.js';

// Two spellings of one tree. Only explicit code points, choices, repeats and anchors are written, which both
// engines read alike; see the property test that compares them.

const isPlain = (codePoint: number): boolean =>
  (codePoint >= 48 && codePoint <= 57) ||
  (codePoint >= 65 && codePoint <= 90) ||
  (codePoint >= 97 && codePoint <= 122) ||
  codePoint === 32;

interface Dialect {
  readonly character: (codePoint: number) => string;
  readonly nothing: string;
  readonly asserts: Readonly<Record<(RegexNode & { type: 'assert' })['what'], string>>;
  readonly mostRepeats: number;
  readonly group: (inner: string, name: string | null) => string;
}

const re2: Dialect = {
  character: (codePoint) =>
    isPlain(codePoint) ? String.fromCharCode(codePoint) : `\\x{${codePoint.toString(16)}}`,
  nothing: '[^\\x{0}-\\x{10ffff}]',
  asserts: {
    'text-start': '\\A',
    'text-end': '\\z',
    'line-start': '(?m:^)',
    'line-end': '(?m:$)',
    'word-edge': '\\b',
    'no-word-edge': '\\B',
  },
  mostRepeats: 1000,
  group: (inner, name) => (name === null ? `(${inner})` : `(?P<${name}>${inner})`),
};

// PostgreSQL's advanced regular expressions (manual, section 9.7.3). The leading (?w) makes ^ and $ match at
// lines without changing the dot; no character can be NUL there, so sets start at 1.
const postgres: Dialect = {
  character: (codePoint) =>
    isPlain(codePoint)
      ? String.fromCharCode(codePoint)
      : `\\U${Math.max(1, codePoint).toString(16).padStart(8, '0')}`,
  nothing: '[^\\U00000001-\\U0010ffff]',
  asserts: {
    'text-start': '\\A',
    'text-end': '\\Z',
    'line-start': '^',
    'line-end': '$',
    'word-edge': '\\y',
    'no-word-edge': '\\Y',
  },
  mostRepeats: 255,
  group: (inner) => `(?:${inner})`,
};

function spellSet(set: CharSet, dialect: Dialect): string {
  if (set.length === 0) return dialect.nothing;
  const [only] = set;
  if (set.length === 1 && only !== undefined && only[0] === only[1]) return dialect.character(only[0]);
  const negate = set[set.length - 1]?.[1] === LAST_CODE_POINT && set[0]?.[0] === 0;
  const ranges = negate ? complement(set) : set;
  if (ranges.length === 0) return dialect === re2 ? '(?s:.)' : '.';
  const spelled = ranges.map(([from, to]) =>
    from === to ? dialect.character(from) : `${dialect.character(from)}-${dialect.character(to)}`,
  );
  return `[${negate ? '^' : ''}${spelled.join('')}]`;
}

function spell(node: RegexNode, dialect: Dialect): string {
  switch (node.type) {
    case 'set':
      return spellSet(node.set, dialect);
    case 'sequence':
      return node.parts
        .map((part) => (part.type === 'choice' ? `(?:${spell(part, dialect)})` : spell(part, dialect)))
        .join('');
    case 'choice':
      return node.parts.map((part) => spell(part, dialect)).join('|');
    case 'group':
      return dialect.group(spell(node.part, dialect), node.name);
    case 'assert':
      return dialect.asserts[node.what];
    case 'repeat':
      return spellRepeat(node, dialect);
  }
}

function spellRepeat(node: RegexNode & { type: 'repeat' }, dialect: Dialect): string {
  const inner = spell(node.part, dialect);
  if (inner === '') return '';
  // Anchors repeat to nothing or to themselves, and not every engine lets them be repeated.
  if (node.part.type === 'assert') return node.least === 0 ? '' : inner;
  const atom = `(?:${inner})`;
  const { least, most } = node;
  const lazy = node.lazy ? '?' : '';
  const pieces: string[] = [];
  let restLeast = least;
  let restMost = most;
  // Counts over an engine's limit are written as several repeats in a row.
  while (restLeast > dialect.mostRepeats || (restMost !== Infinity && restMost > dialect.mostRepeats)) {
    const partLeast = Math.min(restLeast, dialect.mostRepeats);
    const partMost = restMost === Infinity ? partLeast : Math.min(restMost, dialect.mostRepeats);
    pieces.push(`${atom}{${partLeast},${partMost}}${lazy}`);
    restLeast -= partLeast;
    restMost -= partMost;
  }
  if (restMost === Infinity)
    pieces.push(
      restLeast === 0
        ? `${atom}*${lazy}`
        : restLeast === 1
          ? `${atom}+${lazy}`
          : `${atom}{${restLeast},}${lazy}`,
    );
  else if (restMost > 0)
    pieces.push(restLeast === 1 && restMost === 1 ? atom : `${atom}{${restLeast},${restMost}}${lazy}`);
  return pieces.join('');
}

/** The pattern in the syntax of the RE2 family, with its groups. */
export const toRe2 = (tree: RegexNode): string => spell(tree, re2);

/** The pattern as a PostgreSQL regular expression, good for finding whether it matches anywhere. */
export const toPostgres = (tree: RegexNode): string => `(?w)${spell(tree, postgres)}`;

/**
 * A text that every match must hold, in exact spelling, for a quick look before the pattern itself.
 * @returns '' when none is known
 */
export function requiredText(tree: RegexNode): string {
  let best = '';
  let run = '';
  const close = (): void => {
    if (run.length > best.length) best = run;
    run = '';
  };
  const walk = (node: RegexNode): void => {
    switch (node.type) {
      case 'set': {
        const [only] = node.set;
        if (node.set.length === 1 && only !== undefined && only[0] === only[1])
          run += String.fromCodePoint(only[0]);
        else close();
        return;
      }
      case 'sequence':
        node.parts.forEach(walk);
        return;
      case 'group':
        walk(node.part);
        return;
      case 'repeat':
        if (node.least === 1 && node.most === 1) walk(node.part);
        else close();
        return;
      case 'choice':
        close();
        return;
      case 'assert':
        return;
    }
  };
  walk(tree);
  close();
  return best;
}
