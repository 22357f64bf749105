import type { Pool, PoolClient } from 'pg';
import { formatInstant, type Instant } from '../../core/base/instant.js';
import type { ChangeKind, ChangeList } from '../../core/wire/changes.js';
import type { PageAsk } from '../../core/wire/paging.js';
import { readPage, toPage } from '../db/pages.js';
import { whoAsks } from '../db/who-asks.js';
import { ADD_CHANGE, READ_CHANGES } from './sql.js';

/** Changes that the product makes by itself have this name. */
const PRODUCT = 'Under Lamp';

/**
 * Writes down that somebody changed something, in the transaction of the change.
 * @param name what was changed: the id of a rule, the name of anything else
 * @param what in words, such as "switched version 3 on"
 * @param who whoever asks, unless given
 */
export async function addChange(
  client: Pool | PoolClient,
  kind: ChangeKind,
  name: string,
  what: string,
  who = whoAsks(),
): Promise<void> {
  await client.query(ADD_CHANGE, [who === '' ? PRODUCT : who, kind, name, what.slice(0, 500)]);
}

/** A page of the changes of something, newest first; of everything of its kind where no name is given. */
export async function changesOf(
  pool: Pool,
  asked: PageAsk & { readonly kind: ChangeKind; readonly name?: string },
): Promise<ChangeList> {
  const page = readPage(asked, 1);
  const { rows } = await pool.query<{
    at: Instant;
    who: string;
    name: string;
    what: string;
    place: [number];
  }>(READ_CHANGES, [asked.kind, asked.name ?? null, ...page.after, page.rows]);
  const { shown, next } = toPage(rows, asked);
  return { changes: shown.map(({ at, ...rest }) => ({ ...rest, at: formatInstant(at) })), next };
}
