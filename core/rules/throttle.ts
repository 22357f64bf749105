import { DAY, type Instant } from '../base/instant.js';
import type { RuleSettings } from '../sigma/rule-model.js';

/** How long an alert is taken to be worked on where a rule says nothing of quiet: until then matches gather in it. */
export const ASSUMED_SETTLED = DAY;

/** A match as far as alerts go. */
export interface ThrottledMatch {
  readonly time: Instant;
  /** Whom or what it is about. */
  readonly subject: string;
}

/** An alert that matches would have raised. */
export interface RaisedAlert {
  readonly began: Instant;
  /** That of its first match. */
  readonly subject: string;
  readonly matches: number;
}

/**
 * The alerts that matches raise where each is settled by the end of its quiet, or within a day where it has none: until
 * then a match of its key gathers in it, a later one raises another.
 * @param matches by time
 */
export function alertsOf(
  matches: readonly ThrottledMatch[],
  { onMatch, quiet, quietPer }: Pick<RuleSettings, 'onMatch' | 'quiet' | 'quietPer'>,
): RaisedAlert[] {
  if (onMatch !== 'alert') return [];
  const gathers = quiet === 0 ? ASSUMED_SETTLED : quiet;
  const raised: { began: Instant; subject: string; matches: number }[] = [];
  const latest = new Map<string, (typeof raised)[number]>();
  for (const { time, subject } of matches) {
    const key = quietPer === 'any' ? '' : subject;
    const alert = latest.get(key);
    if (alert !== undefined && time <= alert.began + gathers) alert.matches++;
    else {
      const opened = { began: time, subject, matches: 1 };
      raised.push(opened);
      latest.set(key, opened);
    }
  }
  return raised;
}
