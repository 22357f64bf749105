import { noiseKinds } from './words.js';
import { noiseOf, type JudgementCounts } from './verdicts.js';

export type NoiseKind = (typeof noiseKinds)[number];

/** What rules are ranked by. */
export interface RankedRule {
  readonly title: string;
  readonly kind: NoiseKind;
  readonly matches: number;
  readonly verdicts: JudgementCounts;
  /** Minutes that people spent on its alerts; null where nobody knows. */
  readonly work?: number | null;
}

/** The noisiest first, and the three kinds apart: no loud marking rule hides a loud alerting one. */
export const byNoise = (a: RankedRule, b: RankedRule): number =>
  noiseKinds.indexOf(a.kind) - noiseKinds.indexOf(b.kind) ||
  (b.work ?? 0) - (a.work ?? 0) ||
  noiseOf(b.verdicts) - noiseOf(a.verdicts) ||
  b.matches - a.matches ||
  (a.title < b.title ? -1 : a.title > b.title ? 1 : 0);
