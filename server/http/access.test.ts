import { pino } from 'pino';
import { apiRoutes } from '../app.js';
import type { Route } from './route.js';
import type { Notices } from '../live/notices.js';
import { People } from '../people/service.js';
import { RuleSet } from '../intake/rule-set.js';
import { RecordStore } from '../intake/store-records.js';
import { onePool } from '../db/pools.js';
import { makeShared } from '../parts.js';
import { Caller, PASSWORD, testServer, type TestServer } from '../tests/server.js';

let server: TestServer;
let routes: Route[];
/** Signed in once: tries are limited. */
let admin: Caller;
beforeAll(async () => {
  server = await testServer();
  admin = await new Caller(server).signIn('admin');
  const { pool } = server.database;
  const pools = onePool(pool);
  routes = apiRoutes(
    {
      pools,
      notices: { subscribe: () => () => undefined } as unknown as Notices,
      logger: pino({ level: 'silent' }),
      syslog: { host: '', port: null, tlsPort: null },
      shared: makeShared(
        pools,
        new RecordStore(pool, new RuleSet()),
        { sessionSecret: 'x', places: null },
        () => 0,
      ),
      now: () => 0,
    },
    new People(pool),
  );
});
afterAll(() => server.stop());

/** A path with something in the place of every parameter. */
const filled = (path: string): string =>
  path.replace(/:id/, '00000000-0000-4000-8000-000000000000').replace(/:\w+/g, 'x');

it('nobody who is not signed in gets past the door', async () => {
  const stranger = new Caller(server);
  for (const { method, path, access } of routes) {
    if (access === 'anyone' || access === 'source-key') continue;
    const { status, json } = await stranger.call(
      method.toUpperCase(),
      filled(path),
      method === 'get' ? undefined : {},
    );
    expect([method, path, status, json.code]).toEqual([method, path, 401, 'not-signed-in']);
  }
});

it('every route asks for its role', async () => {
  const ranks = ['reader', 'analyst', 'admin'];
  for (const [rank, role] of ranks.entries()) {
    const caller = await new Caller(server).signIn(role as 'reader');
    for (const { method, path, access } of routes) {
      if (ranks.indexOf(access) <= rank) continue;
      const { status, json } = await caller.call(
        method.toUpperCase(),
        filled(path),
        method === 'get' ? undefined : {},
      );
      expect([role, method, path, status, json.code]).toEqual([role, method, path, 403, 'role']);
    }
  }
});

it('a session cookie cannot be borrowed by another page', async () => {
  const caller = await new Caller(server).signIn('admin');
  const rotate = (headers: Record<string, string>) =>
    caller.call('POST', '/sources/harbour-id/key', undefined, headers);
  expect(await rotate({ 'Sec-Fetch-Site': 'cross-site' })).toMatchObject({
    status: 403,
    json: { code: 'foreign-page' },
  });
  expect(await rotate({ Origin: 'http://evil.example' })).toMatchObject({ status: 403 });
  // As a page without an origin of its own sends it, such as one in a frame that is fenced off.
  expect(await rotate({ Origin: 'null' })).toMatchObject({ status: 403, json: { code: 'foreign-page' } });
  expect(await rotate({ 'Sec-Fetch-Site': 'same-origin' })).toMatchObject({ status: 200 });
});

it('signing in gives a cookie that scripts and other sites cannot use; signing out ends it', async () => {
  const caller = new Caller(server);
  const response = await caller.fetch('POST', '/session', { name: ' Reader ', password: PASSWORD });
  expect(await response.json()).toEqual({ name: 'reader', displayName: 'reader', role: 'reader' });
  expect(response.headers.get('set-cookie')).toMatch(/lamp\.sid=.*HttpOnly; SameSite=Strict/);
  expect((await caller.call('GET', '/session')).status).toBe(200);
  await caller.call('DELETE', '/session');
  expect((await caller.call('GET', '/session')).status).toBe(401);
});

it('passwords are kept as Argon2id and wrong ones told alike', async () => {
  const { rows } = await server.database.pool.query<{ password_hash: string }>(
    'SELECT password_hash FROM users',
  );
  expect(rows.every((row) => row.password_hash.startsWith('$argon2id$'))).toBe(true);
  const caller = new Caller(server);
  const answers = [
    await caller.call('POST', '/session', { name: 'reader', password: 'wrong' }),
    await caller.call('POST', '/session', { name: 'nobody', password: 'wrong' }),
  ];
  expect(answers.map(({ status, json }) => [status, json.code, json.detail])).toEqual(
    Array(2).fill([401, 'wrong-sign-in', 'The name or the password is wrong.']),
  );
});

it('a personal token works until then nobody knows it but its owner', async () => {
  const caller = await new Caller(server).signIn('analyst');
  const { json } = await caller.call('POST', '/tokens', { label: 'for curl' });
  const withToken = (token: string) =>
    new Caller(server).call('GET', '/session', undefined, { Authorization: `Bearer ${token}` });
  expect((await withToken(json.token)).json).toMatchObject({ name: 'analyst' });
  expect((await withToken(`${json.token}x`)).status).toBe(401);
  const { rows } = await server.database.pool.query<{ found: boolean }>(
    'SELECT EXISTS (SELECT 1 FROM api_tokens WHERE token_hash::text LIKE $1) AS found',
    [`%${json.token}%`],
  );
  expect(rows[0]?.found).toBe(false);
});

