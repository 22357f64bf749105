import type { Pool } from 'pg';
import { DAY, formatInstant, type Instant } from '../../core/base/instant.js';

/** What is done with is kept for so long, and then let go, so that nothing grows without end. */
const KEPT = {
  /** Batches that are counted: nobody asks for one again. */
  batches: 30 * DAY,
  /** What went out, or was given up. */
  deliveries: 180 * DAY,
  /** Tokens that have ended; until then their owner sees that they have. */
  tokens: 30 * DAY,
  /** Replays: a rule whose replay is older is replayed again before it is switched on. */
  replays: 180 * DAY,
} as const;
/** Rows let go at once, so that no statement holds others up. */
const MAX_AT_ONCE = 20_000;

/** $1 before which moment, $2 at most so many. Each gives how many it let go. */
const STATEMENTS: Readonly<Record<keyof typeof KEPT, string>> = {
  batches: `DELETE FROM batches WHERE id IN (SELECT id FROM batches WHERE rolled AND received < $1 ORDER BY id LIMIT $2)`,
  deliveries: `DELETE FROM deliveries WHERE id IN
    (SELECT id FROM deliveries WHERE state <> 'waiting' AND finished < $1 ORDER BY id LIMIT $2)`,
  tokens: `DELETE FROM api_tokens WHERE id IN (SELECT id FROM api_tokens WHERE expires < $1 LIMIT $2)`,
  replays: `DELETE FROM rule_replays WHERE text_hash IN (SELECT text_hash FROM rule_replays WHERE at < $1 LIMIT $2)`,
};

/** Buttons of messages that have ended. $1 now, $2 at most so many */
const BUTTONS = `DELETE FROM answer_tokens WHERE token_hash IN (SELECT token_hash FROM answer_tokens WHERE expires < $1 LIMIT $2)`;

/**
 * The evidence of settled alerts whose events are kept no longer: what it pointed at is gone. The alert stays, with its
 * figures, and so does the evidence of those that still wait. $1 at most so many
 */
const EVIDENCE = `DELETE FROM alert_events WHERE (alert, event_id) IN (
    SELECT e.alert, e.event_id FROM alert_events e JOIN alerts a ON a.id = e.alert
     WHERE a.state = 'settled' AND e.event_time < (
       SELECT min(to_date(right(c.relname, 8), 'YYYYMMDD'))::timestamp AT TIME ZONE 'UTC'
         FROM pg_inherits i JOIN pg_class c ON c.oid = i.inhrelid WHERE i.inhparent = 'events'::regclass)
     LIMIT $1)`;

/** Lets go of what is done with. @returns how many rows went, by what they were */
export async function letGo(pool: Pool, now: Instant): Promise<Readonly<Record<string, number>>> {
  const gone: Record<string, number> = {};
  const run = async (what: string, text: string, values: readonly unknown[]): Promise<void> => {
    let count = 0;
    let last: number;
    do {
      last = (await pool.query(text, [...values, MAX_AT_ONCE])).rowCount ?? 0;
      count += last;
    } while (last === MAX_AT_ONCE);
    gone[what] = count;
  };
  for (const [what, text] of Object.entries(STATEMENTS) as [keyof typeof KEPT, string][])
    await run(what, text, [formatInstant(now - KEPT[what])]);
  await run('buttons', BUTTONS, [formatInstant(now)]);
  await run('evidence', EVIDENCE, []);
  return gone;
}
