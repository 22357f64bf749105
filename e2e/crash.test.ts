import { fork, spawnSync, type ChildProcess } from 'node:child_process';
import { randomBytes } from 'node:crypto';
import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { createServer } from 'node:http';
import type { AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { freePort, removeCluster, startCluster, type Cluster } from '../scripts/lib/cluster.js';
import { makeSeal } from '../server/seal.js';
import { Destinations } from '../server/deliver/destinations.js';
import { Rules } from '../server/rules/service.js';
import { RuleFiles } from '../server/rules/files.js';
import { Recipes } from '../server/recipes/service.js';
import { Sources } from '../server/sources/service.js';
import { migrate } from '../server/db/migrate.js';
import { makePool } from '../server/db/pool.js';
import { checkDerived } from '../server/derived/check.js';
import { signInRecord } from '../server/tests/server.js';

// The server, and the database under it, are killed in the middle of intake; senders try again until they are
// answered. Every acknowledged record must be there exactly once. UNDER_LAMP_KILLS sets the rounds of each.

const ROUNDS = Number(process.env['UNDER_LAMP_KILLS'] ?? 2);
const BATCH = 40;

const folder = mkdtempSync(join(tmpdir(), 'under-lamp-crash-'));
let cluster: Cluster;
let databaseUrl: string;
let port: number;
let server: ChildProcess | undefined;
let key: string;

/** What many wait for until somebody opens it; nobody takes the processor from what is being started meanwhile. */
function gate(): { readonly opened: Promise<void>; readonly open: () => void } {
  let open = (): void => undefined;
  const opened = new Promise<void>((resolve) => {
    open = resolve;
  });
  return { opened, open };
}
/** Open while the server listens. */
let listening = gate();
/** Opens with the next batch that is acknowledged. */
let answered = gate();

async function startServer(): Promise<void> {
  const child = fork('dist/server.mjs', {
    env: {
      ...process.env,
      DATABASE_URL: databaseUrl,
      UNDER_LAMP_PORT: String(port),
      UNDER_LAMP_SECRET: 'a secret for tests only',
      UNDER_LAMP_LOG: 'silent',
    },
    execArgv: [],
    stdio: ['ignore', 'ignore', 'inherit', 'ipc'],
  });
  server = child;
  await new Promise<void>((ready, ended) => {
    child.once('message', () => ready());
    child.once('exit', () => ended(new Error('The server ended before it was ready.')));
  });
  listening.open();
}

/** Kills as the system kills: without a word. */
async function killServer(): Promise<void> {
  const child = server;
  if (child === undefined || child.exitCode !== null) return;
  await new Promise<void>((gone) => {
    child.once('exit', () => gone());
    child.kill('SIGKILL');
  });
}

let dataFolder: string;

/** Kills every process of the database at once, as a machine that loses its power would. */
function killDatabase(): void {
  const parent = readFileSync(join(dataFolder, 'postmaster.pid'), 'utf8').split('\n')[0] ?? '';
  const children = spawnSync('pgrep', ['-P', parent], { encoding: 'utf8' }).stdout.trim().split('\n');
  for (const pid of [parent, ...children])
    try {
      process.kill(Number(pid), 'SIGKILL');
    } catch {
      // It has ended by itself meanwhile.
    }
  // A kill takes a moment to arrive.
  const isGone = (pid: string): boolean => {
    try {
      return /\) [ZX] /.test(readFileSync(`/proc/${pid}/stat`, 'utf8'));
    } catch {
      return true;
    }
  };
  while (![parent, ...children].every(isGone));
}

/** What actions of rules reach, with how often each came. */
const received = new Map<string, number>();
const receiver = createServer((request, response) => {
  const key = String(request.headers['idempotency-key']);
  received.set(key, (received.get(key) ?? 0) + 1);
  request.resume();
  request.on('end', () => response.end('{}'));
});

