import { mkdirSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { truthOf } from '../demo/truth.js';
import { type DemoWorld, loadDemo, readWorld } from '../scripts/lib/demo.js';
import { filledDatabase, type TestDatabase } from '../server/tests/database.js';

/** A database of one test file's own that holds the demo world, and what is true of it. */
export interface DemoDatabase {
  readonly database: TestDatabase;
  readonly world: DemoWorld;
  /** The events of each story, by their ids. */
  readonly truth: ReturnType<typeof truthOf>;
}

/**
 * A database with so many days of the demo world, which is made once a run and copied; its stories end when it was made.
 * Files that are content with the same days share the making.
 */
export async function demoDatabase(days: number): Promise<DemoDatabase> {
  const folderOf = (template: string): string => join(tmpdir(), template);
  const { database, template } = await filledDatabase(`demo_${days}`, async (pool, name) => {
    rmSync(folderOf(name), { recursive: true, force: true });
    mkdirSync(folderOf(name));
    await loadDemo(pool, folderOf(name), { end: Date.now() * 1000, days });
  });
  const world = readWorld(folderOf(template));
  if (world === undefined) throw new Error(`The demo world of ${template} is gone from ${tmpdir()}.`);
  const truth = JSON.parse(
    readFileSync(join(folderOf(template), 'demo-truth.json'), 'utf8'),
  ) as DemoDatabase['truth'];
  return { database, world, truth };
}
