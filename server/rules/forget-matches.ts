import type { Pool } from 'pg';
import { DAY, formatInstant, type Instant } from '../../core/base/instant.js';
import { activateRules } from '../../core/detect/active-rules.js';
import { loadPack } from '../../core/sigma/pack.js';
import { ruleLists } from './rule-lists.js';
import { FORGET_HITS, FORGET_RUNS, FORGET_MARKS, runningTexts } from './sql.js';

/** Records that come in later than so long after those of their window no longer complete one with them. */
export const LATENESS = 7 * DAY;
/** Runs of hunts are kept for so long, and marks as long as the events of the source that keeps longest. */
const RUNS_KEPT = 30 * DAY;

/**
 * Forgets what correlations counted once no record can make a window of it any more, what was counted for rules that
 * are off, old runs of hunts, and marks of events that are gone.
 */
export async function forgetMatches(pool: Pool, now: Instant): Promise<void> {
  const running = await runningTexts(pool);
  const pack = loadPack(
    running.map(({ id: name, text, live }) => ({ name, text, standby: !live })),
    await ruleLists(
      pool,
      running.map(({ text }) => text),
    ),
  );
  const { correlations, places } = activateRules(pack, running, []);
  const counted = correlations.flatMap(({ position, rule }) => {
    const place = places[position];
    return place === undefined
      ? []
      : [{ rule: place.id, document: place.document, before: formatInstant(now - rule.timespan - LATENESS) }];
  });
  // By when they came in, so that records of long ago can be counted as well. $1 correlations with that time
  await pool.query(FORGET_HITS, [JSON.stringify(counted)]);
  await pool.query(FORGET_RUNS, [formatInstant(now - RUNS_KEPT)]);
  await pool.query(FORGET_MARKS, [formatInstant(now)]);
}