beforeAll(async () => {
  await new Promise<void>((ready) => receiver.listen(0, '127.0.0.1', ready));
  cluster = await startCluster({ folder });
  const admin = makePool(cluster.url);
  await admin.query('CREATE DATABASE lamp');
  dataFolder =
    (await admin.query<{ data_directory: string }>('SHOW data_directory')).rows[0]?.data_directory ?? '';
  await admin.end();
  databaseUrl = Object.assign(new URL(cluster.url), { pathname: '/lamp' }).toString();
  key = await furnish(databaseUrl);
  port = await freePort();
});

/** Counts to three for each user, and tells each failure as well. */
const RULES = `title: Refused
name: refused
logsource: {}
detection: {s: {outcome: failure}, condition: s}
---
title: Refused three times
correlation: {type: event_count, rules: [refused], group-by: [user], timespan: 1d, condition: {gte: 3}, generate: true}
lamp: {actions: [{webhook: receiver, fields: [user]}]}
`;

/** Migrates a database, and gives it a source and rules that are on. @returns the key of the source */
async function furnish(url: string): Promise<string> {
  await migrate(url, 'server/db/migrations');
  const pool = makePool(url);
  await new Recipes(pool).put(JSON.parse(readFileSync('demo/recipes/harbour-id.json', 'utf8')));
  const made = await new Sources(pool, () => 0).add({
    name: 'harbour-id',
    title: 'x',
    description: '',
    recipe: 'harbour-id',
  });
  await new RuleFiles(pool).ship([{ name: 'rules.yml', text: RULES }], 'test');
  await new Destinations(pool, makeSeal('a secret for tests only'), new Rules(pool).reading, () => '').put(
    'receiver',
    {
      kind: 'webhook',
      address: `http://127.0.0.1:${(receiver.address() as AddressInfo).port}/`,
      allowPrivate: true,
    },
  );
  await pool.end();
  return made;
}

/** All alerts with what they rest on, in one order. */
async function alertsOf(url: string): Promise<unknown[]> {
  const pool = makePool(url);
  try {
    const { rows } = await pool.query<Record<string, unknown>>(
      `SELECT a.title, a.subject, a.matches, array_agg(e.event_id ORDER BY e.event_id) AS events
         FROM alerts a JOIN alert_events e ON e.alert = a.id GROUP BY a.id ORDER BY a.title, a.subject COLLATE "C"`,
    );
    return rows;
  } finally {
    await pool.end();
  }
}
afterAll(async () => {
  receiver.closeAllConnections();
  receiver.close();
  await killServer();
  await removeCluster(folder);
  rmSync(folder, { recursive: true, force: true });
});

/** Sends one batch until it is acknowledged. @returns the ids it was acknowledged with */
/** Set at the end, so that a failed test leaves no sender behind. */
let gaveUp = false;

async function sendUntilKnown(body: string): Promise<string[]> {
  for (;;) {
    try {
      const response = await fetch(`http://127.0.0.1:${port}/api/v1/intake/harbour-id`, {
        method: 'POST',
        headers: { Authorization: `Bearer ${key}` },
        body,
      });
      if (response.status === 200) {
        const answer = (await response.json()) as { outcomes: { outcome: string; id: string }[] };
        expect(answer.outcomes.every(({ outcome }) => outcome === 'stored' || outcome === 'known')).toBe(
          true,
        );
        return answer.outcomes.map(({ id }) => id);
      }
      await response.text();
    } catch {
      // It is gone for the moment; the same is sent again.
    }
    if (gaveUp) return [];
    await listening.opened;
  }
}

/** What the server says of itself. A connection left over from one that was killed is closed at its first use. */
async function health(): Promise<number> {
  for (;;) {
    try {
      return (await fetch(`http://127.0.0.1:${port}/healthz`)).status;
    } catch (error) {
      if (server?.exitCode !== null || server.signalCode !== null) throw error;
    }
  }
}

