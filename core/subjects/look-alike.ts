import { rectifyConfusion } from 'unicode-confusables';
import { editDistance } from '../base/text-distance.js';

/** A name that looks like another: never joined, only told. */
export interface LookAlike {
  readonly name: string;
  /** The characters that are taken for others; empty where it differs by a slip of the hand. */
  readonly confused: readonly { readonly written: string; readonly takenFor: string }[];
  /** Letters put in, left out or changed. */
  readonly distance: number;
}

/** Shorter names are a letter away from too many others. */
const SHORTEST_FOR_SLIPS = 6;
const MAX_LOOK_ALIKES = 10;

/** What a name looks like: the skeleton of UTS #39, in small letters. */
export const skeletonOf = (name: string): string => rectifyConfusion(name.normalize('NFD')).toLowerCase();

/**
 * The names that look like one: the same skeleton by the Unicode table of confusable characters, or one letter away.
 * Names that only differ in their numbers (`gate-01`, `gate-02`) are no look-alikes: they are counted, not spelled.
 */
export function lookAlikesOf(name: string, names: Iterable<string>): LookAlike[] {
  const skeleton = skeletonOf(name);
  const numberless = withoutNumbers(name);
  const found: LookAlike[] = [];
  for (const other of names) {
    if (other === name || !mayLookAlike(name, other)) continue;
    const same = skeletonOf(other) === skeleton;
    if (!same && (name.length < SHORTEST_FOR_SLIPS || withoutNumbers(other) === numberless)) continue;
    const apart = editDistance(name, other);
    if (same || apart <= 1)
      found.push({ name: other, confused: same ? confusedIn(name, other) : [], distance: apart });
  }
  return found
    .sort(
      (a, b) =>
        b.confused.length - a.confused.length || a.distance - b.distance || (a.name < b.name ? -1 : 1),
    )
    .slice(0, MAX_LOOK_ALIKES);
}

/** Signs by which a name of the same length may differ, where it is written in plain letters. */
const MAX_DIFFERENT = 3;

/**
 * Whether two names may be alike at all: told by one walk over their letters, since a name is compared with all others.
 * What is written in other scripts is always looked at closely.
 */
function mayLookAlike(name: string, other: string): boolean {
  if (Math.abs(other.length - name.length) > 2) return false;
  // eslint-disable-next-line no-control-regex -- everything that is not ASCII
  if (/[^\x00-\x7f]/.test(other) || /[^\x00-\x7f]/.test(name)) return true;
  const least = Math.min(name.length, other.length);
  if (name.length === other.length) {
    let different = 0;
    for (let i = 0; i < least && different <= MAX_DIFFERENT; i++) if (name[i] !== other[i]) different++;
    return different <= MAX_DIFFERENT;
  }
  let alike = 0;
  while (alike < least && name[alike] === other[alike]) alike++;
  let end = 0;
  while (end < least - alike && name.at(-1 - end) === other.at(-1 - end)) end++;
  return alike + end >= least - 1;
}

const withoutNumbers = (name: string): string => name.replaceAll(/\d+/g, '#');

/** Where two names of one skeleton differ, character by character. */
function confusedIn(name: string, other: string): LookAlike['confused'] {
  const [ours, theirs] = [[...name], [...other]];
  if (ours.length !== theirs.length) {
    // Several letters that are taken for one, such as "rn": what is left between the letters that both share.
    let start = 0;
    while (start < Math.min(ours.length, theirs.length) && ours[start] === theirs[start]) start++;
    let end = 0;
    while (end < Math.min(ours.length, theirs.length) - start && ours.at(-1 - end) === theirs.at(-1 - end))
      end++;
    const between = (letters: readonly string[]): string =>
      letters.slice(start, letters.length - end).join('');
    return [{ written: between(theirs), takenFor: between(ours) }];
  }
  return theirs.flatMap((written, i) => {
    const takenFor = ours[i] ?? '';
    return written === takenFor ? [] : [{ written, takenFor }];
  });
}
