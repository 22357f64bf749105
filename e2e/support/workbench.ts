import { fork, type ChildProcess } from 'node:child_process';
import { resolve } from 'node:path';
import type { DemoWorld } from '../../scripts/lib/demo.js';
import { putUser } from '../../server/people/service.js';
import { testDatabase, type TestDatabase } from '../../server/tests/database.js';
import { demoDatabase } from '../../tests/demo-database.js';

/** The built workbench, running over a database of its own. */
export interface Workbench {
  readonly base: string;
  readonly database: TestDatabase;
  /** Absent where it was started empty. */
  readonly world: DemoWorld | null;
  stop(): Promise<void>;
}

/** Starts the built server, with so many days of demo data, or empty but for one administrator. */
export async function startWorkbench(days: number): Promise<Workbench> {
  const { database, world } =
    days === 0 ? { database: await testDatabase(), world: null } : await demoDatabase(days);
  if (world === null)
    await putUser(database.pool, {
      name: 'ottilie.brandt',
      displayName: 'Ottilie Brandt',
      role: 'admin',
      password: 'skerry-line',
    });
  const child: ChildProcess = fork(resolve('dist/server.mjs'), {
    env: {
      ...process.env,
      DATABASE_URL: database.url,
      UNDER_LAMP_PORT: '0',
      UNDER_LAMP_SECRET: 'a secret for tests only',
      UNDER_LAMP_WEB: resolve('dist/web'),
      UNDER_LAMP_LOG: 'error',
    },
    execArgv: [],
  });
  const port = await new Promise<number>((ready, failed) => {
    child.once('message', (message) => ready((message as { listening: number }).listening));
    child.once('exit', (code) => failed(new Error(`The server ended with ${code}. Is it built?`)));
  });
  return {
    base: `http://127.0.0.1:${port}`,
    database,
    world,
    async stop() {
      const ended = new Promise((done) => child.once('exit', done));
      child.kill('SIGTERM');
      await ended;
      await database.drop();
    },
  };
}
