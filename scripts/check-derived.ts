import { readFileSync } from 'node:fs';
import { join, resolve } from 'node:path';
import { checkDerived } from '../server/derived/check.js';
import { makePool } from '../server/db/pool.js';
import { startCluster } from './lib/cluster.js';

// `npm run check:derived`: compares every table that is derived from events with a recount, on the database of
// DATABASE_URL or that of `npm start`, which may go on meanwhile.

async function databaseUrl(): Promise<{ url: string; stop: () => void }> {
  const given = process.env['DATABASE_URL'];
  if (given !== undefined) return { url: given, stop: () => undefined };
  const folder = resolve(process.env['UNDER_LAMP_DATA'] ?? '.under-lamp');
  const isRunning = ((): boolean => {
    try {
      return readFileSync(join(folder, 'postgres', 'postmaster.pid'), 'utf8') !== '';
    } catch {
      return false;
    }
  })();
  const cluster = await startCluster({ folder });
  const url = Object.assign(new URL(cluster.url), { pathname: '/lamp' }).toString();
  return { url, stop: () => (isRunning ? undefined : cluster.stop()) };
}

const { url, stop } = await databaseUrl();
const pool = makePool(url);
try {
  for (const { table, rows, different, example } of await checkDerived(pool)) {
    process.stdout.write(
      different === 0
        ? `${table}: ${rows.toLocaleString('en')} rows, all as a recount says\n`
        : `${table}: ${different.toLocaleString('en')} of ${rows.toLocaleString('en')} rows differ, such as ${example}\n`,
    );
    if (different > 0) process.exitCode = 1;
  }
} finally {
  await pool.end();
  stop();
}