it('describes itself: every route, with the very schemas it is checked by', async () => {
  const { json } = await new Caller(server).call('GET', '/openapi.json');
  const operations = Object.entries(json.paths as Record<string, Record<string, any>>).flatMap(
    ([path, own]) => Object.values(own).map((operation) => ({ path, ...operation })),
  );
  expect(new Set(operations.map(({ operationId }) => operationId)).size).toBe(operations.length);
  for (const { path, parameters, tags, operationId } of operations) {
    const named = parameters.filter((one: any) => one.in === 'path').map((one: any) => one.name);
    expect([path, named.sort()]).toEqual([
      path,
      [...path.matchAll(/\{(\w+)\}/g)].map(([, name]) => name).sort(),
    ]);
    expect([path, tags.length, operationId]).toEqual([path, 1, expect.stringMatching(/^[a-z]+[A-Z]\w+$/)]);
  }
  expect(json.paths['/api/v1/intake/{source}'].post.requestBody.content).toHaveProperty([
    'application/octet-stream',
  ]);
  expect(json.openapi).toBe('3.1.0');
  for (const { method, path, answer } of routes) {
    const operation = json.paths[`/api/v1${path.replace(/:(\w+)/g, '{$1}')}`]?.[method];
    expect([path, operation?.summary]).toEqual([path, expect.any(String)]);
    if (answer !== undefined)
      expect(operation.responses['200'].content['application/json'].schema).toEqual(answer);
  }
});

it('what makes no sense is told, never stumbled over, and no answer is kept by a browser', async () => {
  const caller = await new Caller(server).signIn('admin');
  const asked: [string, string, unknown?][] = [
    ['GET', '/events/%00'],
    ['GET', '/alerts?search=a%00b'],
    ['GET', '/alerts/99999999999999999999'],
    ['POST', '/lists', { name: 'x\u0000y', description: '', key: 'k', match: 'exact', columns: ['k'] }],
    [
      'POST',
      '/hunts/run',
      { text: "from all\nwhere user = 'a\u0000b'", window: { from: '-99999999d', to: 'now' } },
    ],
    ['POST', '/hunts/run', { text: 'from all\nfirst 1e400', window: { from: '-1d', to: 'now' } }],
    ['POST', '/hunts/run', { text: 'from all', window: { from: '-1e300d', to: 'now' }, limit: 1e300 }],
    ['POST', '/session', { name: 'a\u0000', password: 'b\u0000' }],
    ['DELETE', '/saved-hunts/999999999999'],
  ];
  for (const [method, path, body] of asked) {
    const answer = await caller.fetch(method, path, body);
    const { detail } = (await answer.json()) as { detail?: string };
    expect([method, path, answer.status >= 400 && answer.status < 500, typeof detail]).toEqual([
      method,
      path,
      true,
      'string',
    ]);
    expect(answer.headers.get('cache-control')).toBe('no-store');
  }
  expect((await caller.fetch('GET', '/session')).headers.get('cache-control')).toBe('no-store');
});

it('tells failures as problem documents', async () => {
  const caller = await new Caller(server).signIn('analyst');
  const response = await caller.fetch('POST', '/hunts/run', { text: 'from all', window: { from: 'x' } });
  expect([response.status, response.headers.get('content-type')]).toEqual([
    400,
    expect.stringContaining('application/problem+json'),
  ]);
  expect(await response.json()).toEqual({
    type: '/problems/invalid',
    title: 'The request cannot be read',
    status: 400,
    code: 'invalid',
    detail: expect.stringContaining('"to"'),
  });
  expect(await caller.call('GET', '/nothing/here')).toMatchObject({
    status: 404,
    json: { code: 'not-found', detail: expect.stringContaining('/api/v1/openapi.json') },
  });
  expect(await caller.call('GET', '/alerts/99')).toMatchObject({ status: 404 });
  expect(await caller.call('GET', '/alerts?state=odd')).toMatchObject({
    status: 400,
    json: { detail: expect.stringContaining('open, mine, settled, all') },
  });
});

it('slows down whoever guesses passwords', async () => {
  const caller = new Caller(server);
  const statuses: number[] = [];
  for (let i = 0; i < 25; i++)
    statuses.push((await caller.call('POST', '/session', { name: 'reader', password: `guess ${i}` })).status);
  expect(statuses[0]).toBe(401);
  expect(statuses.at(-1)).toBe(429);
});

it('a method that a path does not have is answered 405, with those it has', async () => {
  for (const path of new Set(routes.map((route) => route.path))) {
    const response = await admin.fetch('OPTIONS', filled(path), undefined);
    expect([path, response.status]).toEqual([path, 405]);
    const allowed = response.headers.get('allow')?.split(', ') ?? [];
    for (const { method } of routes.filter((route) => route.path === path))
      expect(allowed).toContain(method.toUpperCase());
  }
});

it('a body that is not said to be JSON is answered 415', async () => {
  const response = await admin.fetch('POST', '/hunts/run', {}, { 'Content-Type': 'text/plain' });
  expect(response.status).toBe(415);
  expect(await response.json()).toMatchObject({ code: 'wrong-content-type' });
});
