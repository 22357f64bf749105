import { createHash } from 'node:crypto';
import { fork, type ChildProcess } from 'node:child_process';
import { existsSync, mkdirSync } from 'node:fs';
import { createServer } from 'node:net';
import { resolve } from 'node:path';
import { Client } from 'pg';
import { migrate } from '../server/db/migrate.js';
import { makePool } from '../server/db/pool.js';
import { buildApart } from './lib/build-apart.js';
import { holdsCluster, removeCluster, startCluster, type Cluster } from './lib/cluster.js';
import { demoPeople, loadDemo, makeFirstAdmin, ownSecret, readWorld, type DemoWorld } from './lib/demo.js';
import { explainSystemError, PlainFailure } from './lib/plain-failure.js';

// Everything `npm start` does: database, demo data, build, server, stand-ins. Ctrl+C stops all of it.

const folder = resolve(process.env['UNDER_LAMP_DATA'] ?? '.under-lamp');
const port = Number(process.env['UNDER_LAMP_PORT'] ?? 7380);
const standInsPort = Number(process.env['UNDER_LAMP_STAND_INS'] ?? 7381);
const smtpPort = Number(process.env['UNDER_LAMP_STAND_INS_SMTP'] ?? 7325);
const syslogPort = process.env['UNDER_LAMP_SYSLOG'] ?? '5514';
const ownDatabase = process.env['DATABASE_URL'] === undefined;
const withDemo = process.env['UNDER_LAMP_DEMO'] !== '0';
const demoDays = Number(process.env['UNDER_LAMP_DEMO_DAYS'] ?? 30);
/** The demo world has no more days than the longest story needs; a year of it would fill a small disk. */
const MAX_DEMO_DAYS = 60;
const reset = process.argv.includes('--reset');
const STOP_MILLISECONDS = 15_000;

let cluster: Cluster | undefined;
const children: ChildProcess[] = [];

function requireFreePort(port: number, setting: string): Promise<void> {
  return new Promise((free, taken) => {
    const probe = createServer();
    probe.once('error', (error: NodeJS.ErrnoException) =>
      taken(
        error.code === 'EADDRINUSE'
          ? new PlainFailure(`Port ${port} is in use. Choose another with ${setting}, or stop what uses it.`)
          : explainSystemError(error, `opening port ${port}`),
      ),
    );
    probe.listen(port, '127.0.0.1', () => probe.close(() => free()));
  });
}

/** Removes the data of an earlier start; only what we made ourselves. */
async function beginAnew(): Promise<void> {
  if (!ownDatabase)
    throw new PlainFailure(
      '--reset would empty the database that DATABASE_URL names. Drop and create it yourself, then start without --reset.',
    );
  if (!existsSync(folder)) return;
  if (!holdsCluster(folder) && readWorld(folder) === undefined) {
    throw new PlainFailure(
      `${folder} does not look like a data folder of Under Lamp, so it is left alone. Remove it yourself if it is one.`,
    );
  }
  await removeCluster(folder);
}

/** The role the product works as: it owns its database, and is no superuser. */
const ROLE = 'lamp_owner';

/** Makes the role and the database where they are not there. @returns the address by which the role opens it */
async function openRole(admin: Client, superuser: URL, isNew: boolean): Promise<string> {
  const secret = ownSecret(folder);
  const password = createHash('sha256').update(`database ${secret}`).digest('base64url');
  const { rowCount } = await admin.query('SELECT 1 FROM pg_roles WHERE rolname = $1', [ROLE]);
  // Neither statement takes parameters; the name is fixed, and the password holds letters, digits, - and _ only.
  await admin.query(
    `${rowCount === 0 ? 'CREATE' : 'ALTER'} ROLE ${ROLE} LOGIN NOSUPERUSER NOCREATEROLE NOCREATEDB PASSWORD '${password}'`,
  );
  if (isNew) await admin.query(`CREATE DATABASE lamp OWNER ${ROLE}`);
  const url = Object.assign(new URL(superuser), { pathname: '/lamp' });
  if (!isNew) await handOver(url.toString());
  return Object.assign(url, { username: ROLE, password }).toString();
}

