import { createHash } from 'node:crypto';
import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { Client } from 'pg';

/**
 * Brings a database up to date: every `.sql` file of the folder that has not run yet, in order of name, each in a
 * transaction of its own. Servers that start together wait for each other.
 * @returns the names of the files that ran
 * @throws Error for a file that has changed since it ran, or that ran and is not known here: what is there would not be
 * what the files say
 */
export async function migrate(url: string, folder: string): Promise<string[]> {
  const client = new Client({ connectionString: url });
  await client.connect();
  try {
    await client.query(`SELECT pg_advisory_lock(hashtext('under-lamp migrations'))`);
    await client.query(
      `CREATE TABLE IF NOT EXISTS migrations (name text PRIMARY KEY, checksum text NOT NULL, ran timestamptz NOT NULL DEFAULT now())`,
    );
    const { rows } = await client.query<{ name: string; checksum: string }>(
      'SELECT name, checksum FROM migrations',
    );
    const done = new Map(rows.map(({ name, checksum }) => [name, checksum]));
    const files = readdirSync(folder)
      .filter((name) => name.endsWith('.sql'))
      .sort();
    const texts = new Map(files.map((name) => [name, readFileSync(join(folder, name), 'utf8')]));
    for (const [name, text] of texts) requireUnchanged(name, text, done.get(name));
    const unknown = [...done.keys()].find((name) => !texts.has(name));
    if (unknown !== undefined)
      throw new Error(
        `This database holds ${unknown}, which this version does not know: a later version made it, or one before the first release. Start the version that made it, or an empty database.`,
      );
    const waiting = files.filter((name) => !done.has(name));
    for (const name of waiting) {
      const text = texts.get(name) ?? '';
      await client.query('BEGIN');
      try {
        await client.query(text);
        await client.query('INSERT INTO migrations (name, checksum) VALUES ($1, $2)', [
          name,
          checksumOf(text),
        ]);
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

/** SHA-256 of a file, in hexadecimal. */
const checksumOf = (text: string): string => createHash('sha256').update(text).digest('hex');

/** Migrations only go forward: a file that ran stays as it was. */
function requireUnchanged(name: string, text: string, kept: string | undefined): void {
  if (kept !== undefined && kept !== checksumOf(text))
    throw new Error(
      `Migration ${name} has changed since it ran here. Put it back, and write what is to change in a file of its own.`,
    );
}
