import { createHash } from 'node:crypto';
import { cpSync, mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { columnNames } from '../../core/events/columns.js';
import { emptyDatabase, type TestDatabase } from '../tests/database.js';
import { migrate } from './migrate.js';

const MIGRATIONS = join(process.cwd(), 'server/db/migrations');

/** What the first release begins with. These files never change again: what is to change is a file of its own. */
const BASELINE: Readonly<Record<string, string>> = {
  '001_wick_functions.sql': '2b4e7c7321f5b875',
  '002_people.sql': 'a1dc3e9326bfb96f',
  '003_events.sql': 'ac8e0fc424b08805',
  '004_sources.sql': '6495a16fc68a42d0',
  '005_lists.sql': 'c6f4b8d4940dd293',
  '006_derived.sql': '7bc7b49f131a8475',
  '007_rules.sql': 'b4580be63e4881ff',
  '008_alerts.sql': 'e68a0fe139f47a1f',
  '009_deliveries.sql': '186d342a4263f90a',
  '010_hunts.sql': '86989aa678db9269',
  '011_cases.sql': 'b2a7d6e5ecc4f76c',
  '012_trail_and_clock.sql': '398ecfdbcffc293a',
};

let database: TestDatabase;
let folder: string;
beforeAll(async () => {
  database = await emptyDatabase();
  folder = mkdtempSync(join(tmpdir(), 'under-lamp-baseline-'));
  for (const name of Object.keys(BASELINE)) cpSync(join(MIGRATIONS, name), join(folder, name));
  await migrate(database.url, folder);
});
afterAll(async () => {
  rmSync(folder, { recursive: true, force: true });
  await database.drop();
});

/** How many rows each table holds; the days of events count as one. */
async function counts(): Promise<Record<string, number>> {
  const { rows: tables } = await database.pool.query<{ name: string }>(
    `SELECT relname AS name FROM pg_class WHERE relnamespace = 'public'::regnamespace AND relkind IN ('r', 'p') AND NOT relispartition`,
  );
  const found: Record<string, number> = {};
  for (const { name } of tables) {
    const { rows } = await database.pool.query<{ n: number }>(`SELECT count(*)::int AS n FROM "${name}"`);
    found[name] = rows[0]?.n ?? 0;
  }
  return found;
}

it.each(Object.entries(BASELINE))('%s is as it was released', (name, checksum) => {
  const text = readFileSync(join(MIGRATIONS, name), 'utf8');
  expect(createHash('sha256').update(text).digest('hex').slice(0, 16)).toBe(checksum);
});

it('a database of the baseline, in use, is brought up to date with all it holds', async () => {
  await database.pool.query(readFileSync(join(process.cwd(), 'server/tests/baseline-data.sql'), 'utf8'));
  const before = await counts();
  expect(Object.entries(before).filter(([, n]) => n === 0)).toEqual([]);
  await migrate(database.url, MIGRATIONS);
  const after = await counts();
  for (const [name, n] of Object.entries(before))
    if (name !== 'migrations') expect([name, after[name]]).toEqual([name, n]);
  const { rows } = await database.pool.query(
    'SELECT "user", host(src_ip) AS src_ip, search_extra FROM events',
  );
  expect(rows).toEqual([{ user: 'teo.marrash', src_ip: '203.0.113.77', search_extra: '' }]);
  const { rows: subjects } = await database.pool.query('SELECT kind, name FROM subjects ORDER BY kind, name');
  expect(subjects).toEqual([
    { kind: 'user', name: 'teo.marrash' },
    { kind: 'address', name: '203.0.113.77' },
  ]);
});

it('events have the columns that the core names, in its order, and hunts see them', async () => {
  const columnsOf = async (schema: string): Promise<string[]> => {
    const { rows } = await database.pool.query<{ name: string }>(
      `SELECT column_name AS name FROM information_schema.columns WHERE table_schema = $1 AND table_name = 'events' ORDER BY ordinal_position`,
      [schema],
    );
    return rows.map(({ name }) => name);
  };
  expect(await columnsOf('public')).toEqual([...columnNames, 'recipe_version', 'batch', 'search_extra']);
  expect(await columnsOf('wick')).toEqual([...columnNames, 'search_extra']);
});

it.each([
  [`UPDATE rules SET level = 'grave'`, 'rules_level_check'],
  [`UPDATE alerts SET level = 'grave'`, 'alerts_level_check'],
  [`UPDATE cases SET owner = 'nobody'`, 'cases_owner_fkey'],
  [`UPDATE saved_hunts SET owner = 'nobody'`, 'saved_hunts_owner_fkey'],
  [`UPDATE rereads SET version = 9`, 'rereads_recipe_version_fkey'],
])('the database refuses %s', async (text, constraint) => {
  await expect(database.pool.query(text)).rejects.toMatchObject({ constraint });
});
