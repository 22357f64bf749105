import type { Pool, PoolClient } from 'pg';

/** A rule text as it runs, or as it would: the version that is on, else the newest. */
export interface RunningText {
  readonly id: string;
  readonly version: number;
  readonly text: string;
  readonly live: boolean;
}

/** Texts that are on and hold a hunt. */
export async function runningHunts(pool: Pool): Promise<RunningText[]> {
  const { rows } = await pool.query<RunningText>(
    `SELECT r.id, v.version, v.text, true AS live
       FROM rules r JOIN rule_versions v ON v.rule = r.id AND v.version = r.live_version
      WHERE v.text ~ '(^|\\n)hunt:' ORDER BY r.id`,
  );
  return rows;
}

/** All rule texts, those that are on first, so that they keep their ids where a draft has the same. */
export async function runningTexts(client: Pool | PoolClient): Promise<RunningText[]> {
  const { rows } = await client.query<RunningText>(
    `SELECT r.id, v.version, v.text, r.state = 'on' AS live
       FROM rules r JOIN rule_versions v ON v.rule = r.id AND v.version = coalesce(r.live_version, r.version)
      ORDER BY r.state = 'on' DESC, r.id`,
  );
  return rows;
}
