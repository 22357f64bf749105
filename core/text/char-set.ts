import { toSmall } from './letter-runs.js';
/**
 * Sets of code points as sorted, separate, inclusive ranges. Regular expressions are reduced to these, so that
 * every engine is told the very same characters and none of them interprets classes or case by its own tables.
 */
export type CharSet = readonly (readonly [number, number])[];

export const LAST_CODE_POINT = 0x10ffff;
export const ANY: CharSet = [[0, LAST_CODE_POINT]];

/** Joins ranges that touch or overlap. */
export function normalise(ranges: readonly (readonly [number, number])[]): CharSet {
  const sorted = [...ranges].sort((a, b) => a[0] - b[0]);
  const out: [number, number][] = [];
  for (const [from, to] of sorted) {
    const last = out[out.length - 1];
    if (last !== undefined && from <= last[1] + 1) last[1] = Math.max(last[1], to);
    else out.push([from, to]);
  }
  return out;
}

/** Every code point that is not in the set. */
export function complement(set: CharSet): CharSet {
  const out: [number, number][] = [];
  let next = 0;
  for (const [from, to] of set) {
    if (from > next) out.push([next, from - 1]);
    next = to + 1;
  }
  if (next <= LAST_CODE_POINT) out.push([next, LAST_CODE_POINT]);
  return out;
}

export const union = (...sets: readonly CharSet[]): CharSet => normalise(sets.flat());

export const single = (codePoint: number): CharSet => [[codePoint, codePoint]];

let caseOrbits: Map<number, number[]> | undefined;

/** Letters that are one in small letters, by the pinned table; built once, about 2,800 entries. */
function orbits(): Map<number, number[]> {
  if (caseOrbits !== undefined) return caseOrbits;
  const bySmall = new Map<number, number[]>();
  const add = (capital: number, small: number): void => {
    const group = bySmall.get(small);
    if (group === undefined) bySmall.set(small, [small, capital]);
    else group.push(capital);
  };
  for (let capital = 0x41; capital <= 0x5a; capital++) add(capital, capital + 0x20);
  for (const [first, last, step, difference] of toSmall)
    for (let capital = first; capital <= last; capital += step) add(capital, capital + difference);
  caseOrbits = new Map();
  for (const group of bySmall.values()) for (const codePoint of group) caseOrbits.set(codePoint, group);
  return caseOrbits;
}

/** The set together with the other case of each of its letters. */
export function withCaseVariants(set: CharSet): CharSet {
  const extra: [number, number][] = [];
  const known = orbits();
  for (const [from, to] of set) {
    if (to - from < 3000) {
      for (let codePoint = from; codePoint <= to; codePoint++) {
        for (const variant of known.get(codePoint) ?? []) extra.push([variant, variant]);
      }
    } else {
      for (const [codePoint, group] of known) {
        if (codePoint >= from && codePoint <= to) for (const variant of group) extra.push([variant, variant]);
      }
    }
  }
  return normalise([...set, ...extra]);
}

const propertySets = new Map<string, CharSet | null>();

/** The code points of a Unicode general category or script, such as `L`, `Lu`, `Greek`; null for an unknown name. */
export function unicodeSet(name: string): CharSet | null {
  const cached = propertySets.get(name);
  if (cached !== undefined) return cached;
  let test: RegExp | null = null;
  for (const spelling of [name, `Script=${name}`]) {
    try {
      test ??= new RegExp(`^\\p{${spelling}}$`, 'u');
    } catch {
      // Not a name of this sort; the next spelling is tried.
    }
  }
  let set: CharSet | null = null;
  if (test !== null && /^[A-Za-z_]+$/.test(name)) {
    const ranges: [number, number][] = [];
    for (let codePoint = 0; codePoint <= LAST_CODE_POINT; codePoint++) {
      if (!test.test(String.fromCodePoint(codePoint))) continue;
      const last = ranges[ranges.length - 1];
      if (last !== undefined && last[1] === codePoint - 1) last[1] = codePoint;
      else ranges.push([codePoint, codePoint]);
    }
    set = ranges;
  }
  propertySets.set(name, set);
  return set;
}

const range = (from: string, to: string): [number, number] => [from.charCodeAt(0), to.charCodeAt(0)];
export const DIGITS: CharSet = [range('0', '9')];
export const WORD_SIGNS: CharSet = normalise([
  range('0', '9'),
  range('A', 'Z'),
  range('_', '_'),
  range('a', 'z'),
]);
/** RE2's `\s`: no vertical tab. */
export const SPACES: CharSet = normalise([
  [9, 10],
  [12, 13],
  [32, 32],
]);

/** The classes of POSIX brackets, ASCII only as in RE2. */
export const posixSets: Readonly<Record<string, CharSet>> = {
  alnum: normalise([range('0', '9'), range('A', 'Z'), range('a', 'z')]),
  alpha: normalise([range('A', 'Z'), range('a', 'z')]),
  ascii: [[0, 0x7f]],
  blank: normalise([
    [9, 9],
    [32, 32],
  ]),
  cntrl: normalise([
    [0, 31],
    [127, 127],
  ]),
  digit: DIGITS,
  graph: [[33, 126]],
  lower: [range('a', 'z')],
  print: [[32, 126]],
  punct: normalise([
    [33, 47],
    [58, 64],
    [91, 96],
    [123, 126],
  ]),
  space: normalise([
    [9, 13],
    [32, 32],
  ]),
  upper: [range('A', 'Z')],
  word: WORD_SIGNS,
  xdigit: normalise([range('0', '9'), range('A', 'F'), range('a', 'f')]),
};
