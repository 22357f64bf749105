import type { Pool, PoolClient } from 'pg';
import type { Lists } from '../../core/sigma/detection.js';

const NONE: Lists = () => null;

/** Whether a rule may name lists, as `%name%`. */
export const namesLists = (text: string): boolean => /\|expand\b/.test(text);

/** The values of all lists, for texts that name some; rows that have expired are left out. */
export async function ruleLists(client: Pool | PoolClient, texts: readonly string[]): Promise<Lists> {
  if (!texts.some(namesLists)) return NONE;
  const { rows } = await client.query<{ name: string; keys: string[] }>(
    `SELECT l.name, coalesce(array_agg(r.key ORDER BY r.position) FILTER (WHERE r.key IS NOT NULL), '{}') AS keys
       FROM lists l LEFT JOIN list_rows r ON r.list = l.name AND (r.expires IS NULL OR r.expires > now())
      GROUP BY l.name`,
  );
  const lists = new Map(rows.map(({ name, keys }) => [name.toLowerCase(), keys]));
  return (name) => lists.get(name.toLowerCase()) ?? null;
}
