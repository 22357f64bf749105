import type { Pool, PoolClient } from 'pg';
import type { Lists } from '../../core/sigma/detection.js';
import { KEYS_OF_LISTS } from './sql.js';

const NONE: Lists = () => null;

/** Whether a rule may name lists, as `%name%`. */
export const namesLists = (text: string): boolean => /\|expand\b/.test(text);

/** The values of all lists, for texts that name some; rows that have expired are left out. */
export async function ruleLists(client: Pool | PoolClient, texts: readonly string[]): Promise<Lists> {
  if (!texts.some(namesLists)) return NONE;
  const { rows } = await client.query<{ name: string; keys: string[] }>(KEYS_OF_LISTS);
  const lists = new Map(rows.map(({ name, keys }) => [name.toLowerCase(), keys]));
  return (name) => lists.get(name.toLowerCase()) ?? null;
}