test('every acknowledged record is there exactly once, whoever is killed in the middle', async () => {
  const acknowledged: string[] = [];
  const bodies: string[] = [];
  // Of the past nothing would go out.
  const at = new Date().toISOString();
  let sending = true;
  const sender = async (name: string): Promise<void> => {
    for (let batch = 0; sending && !gaveUp; batch++) {
      // Each user fails three times, in three batches one after another.
      const body = Array.from({ length: BATCH }, (_, i) =>
        signInRecord({
          eventId: randomBytes(10).toString('hex'),
          at,
          user: `${name}-${Math.floor(batch / 3)}-${i}`,
          denied: 'bad_secret',
        }),
      ).join('\n');
      bodies.push(body);
      acknowledged.push(...(await sendUntilKnown(body)));
      answered.open();
      answered = gate();
    }
  };
  try {
    await startServer();
    const senders = ['a', 'b', 'c'].map(sender);
    for (let round = 0; round < ROUNDS * 2; round++) {
      const before = acknowledged.length;
      // Somewhere in the work of a few batches.
      while (!gaveUp && acknowledged.length < before + BATCH * (1 + (round % 3))) await answered.opened;
      listening = gate();
      if (round % 2 === 0) {
        await killServer();
      } else {
        killDatabase();
        // The server lives on without it, and says that it is not ready.
        expect(await health()).toBe(503);
        expect(server?.exitCode).toBeNull();
        await killServer();
        cluster = await restart();
      }
      await startServer();
    }
    sending = false;
    await Promise.all(senders);
  } finally {
    gaveUp = true;
    listening.open();
  }
  const pool = makePool(databaseUrl);
  try {
    const { rows } = await pool.query<{ id: string }>(`SELECT replace(id::text, '-', '') AS id FROM events`);
    const stored = rows.map(({ id }) => id);
    expect(new Set(stored).size).toBe(stored.length);
    const there = new Set(stored);
    expect(acknowledged.length).toBeGreaterThan(ROUNDS * BATCH);
    expect(acknowledged.filter((id) => !there.has(id))).toEqual([]);
    // What is derived was written with the events, or not at all.
    expect((await checkDerived(pool)).map(({ table, different }) => [table, different])).toEqual(
      ['event_hours', 'operation_hours', 'lag_hours', 'user_days', 'sightings'].map((table) => [table, 0]),
    );
  } finally {
    await pool.end();
  }
  await everyActionArrives();
  const disturbed = await alertsOf(databaseUrl);
  expect(disturbed.length).toBeGreaterThan(BATCH);
  expect(await undisturbed(bodies)).toEqual(disturbed);
});

/** Waits until all that alerts set off was sent; each came once at least, and is told apart by its key. */
async function everyActionArrives(): Promise<void> {
  const waiting = makePool(databaseUrl);
  try {
    for (;;) {
      const { rows } = await waiting.query<{ key: string; state: string }>(
        'SELECT key, state FROM deliveries',
      );
      if (rows.some(({ state }) => state === 'waiting')) {
        await new Promise((again) => setImmediate(again));
        continue;
      }
      const raised = await waiting.query<{ n: number }>(
        `SELECT count(*)::int AS n FROM alerts WHERE title = 'Refused three times'`,
      );
      expect(rows.map(({ state }) => state)).toEqual(rows.map(() => 'sent'));
      expect(rows).toHaveLength(raised.rows[0]?.n ?? -1);
      expect([...received.keys()].sort()).toEqual(rows.map(({ key }) => key).sort());
      return;
    }
  } finally {
    await waiting.end();
  }
}

/** The alerts of the same records, sent once and by one to a server that nobody kills. */
async function undisturbed(bodies: readonly string[]): Promise<unknown[]> {
  await killServer();
  const admin = makePool(cluster.url);
  await admin.query('CREATE DATABASE calm');
  await admin.end();
  databaseUrl = Object.assign(new URL(databaseUrl), { pathname: '/calm' }).toString();
  key = await furnish(databaseUrl);
  await startServer();
  gaveUp = false;
  for (const body of bodies) await sendUntilKnown(body);
  return alertsOf(databaseUrl);
}

/** Starts the killed cluster again on its port, as whoever runs it would. */
async function restart(): Promise<Cluster> {
  const again = await startCluster({ folder });
  databaseUrl = Object.assign(new URL(again.url), { pathname: '/lamp' }).toString();
  return again;
}