/** Gives a database that an earlier version made as superuser to the role. */
async function handOver(url: string): Promise<void> {
  const client = new Client({ connectionString: url });
  await client.connect();
  try {
    const { rows } = await client.query<{ owner: string }>(
      `SELECT pg_get_userbyid(datdba) AS owner FROM pg_database WHERE datname = current_database()`,
    );
    if (rows[0]?.owner === ROLE) return;
    await client.query(`ALTER DATABASE lamp OWNER TO ${ROLE}`);
    await client.query(`DO $$ DECLARE s record; BEGIN
      FOR s IN SELECT format('ALTER SCHEMA %I OWNER TO ${ROLE}', nspname) AS say FROM pg_namespace WHERE nspname IN ('public', 'wick', 'pgboss')
        UNION ALL SELECT format('ALTER TABLE %I.%I OWNER TO ${ROLE}', n.nspname, c.relname) FROM pg_class c JOIN pg_namespace n ON n.oid = c.relnamespace
          WHERE n.nspname IN ('public', 'wick', 'pgboss') AND c.relkind IN ('r', 'p', 'v')
        UNION ALL SELECT format('ALTER ROUTINE %s OWNER TO ${ROLE}', p.oid::regprocedure) FROM pg_proc p JOIN pg_namespace n ON n.oid = p.pronamespace
          WHERE n.nspname IN ('public', 'wick', 'pgboss')
        UNION ALL SELECT format('ALTER TYPE %s OWNER TO ${ROLE}', t.oid::regtype) FROM pg_type t JOIN pg_namespace n ON n.oid = t.typnamespace
          WHERE n.nspname IN ('public', 'wick', 'pgboss') AND t.typtype = 'e'
      LOOP EXECUTE s.say; END LOOP; END $$`);
  } finally {
    await client.end();
  }
}

async function openDatabase(): Promise<string> {
  const given = process.env['DATABASE_URL'];
  if (given !== undefined) return given;
  cluster = await startCluster({ folder });
  const admin = new Client({ connectionString: cluster.url });
  await admin.connect();
  const { rowCount } = await admin.query(`SELECT 1 FROM pg_database WHERE datname = 'lamp'`);
  const url = await openRole(admin, new URL(cluster.url), rowCount === 0);
  await admin.end();
  return url;
}

function startServer(databaseUrl: string): Promise<number> {
  const child = fork(resolve('dist/server.mjs'), {
    env: {
      ...process.env,
      DATABASE_URL: databaseUrl,
      UNDER_LAMP_PORT: String(port),
      UNDER_LAMP_SECRET: process.env['UNDER_LAMP_SECRET'] ?? ownSecret(folder),
      UNDER_LAMP_WEB: resolve('dist/web'),
      UNDER_LAMP_SYSLOG: syslogPort,
      UNDER_LAMP_LOG: process.env['UNDER_LAMP_LOG'] ?? 'warn',
    },
    // Ctrl+C reaches only this process, which stops the others in the right order.
    detached: true,
  });
  children.push(child);
  return new Promise((listening, failed) => {
    child.once('message', (message) => listening((message as { listening: number }).listening));
    child.once('exit', () => failed(new PlainFailure('The server ended before it was ready; see above.')));
  });
}

function startStandIns(world: DemoWorld): Promise<number> {
  const child = fork(resolve('dist/stand-ins.mjs'), {
    env: {
      PATH: process.env['PATH'],
      STAND_INS_PORT: String(standInsPort),
      STAND_INS_SERVER: `http://127.0.0.1:${port}`,
      STAND_INS_SYSLOG: syslogPort,
      STAND_INS_SMTP: String(smtpPort),
      STAND_INS_SEED: String(world.seed),
      STAND_INS_END: String(world.end),
      STAND_INS_KEYS: JSON.stringify(world.keys),
    },
    detached: true,
  });
  children.push(child);
  return new Promise((ready, failed) => {
    child.once('message', (message) => ready((message as { listening: number }).listening));
    child.once('exit', () =>
      failed(new PlainFailure('The stand-ins ended before they were ready; see above.')),
    );
  });
}

