import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { Client } from 'pg';

/**
 * Brings a database up to date: every `.sql` file of the folder that has not run yet, in order of name, each in a
 * transaction of its own. Servers that start together wait for each other.
 * @returns the names of the files that ran
 */
export async function migrate(url: string, folder: string): Promise<string[]> {
  const client = new Client({ connectionString: url });
  await client.connect();
  try {
    await client.query(`SELECT pg_advisory_lock(hashtext('under-lamp migrations'))`);
    await client.query(
      `CREATE TABLE IF NOT EXISTS migrations (name text PRIMARY KEY, ran timestamptz NOT NULL DEFAULT now())`,
    );
    const { rows } = await client.query<{ name: string }>('SELECT name FROM migrations');
    const done = new Set(rows.map((row) => row.name));
    const waiting = readdirSync(folder)
      .filter((name) => name.endsWith('.sql') && !done.has(name))
      .sort();
    for (const name of waiting) {
      await client.query('BEGIN');
      try {
        await client.query(readFileSync(join(folder, name), 'utf8'));
        await client.query('INSERT INTO migrations (name) VALUES ($1)', [name]);
        await client.query('COMMIT');
      } catch (error) {
        await client.query('ROLLBACK');
        throw new Error(
          `Migration ${name} failed: ${error instanceof Error ? error.message : String(error)}`,
          { cause: error },
        );
      }
    }
    return waiting;
  } finally {
    await client.end();
  }
}
