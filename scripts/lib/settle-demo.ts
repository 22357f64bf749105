import type { Pool } from 'pg';
import { formatInstant, parseInstant, type Instant } from '../../core/base/instant.js';
import type { Happening } from '../../demo/generate/record.js';
import { settledBy } from '../../demo/settled.js';

const OPEN_BEFORE = `SELECT a.id::text AS id, a.title, a.subject, to_json(a.last_event) #>> '{}' AS last,
       (SELECT coalesce(array_agg(DISTINCT t.happening), '{}')
          FROM alert_events AS e JOIN demo_truth AS t ON t.event = e.event_id WHERE e.alert = a.id) AS happenings
  FROM alerts AS a WHERE a.state <> 'settled' AND a.last_event < $1`;

const SETTLE = `UPDATE alerts AS a SET state = 'settled', verdict = s.verdict, owner = s.who, reason = s.reason,
       created = a.first_event + interval '20 seconds', updated = s.at
  FROM jsonb_to_recordset($1) AS s(id bigint, verdict text, who text, reason text, at timestamptz) WHERE a.id = s.id`;

const TELL = `INSERT INTO alert_changes (alert, at, who, what)
  SELECT id, taken, who, 'taken' FROM jsonb_to_recordset($1) AS s(id bigint, taken timestamptz, who text)
  UNION ALL
  SELECT id, at, who, 'settled as ' || verdict || ': ' || reason
    FROM jsonb_to_recordset($1) AS s(id bigint, at timestamptz, who text, verdict text, reason text)`;

/** Keeps at hand what events of the demo belong to, for as long as it is loaded. */
export async function keepTruth(pool: Pool, truth: Partial<Record<Happening, string[]>>): Promise<void> {
  await pool.query('CREATE TABLE IF NOT EXISTS demo_truth (event uuid, happening text)');
  await pool.query('TRUNCATE demo_truth');
  for (const [happening, events] of Object.entries(truth))
    await pool.query('INSERT INTO demo_truth SELECT unnest($1::uuid[]), $2', [events, happening]);
  await pool.query('CREATE INDEX IF NOT EXISTS demo_truth_event ON demo_truth (event)');
}

export async function forgetTruth(pool: Pool): Promise<void> {
  await pool.query('DROP TABLE IF EXISTS demo_truth');
}

/**
 * Lets the people of the demo settle what came up until then; what they leave over stays for the next day.
 * @param open since when what is real is left open
 */
export async function settleUntil(pool: Pool, until: Instant, open: Instant, seed: number): Promise<void> {
  const { rows } = await pool.query<{
    id: string;
    title: string;
    subject: string;
    last: string;
    happenings: Happening[];
  }>(OPEN_BEFORE, [formatInstant(until)]);
  const settled = rows.flatMap(({ id, last, ...alert }) => {
    const at = parseInstant(last) ?? until;
    const done = settledBy({ ...alert, last: at }, seed);
    return done === null || (done.verdict === 'real' && at >= open)
      ? []
      : [{ ...done, id, taken: formatInstant(done.taken), at: formatInstant(done.at) }];
  });
  const told = [JSON.stringify(settled)];
  await pool.query(SETTLE, told);
  await pool.query(TELL, told);
}
