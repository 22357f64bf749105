import type { Pool, PoolClient } from 'pg';
import { transaction } from '../db/transaction.js';
import { notFound } from '../failure.js';
import { ADD_NOTE, HEAD_OF_CASE, TELL_CASE, TOUCH_CASE } from './sql.js';

/** Tells whoever looks at a case that it has changed. */
export async function tellCase(client: PoolClient, id: number): Promise<void> {
  await client.query(TELL_CASE, [String(id)]);
}

/** Where cases are worked on: each piece of work in one transaction, with a line in the notes and a word to the pages. */
export class CaseDesk {
  constructor(readonly pool: Pool) {}

  /** Work on a case that is still its own. @throws Failure 404 also for one that was merged */
  async work<T>(id: number, work: (client: PoolClient) => Promise<T>): Promise<T> {
    return transaction(this.pool, async (client) => {
      const { rowCount } = await client.query(TOUCH_CASE, [id]);
      if (rowCount === 0) throw notFound(`case ${id} that is still its own`);
      const made = await work(client);
      await tellCase(client, id);
      return made;
    });
  }

  /** What was done, written down by the workbench. */
  async line(client: PoolClient, id: number, who: string, text: string): Promise<void> {
    await client.query(ADD_NOTE, [id, who, text, null, false, true]);
  }

  /** @throws Failure 404 */
  async requireCase(id: number): Promise<void> {
    const { rowCount } = await this.pool.query(HEAD_OF_CASE, [id]);
    if (rowCount === 0) throw notFound(`case ${id}`);
  }
}
