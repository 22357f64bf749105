export const NOTE_STOPPED = 'UPDATE periodic_jobs SET running_since = NULL WHERE name = $1';

export const READ_JOBS = `SELECT name, title, pause_ms AS pause, running_since AS "runningSince", last_ended AS "lastEnded",
        next_due AS "nextDue", failure, failed
   FROM periodic_jobs ORDER BY title LIMIT 100`;

export const NOTE_RUNNING = `
  INSERT INTO periodic_jobs (name, title, pause_ms, running_since) VALUES ($1, $2, $3, now())
  ON CONFLICT (name) DO UPDATE SET title = excluded.title, pause_ms = excluded.pause_ms, running_since = now()`;

/** $1 name, $2 title, $3 pause in milliseconds, $4 the failure or null */
export const NOTE_END = `
  INSERT INTO periodic_jobs (name, title, pause_ms, last_ended, next_due, failure, failed)
  VALUES ($1, $2, $3, now(), now() + $3::int * interval '1 millisecond', $4, CASE WHEN $4::text IS NOT NULL THEN now() END)
  ON CONFLICT (name) DO UPDATE SET title = excluded.title, pause_ms = excluded.pause_ms, running_since = NULL,
    last_ended = excluded.last_ended, next_due = excluded.next_due, failure = excluded.failure, failed = excluded.failed`;

/** Buttons of messages that have ended. $1 now, $2 at most so many */
export const LET_BUTTONS_GO = `DELETE FROM answer_tokens WHERE token_hash IN (SELECT token_hash FROM answer_tokens WHERE expires < $1 LIMIT $2)`;

/**
 * The evidence of settled alerts whose events are kept no longer: what it pointed at is gone. The alert stays, with its
 * figures, and so does the evidence of those that still wait. $1 at most so many
 */
export const LET_EVIDENCE_GO = `DELETE FROM alert_events WHERE (alert, event_id) IN (
    SELECT e.alert, e.event_id FROM alert_events e JOIN alerts a ON a.id = e.alert
     WHERE a.state = 'settled' AND e.event_time < (
       SELECT min(to_date(right(c.relname, 8), 'YYYYMMDD'))::timestamp AT TIME ZONE 'UTC'
         FROM pg_inherits i JOIN pg_class c ON c.oid = i.inhrelid WHERE i.inhparent = 'events'::regclass)
     LIMIT $1)`;

/** $1 before which moment, $2 at most so many. Each gives how many it let go. */
export const LET_GO = {
  batches: `DELETE FROM batches WHERE id IN (SELECT id FROM batches WHERE rolled AND received < $1 ORDER BY id LIMIT $2)`,
  deliveries: `DELETE FROM deliveries WHERE id IN
    (SELECT id FROM deliveries WHERE state <> 'waiting' AND finished < $1 ORDER BY id LIMIT $2)`,
  tokens: `DELETE FROM api_tokens WHERE id IN (SELECT id FROM api_tokens WHERE expires < $1 LIMIT $2)`,
  replays: `DELETE FROM rule_replays WHERE text_hash IN (SELECT text_hash FROM rule_replays WHERE at < $1 LIMIT $2)`,
  forwards: `DELETE FROM forwards WHERE id IN (SELECT id FROM forwards WHERE given_up AND created < $1 ORDER BY id LIMIT $2)`,
  boards: `DELETE FROM boards WHERE id IN (SELECT id FROM boards WHERE removed < $1 LIMIT $2)`,
} as const;
