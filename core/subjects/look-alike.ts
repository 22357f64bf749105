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
    if (other === name || Math.abs(other.length - name.length) > 2) continue;
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

const withoutNumbers = (name: string): string => name.replaceAll(/\d+/g, '#');

/** Where two names of one skeleton differ, character by character. */
function confusedIn(name: string, other: string): LookAlike['confused'] {
  const [ours, theirs] = [[...name], [...other]];
  if (ours.length !== theirs.length) return [];
  return theirs.flatMap((written, i) => {
    const takenFor = ours[i] ?? '';
    return written === takenFor ? [] : [{ written, takenFor }];
  });
}
