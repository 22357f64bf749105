import { createHash, randomBytes } from 'node:crypto';
import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { Client, type Pool } from 'pg';
import { migrate } from '../db/migrate.js';
import { makePool } from '../db/pool.js';

const MIGRATIONS = join(process.cwd(), 'server/db/migrations');

/** The migrated database that others are copied from; a new one whenever a migration has changed. */
const TEMPLATE = `lamp_template_${createHash('sha256')
  .update(
    readdirSync(MIGRATIONS)
      .sort()
      .map((file) => readFileSync(join(MIGRATIONS, file), 'utf8'))
      .join(),
  )
  .digest('hex')
  .slice(0, 12)}`;

/** A database of one test file's own. */
export interface TestDatabase {
  readonly url: string;
  readonly pool: Pool;
  drop(): Promise<void>;
}

function maintenanceUrl(): string {
  const url = process.env['UNDER_LAMP_TEST_DATABASE'];
  if (url === undefined)
    throw new Error(
      'These tests need PostgreSQL: run them by "npm test", or by "npm test -- server/…" for some of them.',
    );
  return url;
}

const databaseUrl = (name: string): string =>
  Object.assign(new URL(maintenanceUrl()), { pathname: `/${name}` }).toString();

/** Makes an empty, migrated database. The first caller makes the template that the others copy. */
export const testDatabase = (): Promise<TestDatabase> =>
  copyOf(TEMPLATE, async () => void (await migrate(databaseUrl(TEMPLATE), MIGRATIONS)));

const FILLED = 'lamp_filled_';

/** Names this run of the cluster: what it was filled with belongs to this moment. */
async function thisRun(): Promise<string> {
  const admin = new Client({ connectionString: maintenanceUrl() });
  await admin.connect();
  try {
    const { rows } = await admin.query<{ run: string }>(
      'SELECT extract(epoch FROM pg_postmaster_start_time())::bigint::text AS run',
    );
    const run = rows[0]?.run ?? '';
    // What earlier runs were filled with is of no use any more.
    const { rows: stale } = await admin.query<{ name: string }>(
      `SELECT datname AS name FROM pg_database WHERE starts_with(datname, $1) AND NOT datname LIKE '%' || $2`,
      [FILLED, `_${run}`],
    );
    if (stale.length > 0) {
      // Another worker may be at it, too.
      await admin.query('SELECT pg_advisory_lock(hashtext($1))', [FILLED]);
      for (const { name } of stale) await dropTemplate(admin, name);
    }
    return run;
  } finally {
    await admin.end();
  }
}

/**
 * Makes a migrated database with something in it. The first caller of this run fills the template that the others copy.
 * @param what names what it is filled with
 * @param fill is given the template, to which nothing else is connected meanwhile, and its name, which no other run has
 * @returns the copy, and the name of its template
 */
export async function filledDatabase(
  what: string,
  fill: (pool: Pool, name: string) => Promise<void>,
): Promise<{ readonly database: TestDatabase; readonly template: string }> {
  const template = `${FILLED}${what}_${await thisRun()}`;
  const database = await copyOf(template, async () => {
    await migrate(databaseUrl(template), MIGRATIONS);
    const pool = makePool(databaseUrl(template), { max: 4 });
    try {
      await fill(pool, template);
    } finally {
      await pool.end();
    }
  });
  return { database, template };
}

async function dropTemplate(admin: Client, name: string): Promise<void> {
  const { rowCount } = await admin.query('SELECT 1 FROM pg_database WHERE datname = $1', [name]);
  if (rowCount === 0) return;
  await admin.query(`ALTER DATABASE ${name} IS_TEMPLATE false`);
  await admin.query(`DROP DATABASE IF EXISTS ${name} WITH (FORCE)`);
}

/** A copy of a template; whoever comes first makes that, and the others wait. */
async function copyOf(template: string, make: () => Promise<void>): Promise<TestDatabase> {
  const admin = new Client({ connectionString: maintenanceUrl() });
  await admin.connect();
  const name = `lamp_${randomBytes(6).toString('hex')}`;
  try {
    await admin.query('SELECT pg_advisory_lock(hashtext($1))', [template]);
    const { rows } = await admin.query<{ made: boolean }>(
      'SELECT datistemplate AS made FROM pg_database WHERE datname = $1',
      [template],
    );
    if (rows[0]?.made !== true) {
      // What was begun and came to no end is begun anew.
      await dropTemplate(admin, template);
      await admin.query(`CREATE DATABASE ${template}`);
      await make();
      await admin.query(`ALTER DATABASE ${template} IS_TEMPLATE true`);
    }
    await admin.query(`CREATE DATABASE ${name} TEMPLATE ${template} STRATEGY FILE_COPY`);
    await admin.query('SELECT pg_advisory_unlock(hashtext($1))', [template]);
  } finally {
    await admin.end();
  }
  return openDatabase(name);
}

/** Makes a database without anything in it. */
export async function emptyDatabase(): Promise<TestDatabase> {
  const name = `lamp_${randomBytes(6).toString('hex')}`;
  const admin = new Client({ connectionString: maintenanceUrl() });
  await admin.connect();
  await admin.query(`CREATE DATABASE ${name} TEMPLATE template0`);
  await admin.end();
  return openDatabase(name);
}

function openDatabase(name: string): TestDatabase {
  const url = databaseUrl(name);
  const pool = makePool(url, { max: 4 });
  return {
    url,
    pool,
    async drop() {
      await pool.end();
      const client = new Client({ connectionString: maintenanceUrl() });
      await client.connect();
      await client.query(`DROP DATABASE ${name} WITH (FORCE)`);
      await client.end();
    },
  };
}
