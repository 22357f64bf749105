import type { Pool } from 'pg';
import { DAY, formatInstant, type Instant } from '../../core/base/instant.js';
import { activateRules } from '../../core/detect/active-rules.js';
import { loadPack } from '../../core/sigma/pack.js';
import { ruleLists } from './rule-lists.js';
import { runningTexts } from './sql.js';

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
  await pool.query(
    `DELETE FROM correlation_hits AS h
      WHERE NOT EXISTS (
        SELECT 1 FROM jsonb_to_recordset($1) AS c(rule uuid, document int, before timestamptz)
         WHERE c.rule = h.rule AND c.document = h.document AND h.added >= c.before)`,
    [JSON.stringify(counted)],
  );
  await pool.query('DELETE FROM hunt_runs WHERE due < $1', [formatInstant(now - RUNS_KEPT)]);
  await pool.query(
    `DELETE FROM rule_marks WHERE event_time <
       (SELECT CASE WHEN bool_or(retention_days IS NULL) THEN '-infinity' ELSE $1::timestamptz - make_interval(days => max(retention_days)) END FROM sources)`,
    [formatInstant(now)],
  );
}
