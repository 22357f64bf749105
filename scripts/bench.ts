import { fork, type ChildProcess } from 'node:child_process';
import { createReadStream, createWriteStream, mkdirSync, readFileSync, rmSync, statSync } from 'node:fs';
import { join, resolve } from 'node:path';
import { pipeline } from 'node:stream/promises';
import { Client, type Pool } from 'pg';
import { from as copyFrom, to as copyTo } from 'pg-copy-streams';
import { DAY } from '../core/base/instant.js';
import { generateDemo } from '../demo/generate/index.js';
import type { DemoRecord } from '../demo/generate/record.js';
import { RuleFiles } from '../server/rules/files.js';
import { migrate } from '../server/db/migrate.js';
import { makePool } from '../server/db/pool.js';
import { buildAll } from './lib/build.js';
import { freePort, removeCluster, startCluster } from './lib/cluster.js';
import { furnish } from './lib/demo.js';

// `npm run bench [-- --events N] [--pack]`: intake end to end over HTTP, as ratios against PostgreSQL's own COPY of the
// very same finished rows into the same table with the same indexes, measured in the same run. With --pack the rules that
// ship are on as well: their correlations keep what they count, and what they find is written down.

const RULES = 100;
const BATCH = 5000;
const SENDERS = 3;
const eventsAt = process.argv.indexOf('--events');
// Enough for the first moments, in which every thread still warms up, not to decide the figures.
const wanted = eventsAt < 0 ? 500_000 : Number(process.argv[eventsAt + 1]);
/** With --keep the filled database stays, for questions to be measured on it. */
const keep = process.argv.includes('--keep');
const withPack = process.argv.includes('--pack');
const folder = resolve('.under-lamp-bench');

/** Records of the demo world in the order they come in, days enough for what is wanted. */
function* recordsOf(count: number): Generator<DemoRecord[]> {
  let left = count;
  // Blocks of days with a seed and an end of their own, so that memory stays bounded at any length.
  for (let block = 0; left > 0; block++) {
    const end = Math.floor(Date.now() / 86_400_000) * DAY - block * 10 * DAY;
    const made = generateDemo({ seed: 7 + block, end, days: 10 }).slice(0, left);
    left -= made.length;
    yield made;
  }
}

const ruleText = (i: number): string => `title: Bench rule ${i}
level: low
logsource: {}
detection:
  chosen:
    operation|startswith: ['never.${i}', 'nothing.${i}']
    user|endswith: '.bench${i}'
  other:
    command_line|contains: ['--bench-${i}', 'encoded-${i}']
  condition: chosen or other
`;

async function addRules(pool: Pool): Promise<void> {
  await new RuleFiles(pool).ship(
    Array.from({ length: RULES }, (_, i) => ({ name: `bench-${i}.yml`, text: ruleText(i) })),
    'bench',
  );
}

async function startServer(databaseUrl: string, port: number): Promise<ChildProcess> {
  const child = fork(resolve('dist/server.mjs'), {
    env: {
      ...process.env,
      DATABASE_URL: databaseUrl,
      UNDER_LAMP_PORT: String(port),
      UNDER_LAMP_SECRET: 'a secret for the bench only',
      UNDER_LAMP_LOG: 'warn',
    },
    execArgv: [],
  });
  await new Promise<void>((listening, ended) => {
    child.once('message', () => listening());
    child.once('exit', () => ended(new Error('The server ended before it was ready.')));
  });
  return child;
}

interface Batch {
  readonly source: string;
  readonly body: Buffer;
}

/** Records as senders would send them, made before the clock runs. */
function batchesOf(records: readonly DemoRecord[]): Batch[] {
  const bySource = new Map<string, DemoRecord[]>();
  for (const record of records) {
    const own = bySource.get(record.source);
    if (own === undefined) bySource.set(record.source, [record]);
    else own.push(record);
  }
  return [...bySource].flatMap(([source, own]) =>
    Array.from({ length: Math.ceil(own.length / BATCH) }, (_, i) => ({
      source,
      body: Buffer.from(
        own
          .slice(i * BATCH, (i + 1) * BATCH)
          .map(({ raw }) => raw)
          .join('\n'),
      ),
    })),
  );
}

/** Sends batches, each until it is acknowledged. @returns how many records were stored */
async function sendAll(
  port: number,
  keys: Readonly<Record<string, string>>,
  batches: Batch[],
): Promise<number> {
  let stored = 0;
  const work = async (): Promise<void> => {
    for (let batch = batches.shift(); batch !== undefined; batch = batches.shift()) {
      for (;;) {
        const response = await fetch(`http://127.0.0.1:${port}/api/v1/intake/${batch.source}`, {
          method: 'POST',
          headers: { Authorization: `Bearer ${keys[batch.source]}` },
          body: batch.body,
        }).catch(() => null);
        // A connection that rested while records were made may be closed: what is not acknowledged is sent again.
        if (response === null) continue;
        const answer = (await response.json()) as { stored?: number; detail?: string };
        if (response.status === 429) continue;
        if (!response.ok) throw new Error(answer.detail);
        stored += answer.stored ?? 0;
        break;
      }
    }
  };
  await Promise.all(Array.from({ length: SENDERS }, work));
  return stored;
}

