import type { Pool, PoolClient } from 'pg';

/** Runs work in one transaction: all of it is committed, or nothing. */
export async function transaction<T>(pool: Pool, work: (client: PoolClient) => Promise<T>): Promise<T> {
  const client = await pool.connect();
  let broken: Error | undefined;
  try {
    await client.query('BEGIN');
    const result = await work(client);
    await client.query('COMMIT');
    return result;
  } catch (error) {
    broken = error instanceof Error ? error : new Error(String(error));
    await client.query('ROLLBACK').catch(() => undefined);
    throw error;
  } finally {
    // A connection that may be in the middle of a COPY is not given to anyone else.
    client.release(broken);
  }
}
