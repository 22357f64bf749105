import type { Pool, PoolClient } from 'pg';
import { bumpConfig } from '../db/config-versions.js';
import { transaction } from '../db/transaction.js';
import { Failure, notFound } from '../failure.js';
import { addChange } from '../trail/changes.js';
import { heldDays, removeSourceDay } from './retention.js';
import {
  COUNT_OF_SOURCE,
  END_SOURCE,
  HAS_EVENTS_ON,
  LEAVING_SOURCES,
  LET_COUNTS_OF_SOURCE_GO,
  MARK_LEAVING,
  RENAME_IN,
  RENAME_SOURCE,
} from './sql.js';

/** Events that bear the name of a source and can be given another in one go. */
const MAX_RENAMED = 500_000;

/**
 * Deletes a source: it takes in nothing more at once, and its events go day by day, by the clock.
 * @throws Failure 404
 */
export async function deleteSource(pool: Pool, name: string): Promise<void> {
  await transaction(pool, async (client) => {
    const { rowCount } = await client.query(MARK_LEAVING, [name]);
    if (rowCount === 0) throw notFound(`source "${name}"`);
    await addChange(client, 'source', name, 'deleted, with its events');
    await bumpConfig(client, 'sources');
  });
}

/** What was under way when somebody deleted a source is stored, or not, within so long. */
export const LEFT_SECONDS = 60;

/**
 * Removes what deleted sources left, and then them.
 * @param after seconds since somebody deleted them
 */
export async function endLeavingSources(pool: Pool, stop: AbortSignal, after: number): Promise<void> {
  const { rows } = await pool.query<{ name: string }>(LEAVING_SOURCES, [after]);
  for (const { name } of rows) {
    for (const day of await heldDays(pool)) {
      if (stop.aborted) return;
      const { rowCount } = await pool.query(HAS_EVENTS_ON, [name, day]);
      if (rowCount !== 0) await removeSourceDay(pool, name, day);
    }
    await transaction(pool, async (client) => {
      for (const text of LET_COUNTS_OF_SOURCE_GO) await client.query(text, [name]);
      await client.query(END_SOURCE, [name]);
      await bumpConfig(client, 'sources');
    });
  }
}

/**
 * Gives a source another name, wherever it stands in what is stored. Hunts and boards that somebody wrote keep the old
 * one: they are texts, and theirs to change.
 * @throws Failure 404, 409 where the name is taken or too many events bear the old one
 */
export async function renameSource(pool: Pool, name: string, to: string): Promise<void> {
  await transaction(pool, async (client) => {
    await requireRenamable(client, name);
    await client.query('SET LOCAL statement_timeout = 0');
    try {
      const { rowCount } = await client.query(RENAME_SOURCE, [name, to]);
      if (rowCount === 0) throw notFound(`source "${name}"`);
    } catch (error) {
      if ((error as { code?: string }).code === UNIQUE_VIOLATION)
        throw new Failure('name-taken', `There is a source "${to}" already. Choose another name.`, {
          cause: error,
        });
      throw error;
    }
    for (const text of RENAME_IN) await client.query(text, [name, to]);
    await addChange(client, 'source', to, `renamed: it was called ${name}`);
    await bumpConfig(client, 'sources');
    await bumpConfig(client, 'rules');
  });
}

// PostgreSQL manual, appendix A.
const UNIQUE_VIOLATION = '23505';

async function requireRenamable(client: PoolClient, name: string): Promise<void> {
  const { rows } = await client.query<{ n: number }>(COUNT_OF_SOURCE, [name]);
  const n = rows[0]?.n ?? 0;
  if (n > MAX_RENAMED)
    throw new Failure(
      'full',
      `${n.toLocaleString('en')} events bear the name "${name}"; up to ${MAX_RENAMED.toLocaleString('en')} can be renamed. Change its title instead, which is what people read.`,
    );
}