/**
 * Ticks of all processors so far, and those of them that a virtual machine did not get (proc(5), /proc/stat, steal):
 * while much is taken away, figures say little.
 */
function processorTicks(): { all: number; taken: number } {
  const ticks = (/^cpu +(.*)$/m.exec(readFileSync('/proc/stat', 'utf8'))?.[1] ?? '').split(' ').map(Number);
  // The last two, of guests, are within the first.
  return { all: ticks.slice(0, 8).reduce((sum, one) => sum + one, 0), taken: ticks[7] ?? 0 };
}

/** The share of the processors that was taken away since then, as text. */
function takenSince(before: ReturnType<typeof processorTicks>): string {
  const { all, taken } = processorTicks();
  return `${((100 * (taken - before.taken)) / Math.max(1, all - before.all)).toFixed(0)} % of the processors taken away`;
}

const peakMegabytes = (pid: number): number =>
  Number(/VmHWM:\s+(\d+)/.exec(readFileSync(`/proc/${pid}/status`, 'utf8'))?.[1] ?? 0) / 1024;
const perSecond = (rows: number, milliseconds: number): string =>
  `${Math.round((rows * 1000) / milliseconds).toLocaleString('en')} rows/s`;

/** Copies what is stored out and in again. @returns milliseconds of the way in */
async function copyAgain(databaseUrl: string): Promise<number> {
  const client = new Client({ connectionString: databaseUrl });
  await client.connect();
  const file = join(folder, 'events.copy');
  await pipeline(
    client.query(copyTo('COPY (SELECT * FROM events ORDER BY batch) TO STDOUT')),
    createWriteStream(file),
  );
  await client.query('TRUNCATE events');
  await client.query('CHECKPOINT');
  const start = performance.now();
  await pipeline(
    createReadStream(file, { highWaterMark: 1 << 18 }),
    client.query(copyFrom('COPY events FROM STDIN')),
  );
  const took = performance.now() - start;
  await client.end();
  return took;
}

async function main(): Promise<void> {
  await buildAll();
  if (statSync(folder, { throwIfNoEntry: false }) !== undefined) await removeCluster(folder);
  mkdirSync(folder, { recursive: true });
  const cluster = await startCluster({ folder });
  const admin = makePool(cluster.url);
  await admin.query('CREATE DATABASE lamp');
  await admin.end();
  const databaseUrl = Object.assign(new URL(cluster.url), { pathname: '/lamp' }).toString();
  await migrate(databaseUrl, 'server/db/migrations');
  const pool = makePool(databaseUrl);
  const keys = await furnish(pool);
  if (!withPack) await pool.query(`UPDATE rules SET state = 'off', live_version = NULL`);
  await addRules(pool);
  const on = await pool.query<{ rules: number }>(
    `SELECT count(*)::int AS rules FROM rules WHERE state = 'on'`,
  );
  const port = await freePort();
  const server = await startServer(databaseUrl, port);
  let stored = 0;
  let milliseconds = 0;
  const beforeIntake = processorTicks();
  for (const records of recordsOf(wanted)) {
    const batches = batchesOf(records);
    const start = performance.now();
    const before = processorTicks();
    stored += await sendAll(port, keys, batches);
    milliseconds += performance.now() - start;
    process.stdout.write(
      `  ${stored.toLocaleString('en')} stored, ${perSecond(stored, milliseconds)}, ${takenSince(before)}\n`,
    );
  }
  const takenFromIntake = takenSince(beforeIntake);
  const peak = peakMegabytes(server.pid ?? 0);
  await new Promise((ended) => {
    server.once('exit', ended);
    server.kill('SIGTERM');
  });
  const { rows } = await pool.query<{ bytes: number }>(
    `SELECT sum(pg_total_relation_size(inhrelid)) AS bytes FROM pg_inherits WHERE inhparent = 'events'::regclass`,
  );
  await pool.end();
  const beforeCopy = processorTicks();
  const copying = await copyAgain(databaseUrl);
  const takenFromCopy = takenSince(beforeCopy);
  process.stdout.write(
    [
      `intake over HTTP, ${on.rows[0]?.rules} rules on: ${perSecond(stored, milliseconds)} (${takenFromIntake})`,
      `COPY of the same rows, same indexes: ${perSecond(stored, copying)} (${takenFromCopy})`,
      `intake reaches ${(copying / milliseconds).toFixed(2)} of COPY (aim: 0.33)`,
      `memory of the server at most ${Math.round(peak)} MB (aim: 600)`,
      `${Math.round((rows[0]?.bytes ?? 0) / stored).toLocaleString('en')} bytes an event on disk, indexes included`,
      '',
    ].join('\n'),
  );
  cluster.stop();
  if (keep) return;
  await removeCluster(folder);
  rmSync(folder, { recursive: true, force: true });
}

await main();
