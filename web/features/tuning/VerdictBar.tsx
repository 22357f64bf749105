import type { JSX } from 'react';
import type { JudgementCountsWire } from '../../../core/wire/tuning.js';
import { count } from '../../ui/format.js';

const PARTS = [
  { name: 'real', words: 'real', of: ({ real }: JudgementCountsWire) => real },
  { name: 'harmless', words: 'harmless', of: ({ harmless }: JudgementCountsWire) => harmless },
  { name: 'wrong', words: 'wrong', of: ({ wrong }: JudgementCountsWire) => wrong },
  {
    name: 'unsettled',
    words: 'not yet settled',
    of: ({ unsure, unsettled }: JudgementCountsWire) => unsure + unsettled,
  },
] as const;

/** A single one is still seen. */
const LEAST = 2.5;

/** What was said of matches or alerts: the full width is all of them. */
export function VerdictBar({
  verdicts,
  width = 76,
}: {
  verdicts: JudgementCountsWire;
  width?: number;
}): JSX.Element {
  const parts = PARTS.map(({ name, words, of }) => ({ name, words, n: of(verdicts) })).filter(
    ({ n }) => n > 0,
  );
  const all = parts.reduce((sum, { n }) => sum + n, 0);
  const spare = width - 0.6 - parts.length * LEAST;
  const wideOf = (n: number): number => LEAST + (spare * n) / all;
  const placed = parts.map(({ name, n }, i) => ({
    name,
    x: 0.3 + parts.slice(0, i).reduce((sum, one) => sum + wideOf(one.n), 0),
    wide: wideOf(n),
  }));
  return (
    <svg
      className="verdict-bar"
      width={width}
      height="9"
      role="img"
      aria-label={all === 0 ? 'none' : parts.map(({ words, n }) => `${count(n)} ${words}`).join(', ')}
    >
      {placed.map(({ name, x, wide }) => (
        <rect key={name} className={`verdict-${name}`} x={x} y="0.3" width={wide} height="8.4" />
      ))}
    </svg>
  );
}

/** What the parts of verdict bars mean. */
export function VerdictKey(): JSX.Element {
  return (
    <div className="verdict-key inset" aria-hidden="true">
      {PARTS.map(({ name, words }) => (
        <span key={name}>
          <svg width="11" height="11">
            <rect className={`verdict-${name}`} x="0.5" y="0.5" width="10" height="10" />
          </svg>
          {words}
        </span>
      ))}
    </div>
  );
}