async function stopAll(): Promise<void> {
  // Senders first, then the server, then the database it writes to.
  for (const child of children) {
    if (child.exitCode !== null || child.signalCode !== null) continue;
    await new Promise<void>((ended) => {
      child.once('exit', () => ended());
      child.kill('SIGTERM');
      setTimeout(() => child.kill('SIGKILL'), STOP_MILLISECONDS).unref();
    });
  }
  cluster?.stop();
}

async function main(): Promise<void> {
  for (const [number, setting] of [
    [port, 'UNDER_LAMP_PORT'],
    [standInsPort, 'UNDER_LAMP_STAND_INS'],
  ] as const) {
    if (!Number.isInteger(number) || number < 1 || number > 65_535)
      throw new PlainFailure(`${setting}: "${process.env[setting]}" is no port.`);
    if (number === port || withDemo) await requireFreePort(number, setting);
  }
  if (!Number.isInteger(demoDays) || demoDays < 1 || demoDays > MAX_DEMO_DAYS)
    throw new PlainFailure(
      `UNDER_LAMP_DEMO_DAYS: "${process.env['UNDER_LAMP_DEMO_DAYS']}" is no number of days from 1 to ${MAX_DEMO_DAYS}.`,
    );
  if (reset) await beginAnew();
  try {
    mkdirSync(folder, { recursive: true });
  } catch (error) {
    throw explainSystemError(error, `making the data folder ${folder}`);
  }
  const databaseUrl = await openDatabase();
  await migrate(databaseUrl, resolve('server/db/migrations'));
  const pool = makePool(databaseUrl);
  let world: DemoWorld | undefined;
  let firstPassword: string | null = null;
  try {
    if (withDemo)
      world = await loadDemo(pool, folder, {
        end: Date.now() * 1000,
        days: demoDays,
        standIns: `http://127.0.0.1:${standInsPort}`,
        smtpPort,
      });
    else firstPassword = await makeFirstAdmin(pool);
  } finally {
    await pool.end();
  }
  await buildApart();
  // First those that the server will ask as soon as it runs; what they send meanwhile they send again.
  const scenes = world === undefined ? null : await startStandIns(world);
  const listening = await startServer(databaseUrl);
  const [first] = demoPeople;
  process.stdout.write(`\nUnder Lamp is at http://127.0.0.1:${listening}\n`);
  if (world !== undefined)
    process.stdout.write(`Sign in as ${first.name} with the password ${first.password}\n`);
  if (scenes !== null) process.stdout.write(`Scenes to play are at http://127.0.0.1:${scenes}\n`);
  if (firstPassword !== null)
    process.stdout.write(`Sign in as admin with the password ${firstPassword} (shown this once)\n`);
  process.stdout.write('Ctrl+C stops it; the data stays.\n');
  for (const child of children) {
    child.once('exit', (code) => {
      if (!stopping)
        void finish(
          new PlainFailure(
            `A part of the workbench ended by itself (exit code ${code}); everything is stopped. Start it again.`,
          ),
        );
    });
  }
}

let stopping = false;
async function finish(error?: unknown): Promise<void> {
  if (stopping) return;
  stopping = true;
  await stopAll();
  if (error === undefined) process.exit(0);
  const known = error instanceof PlainFailure ? error : explainSystemError(error, 'starting');
  process.stderr.write(
    known instanceof PlainFailure ? `${known.message}\n` : `It could not start: ${known.message}\n`,
  );
  process.exit(1);
}

process.on('SIGINT', () => void finish());
process.on('SIGTERM', () => void finish());
process.on('SIGHUP', () => void finish());
main().catch((error: unknown) => finish(error));
