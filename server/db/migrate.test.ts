import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { emptyDatabase, type TestDatabase } from '../tests/database.js';
import { migrate } from './migrate.js';

let database: TestDatabase;
let folder: string;
beforeEach(async () => {
  database = await emptyDatabase();
  folder = mkdtempSync(join(tmpdir(), 'under-lamp-migrations-'));
  write('001_first.sql', 'CREATE TABLE ports (name text PRIMARY KEY)');
});
afterEach(async () => {
  rmSync(folder, { recursive: true, force: true });
  await database.drop();
});

const write = (name: string, text: string): void => writeFileSync(join(folder, name), text);
const run = (): Promise<string[]> => migrate(database.url, folder);

it('runs what has not run, once, in order of name', async () => {
  write('002_second.sql', "INSERT INTO ports VALUES ('skerry')");
  expect(await run()).toEqual(['001_first.sql', '002_second.sql']);
  expect(await run()).toEqual([]);
  const { rows } = await database.pool.query('SELECT name FROM ports');
  expect(rows).toEqual([{ name: 'skerry' }]);
});

it('a file that fails leaves nothing behind, and those before it stay', async () => {
  write('002_broken.sql', "INSERT INTO ports VALUES ('skerry'); SELECT nothing FROM nowhere");
  await expect(run()).rejects.toThrow('Migration 002_broken.sql failed');
  const { rows } = await database.pool.query(
    'SELECT (SELECT count(*)::int FROM ports) AS ports, (SELECT count(*)::int FROM migrations) AS ran',
  );
  expect(rows).toEqual([{ ports: 0, ran: 1 }]);
});

it('refuses a file that has changed since it ran', async () => {
  await run();
  write('001_first.sql', 'CREATE TABLE ports (name text PRIMARY KEY, country text)');
  write('002_second.sql', 'CREATE TABLE piers (name text)');
  await expect(run()).rejects.toThrow('Migration 001_first.sql has changed since it ran here');
  expect((await database.pool.query("SELECT to_regclass('piers') AS piers")).rows).toEqual([{ piers: null }]);
});

it('refuses a database that another version has brought further', async () => {
  write('002_later.sql', 'CREATE TABLE piers (name text)');
  await run();
  rmSync(join(folder, '002_later.sql'));
  await expect(run()).rejects.toThrow('This database holds 002_later.sql, which this version does not know');
});
