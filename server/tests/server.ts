import { readFileSync, writeFileSync } from 'node:fs';
import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { pino } from 'pino';
import type { Role } from '../../core/wire/people.js';
import { makeApp } from '../app.js';
import { RuleSet } from '../intake/rule-set.js';
import { RecordStore } from '../intake/store-records.js';
import { Notices } from '../live/notices.js';
import { makeShared } from '../parts.js';
import { onePool } from '../db/pools.js';
import { putUser } from '../people/service.js';
import { Recipes } from '../recipes/service.js';
import { Sources } from '../sources/service.js';
import { filledDatabase, type TestDatabase } from './database.js';

/** The application on a port of its own, over a database of its own. */
export interface TestServer {
  readonly database: TestDatabase;
  readonly base: string;
  /** Keys of the sources `harbour-id` and `dock-auth`. */
  readonly keys: Readonly<Record<string, string>>;
  /** What the server takes for now, microseconds; tests may move it. */
  clock: { now: number };
  stop(): Promise<void>;
}

export const SECRET = 'a secret for tests only';
export const PASSWORD = 'a long enough password';

/** When test servers begin, microseconds. */
const BEGIN = Date.parse('2026-11-14T12:00:00Z') * 1000;

/** A database with two sources and a person of each role, which are made once a run and copied; and the sources' keys. */
async function furnishedDatabase(): Promise<{
  readonly database: TestDatabase;
  readonly keys: TestServer['keys'];
}> {
  const keysOf = (template: string): string => join(tmpdir(), `${template}-keys.json`);
  const { database, template } = await filledDatabase('server', async (pool, name) => {
    const sources = new Sources(pool, () => BEGIN);
    const keys: Record<string, string> = {};
    for (const source of ['harbour-id', 'dock-auth']) {
      await new Recipes(pool).put(JSON.parse(readFileSync(`demo/recipes/${source}.json`, 'utf8')));
      keys[source] = await sources.add({ name: source, title: source, description: '', recipe: source });
    }
    for (const role of ['reader', 'analyst', 'admin'] as const)
      await putUser(pool, { name: role, displayName: role, role, password: PASSWORD });
    writeFileSync(keysOf(name), JSON.stringify(keys));
  });
  return {
    database,
    keys: JSON.parse(readFileSync(keysOf(template), 'utf8')) as TestServer['keys'],
  };
}

/** @param behind where it is reached from outside, if a proxy stands before it */
export async function testServer(behind: string | null = null): Promise<TestServer> {
  const { database, keys } = await furnishedDatabase();
  const logger = pino({ level: process.env['UNDER_LAMP_LOG'] ?? 'silent' });
  const notices = new Notices(database.url, logger);
  await notices.start();
  const clock = { now: BEGIN };
  const app = makeApp({
    pools: onePool(database.pool),
    notices,
    logger,
    settings: {
      sessionSecret: SECRET,
      secureCookies: behind !== null,
      webFolder: null,
      address: behind,
    },
    shared: makeShared(
      onePool(database.pool),
      new RecordStore(database.pool, new RuleSet(), () => clock.now),
      { sessionSecret: SECRET, places: null },
      () => clock.now,
    ),
    syslog: { host: '127.0.0.1', port: 5514, tlsPort: null },
    now: () => clock.now,
    checkAnswers: true,
  });
  const server: Server = createServer(app);
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve));
  return {
    database,
    base: `http://127.0.0.1:${(server.address() as AddressInfo).port}/api/v1`,
    keys,
    clock,
    async stop() {
      server.closeAllConnections();
      await new Promise((resolve) => server.close(resolve));
      await notices.stop();
      await database.drop();
    },
  };
}

/** Calls as one person: keeps the session cookie. */
export class Caller {
  private cookie = '';

  constructor(private readonly server: Pick<TestServer, 'base'>) {}

  async fetch(
    method: string,
    path: string,
    body?: unknown,
    headers: Record<string, string> = {},
  ): Promise<Response> {
    const response = await fetch(this.server.base + path, {
      method,
      headers: {
        ...(body !== undefined && { 'Content-Type': 'application/json' }),
        ...(this.cookie !== '' && { Cookie: this.cookie }),
        ...headers,
      },
      ...(body !== undefined && { body: JSON.stringify(body) }),
    });
    const given = response.headers.get('set-cookie');
    if (given !== null) this.cookie = given.split(';')[0] ?? '';
    return response;
  }

  /** Sends bytes as they are. */
  fetchRaw(method: string, path: string, body: Uint8Array): Promise<Response> {
    return fetch(this.server.base + path, {
      method,
      headers: { 'Content-Type': 'application/octet-stream', Cookie: this.cookie },
      body: new Uint8Array(body),
    });
  }

  /** The status and the JSON of an answer. */
  async call(
    method: string,
    path: string,
    body?: unknown,
    headers?: Record<string, string>,
  ): Promise<{ status: number; json: any }> {
    const response = await this.fetch(method, path, body, headers);
    return { status: response.status, json: await response.json() };
  }

  async signIn(role: Role): Promise<this> {
    const { status } = await this.call('POST', '/session', { name: role, password: PASSWORD });
    if (status !== 200) throw new Error(`Signing in as ${role} gave ${status}.`);
    return this;
  }
}

/** A span of time that all events of tests lie in. */
export const TEST_TIME = { from: '2026-11-13T00:00:00Z', to: '2026-11-16T00:00:00Z' } as const;

/** Keeps a rule, looks at its replay and switches it on. @returns it as it was kept */
export async function addRule(caller: Caller, text: string): Promise<{ id: string; version: number }> {
  const { status, json } = await caller.call('POST', '/rules', { text });
  if (status !== 200) throw new Error(`The rule was not kept: ${json.detail}`);
  await switchOn(caller, json.id, text);
  return json;
}

/** Looks at the replay of a rule's newest text and switches it on. */
export async function switchOn(caller: Caller, id: string, text: string): Promise<void> {
  const replay = await caller.fetch('POST', '/rules/replay', { text, id, window: TEST_TIME });
  await replay.text();
  const { status, json } = await caller.call('PATCH', `/rules/${id}`, { state: 'on' });
  if (status !== 200) throw new Error(`The rule was not switched on: ${json.detail}`);
}

/** Sends records as a source would. */
export async function send(
  server: TestServer,
  source: string,
  body: string | Buffer,
  headers: Record<string, string> = {},
): Promise<{ status: number; json: any; headers: Headers }> {
  const response = await fetch(`${server.base}/intake/${source}`, {
    method: 'POST',
    headers: { Authorization: `Bearer ${server.keys[source]}`, ...headers },
    body: typeof body === 'string' ? body : new Uint8Array(body),
  });
  return { status: response.status, json: await response.json(), headers: response.headers };
}

let made = 0;

/** A record of the identity provider. */
export function signInRecord(
  more: {
    at?: string;
    user?: string;
    denied?: string;
    address?: string;
    eventId?: string;
    action?: string;
  } = {},
): string {
  const {
    at = '2026-11-14T08:00:00.000Z',
    user = 'teo.marrash',
    denied,
    address = '10.20.4.11',
    eventId = `hi-${++made}`,
    action = 'session.start',
  } = more;
  return JSON.stringify({
    eventId,
    at,
    action,
    result: denied === undefined ? { status: 'ok' } : { status: 'denied', why: denied },
    actor: { login: user, type: 'person' },
    client: { address, geo: { country: 'Norway', city: 'Stavik' } },
  });
}
