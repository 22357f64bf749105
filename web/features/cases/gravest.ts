import type { CaseDetail } from '../../../core/wire/cases.js';
import { type Level, LEVELS } from '../../ui/Glyphs.js';

const isLevel = (word: string | null): word is Level => (LEVELS as readonly (string | null)[]).includes(word);

/** The gravest of what is pinned, where nobody said how grave it is. */
export function gravest({ pinned, severity }: CaseDetail): Level | null {
  if (isLevel(severity)) return severity;
  return [...LEVELS].reverse().find((level) => pinned.some((pin) => pin.level === level)) ?? null;
}
