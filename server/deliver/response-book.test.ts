import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import type { Pool } from 'pg';
import { makeSeal } from '../seal.js';
import { dyingPool } from '../tests/dying-pool.js';
import { refusedAlert } from '../tests/refused-alert.js';
import { Caller, SECRET, testServer, type TestServer } from '../tests/server.js';
import { deliver, type DeliverParts } from './deliver.js';

// Responses as documents: written here without code, done as they were when they were asked for, also by the product
// itself; and whatever dies on the way, each is shown once.

let server: TestServer;
let pool: Pool;
let analyst: Caller;
let admin: Caller;
let receiver: Server;
let got: { path: string; body: Record<string, string> }[] = [];
let heads: { method: string; token: string }[] = [];
/** What the firewall answers, from the front; else 200. */
let statuses: number[] = [];
let alert: number;
let parts: DeliverParts;

const lock = {
  title: 'Lock the account at the gate',
  on: 'user',
  to: 'firewall',
  path: '/people/{subject}/lock',
  body: { id: '{id}', who: '{subject}' },
  undo: { title: 'Let them through again', path: '/people/{subject}/unlock' },
  hours: 8,
  history: 'from signin\nwhere user = {subject}',
  narrower: 'revoke-sessions',
};
const put = (document: object, who = admin, name = 'lock-at-the-gate') =>
  who.call('PUT', `/responses/${name}`, { text: JSON.stringify(document) });
const one = async (): Promise<any> => (await analyst.call('GET', `/alerts/${alert}`)).json;
const respond = (does: string, subject = 'teo.marrash', more: object = {}) =>
  analyst.call('POST', `/alerts/${alert}/responses`, { does, subject, ...more });
const waiting = async (): Promise<number[]> =>
  (
    await pool.query<{ id: number }>(`SELECT id::int FROM deliveries WHERE state = 'waiting' ORDER BY id`)
  ).rows.map(({ id }) => id);
const deliverAll = async (by = parts): Promise<void> => {
  for (const id of await waiting()) await deliver(by, id);
};
async function approved(): Promise<number> {
  const { id } = (await one()).responses.at(-1);
  expect((await admin.call('POST', `/alerts/${alert}/responses/${id}`, { approve: true })).status).toBe(200);
  return id;
}
const undo = (id: number) => analyst.call('POST', `/alerts/${alert}/responses/${id}/undo`);
const rowsOf = async (list: string): Promise<object[]> =>
  (await analyst.call('GET', `/lists/${list}`)).json.rows.map(({ cells }: { cells: object }) => cells);

beforeAll(async () => {
  server = await testServer();
  ({ pool } = server.database);
  analyst = await new Caller(server).signIn('analyst');
  admin = await new Caller(server).signIn('admin');
  receiver = createServer((request, response) => {
    let body = '';
    request.on('data', (piece) => (body += String(piece)));
    request.on('end', () => {
      got.push({ path: request.url ?? '', body: JSON.parse(body) as Record<string, string> });
      heads.push({ method: request.method ?? '', token: request.headers.authorization ?? '' });
      response.writeHead(statuses.shift() ?? 200).end('{}');
    });
  });
  await new Promise<void>((ready) => receiver.listen(0, '127.0.0.1', ready));
  parts = { pool, seal: makeSeal(SECRET), base: () => 'http://lamp.example', programs: null };
  alert = await refusedAlert(server, analyst);
  await admin.call('PUT', '/destinations/wall', {
    kind: 'firewall',
    address: `http://127.0.0.1:${(receiver.address() as AddressInfo).port}/api`,
    allowPrivate: true,
  });
});
afterAll(async () => {
  receiver.closeAllConnections();
  await new Promise((closed) => receiver.close(closed));
  await server.stop();
});
beforeEach(async () => {
  got = [];
  heads = [];
  statuses = [];
  await pool.query(
    'TRUNCATE responses, deliveries, response_documents, alert_changes, lists, runbook_runs CASCADE',
  );
});

describe('a response that somebody wrote', () => {
  it('is tried, asked for, approved, done and taken back as those that ship are', async () => {
    expect((await put(lock)).json).toMatchObject({ version: 1, ships: false, title: lock.title });
    const listed = (await analyst.call('GET', '/responses')).json.responses;
    expect(listed).toContainEqual(
      expect.objectContaining({ does: 'lock-at-the-gate', on: 'user', asks: 'analyst', version: 1 }),
    );
    const tried = await analyst.call('POST', `/alerts/${alert}/responses/try`, {
      does: 'lock-at-the-gate',
      subject: 'teo.marrash',
    });
    expect(tried.json).toMatchObject({
      label: lock.title,
      events: 1,
      carrier: 'wall',
      hours: 8,
      request: { body: { id: 'lamp-NUMBER', who: 'teo.marrash' } },
      narrower: { does: 'revoke-sessions' },
    });
    await respond('lock-at-the-gate');
    const id = await approved();
    await deliverAll();
    await undo(id);
    await deliverAll();
    expect(got.map(({ path }) => path)).toEqual([
      '/api/people/teo.marrash/lock',
      '/api/people/teo.marrash/unlock',
    ]);
    const { changes, deliveries } = await one();
    expect(changes.map(({ what }: { what: string }) => what)).toContain(
      'Lock the account at the gate of teo.marrash: done by wall',
    );
    expect(deliveries[0].does).toBe('Lock the account at the gate of teo.marrash, by wall');
  });

  it('is done as it was when it was asked for, whatever becomes of it since', async () => {
    await put(lock);
    await respond('lock-at-the-gate');
    await put({ ...lock, title: 'Another', path: '/people/{subject}/drown' });
    const id = await approved();
    await admin.call('DELETE', '/responses/lock-at-the-gate');
    await deliverAll();
    expect((await undo(id)).status).toBe(200);
    await deliverAll();
    expect(got.map(({ path }) => path)).toEqual([
      '/api/people/teo.marrash/lock',
      '/api/people/teo.marrash/unlock',
    ]);
    expect((await one()).responses[0]).toMatchObject({ label: lock.title, state: 'undone' });
    expect((await respond('lock-at-the-gate')).json.code).toBe('unknown-response');
  });

  it('asks as it says, with the secret as a token, and what is so already counts as done', async () => {
    const wall = (settings: object) =>
      admin.call('PUT', '/destinations/wall', {
        kind: 'firewall',
        address: `http://127.0.0.1:${(receiver.address() as AddressInfo).port}/api`,
        allowPrivate: true,
        ...settings,
      });
    await wall({ secret: 'sesame', settings: { secretAs: 'bearer' } });
    await put({
      ...lock,
      method: 'PUT',
      alsoDone: [409],
      undo: { ...lock.undo, path: lock.path, method: 'DELETE', alsoDone: [404] },
    });
    const tried = await analyst.call('POST', `/alerts/${alert}/responses/try`, {
      does: 'lock-at-the-gate',
      subject: 'teo.marrash',
    });
    expect(tried.json.request.method).toBe('PUT');
    statuses = [409, 404];
    await respond('lock-at-the-gate');
    const id = await approved();
    await deliverAll();
    expect((await one()).responses.at(-1)).toMatchObject({ state: 'done' });
    await undo(id);
    await deliverAll();
    expect((await one()).responses.at(-1)).toMatchObject({ state: 'undone' });
    expect(heads).toEqual([
      { method: 'PUT', token: 'Bearer sesame' },
      { method: 'DELETE', token: 'Bearer sesame' },
    ]);
    // Any other refusal stays one.
    statuses = [404];
    await respond('lock-at-the-gate');
    await approved();
    await deliverAll();
    expect((await one()).responses.at(-1)).toMatchObject({ state: 'failed' });
    await wall({ secret: null, settings: {} });
    const onList = {
      ...lock,
      to: 'lists',
      path: '/lists/locked',
      undo: null,
      hours: null,
      body: { user: '{subject}' },
    };
    expect((await put({ ...onList, method: 'PUT' })).json.detail).toContain('is no request');
  });

  it('runbooks may ask for it', async () => {
    await put(lock);
    const text = JSON.stringify({
      title: 'Lock',
      steps: [{ id: 'l', title: 'Lock', do: 'respond', response: 'lock-at-the-gate' }],
    });
    expect((await analyst.call('POST', '/runbooks/check', { text })).json.mistakes).toEqual([]);
    const tried = await analyst.call('POST', '/runbooks/try', { text, alert });
    expect(tried.json.steps[0].says).toContain('would ask for: Lock the account at the gate of teo.marrash');
    const wrong = text.replace('lock-at-the-gate', 'lock-at-the-door');
    expect(
      (await analyst.call('POST', '/runbooks/check', { text: wrong })).json.mistakes[0].message,
    ).toContain('Did you mean "lock-at-the-gate"?');
  });

  it('is written by administrators, checked, kept in versions, and removed; one that ships comes back', async () => {
    expect((await put(lock, analyst)).status).toBe(403);
    const wrong = await put({ ...lock, path: '/people/{host}/lock' });
    expect([wrong.status, wrong.json.detail]).toEqual([400, expect.stringContaining('knows no {host}')]);
    await put(lock);
    const stale = await admin.call('PUT', '/responses/lock-at-the-gate', {
      text: JSON.stringify(lock),
      basedOn: 0,
    });
    expect(stale.json.code).toBe('changed-meanwhile');
    const { responses } = (await analyst.call('GET', '/responses')).json;
    const disable = (await analyst.call('GET', '/responses/disable-account')).json;
    expect(disable).toMatchObject({ version: 0, ships: true, versions: [] });
    await put({ ...disable.document, title: 'Close the account' }, admin, 'disable-account');
    expect((await analyst.call('GET', '/responses')).json.responses).toHaveLength(responses.length);
    expect((await analyst.call('GET', '/responses/disable-account')).json).toMatchObject({
      title: 'Close the account',
      version: 1,
      ships: true,
    });
    expect((await admin.call('DELETE', '/responses/disable-account')).status).toBe(200);
    expect((await analyst.call('GET', '/responses/disable-account')).json.title).toBe('Disable the account');
    expect((await admin.call('DELETE', '/responses/disable-account')).status).toBe(400);
    expect((await admin.call('DELETE', '/responses/nobody-wrote-it')).status).toBe(404);
    const trail = (await analyst.call('GET', '/changes?kind=response')).json.changes;
    expect(trail.map(({ what }: { what: string }) => what)).toContain('removed');
  });
});

describe('what goes on a list', () => {
  it('is put there by the product itself, once, and only its own row is taken off', async () => {
    const tried = await analyst.call('POST', `/alerts/${alert}/responses/try`, {
      does: 'watch-address',
      subject: '198.18.40.77',
    });
    expect(tried.json).toMatchObject({
      carrier: 'Under Lamp',
      request: { address: '/lists/watched-addresses' },
    });
    await respond('watch-address', '198.18.40.77');
    const id = await approved();
    await deliverAll();
    expect(await rowsOf('watched-addresses')).toEqual([{ address: '198.18.40.77', response: `lamp-${id}` }]);
    await analyst.call('PATCH', '/lists/watched-addresses/rows', { add: [{ address: '203.0.113.9' }] });
    await respond('watch-address', '198.18.40.77');
    const second = await approved();
    await deliverAll();
    // What another response put there stays when this one is taken back.
    await undo(second);
    await deliverAll();
    expect(await rowsOf('watched-addresses')).toHaveLength(2);
    await undo(id);
    await deliverAll();
    expect(await rowsOf('watched-addresses')).toEqual([{ address: '203.0.113.9' }]);
    expect(got).toEqual([]);
  });

  it('a row that has run out is none: it is put there anew; two at once make one list', async () => {
    await analyst.call('PUT', '/lists/watched-users', {
      match: 'exact',
      key: 'user',
      rows: [{ user: 'teo.marrash', expires: '2020-01-01T00:00:00Z' }],
    });
    await respond('watch-user');
    const id = await approved();
    await respond('watch-address', '198.18.40.77');
    await approved();
    const ids = await waiting();
    await Promise.all([...ids, ...ids].map((delivery) => deliver(parts, delivery)));
    expect(await rowsOf('watched-users')).toEqual([{ user: 'teo.marrash', response: `lamp-${id}` }]);
    expect(await rowsOf('watched-addresses')).toHaveLength(1);
  });
});

it('killed after any statement it is done at least once with one key, shown once, and undone once', async () => {
  let died = 0;
  for (let after = 1; after < 60; after++) {
    got = [];
    await pool.query('TRUNCATE responses, deliveries, alert_changes CASCADE');
    await respond('drop-address', '198.18.40.77');
    const id = await approved();
    let lived = true;
    for (const way of ['do', 'undo'] as const) {
      if (way === 'undo') expect((await undo(id)).status).toBe(200);
      const { pool: mortal, left } = dyingPool(pool, after);
      const ended = await deliverAll({ ...parts, pool: mortal }).then(
        () => 'lived',
        () => 'died',
      );
      if (ended === 'died' || left() === 0) lived = false;
      if (ended === 'died') died++;
      const ids = await waiting();
      // Two servers go on at once.
      await Promise.all([1, 2].map(() => Promise.all(ids.map((delivery) => deliver(parts, delivery)))));
      const asked = got.filter(({ path }) => path.endsWith('/end') === (way === 'undo'));
      expect([after, way, asked.length > 0]).toEqual([after, way, true]);
      expect(new Set(asked.map(({ body }) => body['key'])).size).toBe(1);
      const { responses, changes } = await one();
      expect(responses).toHaveLength(1);
      expect(responses[0].state).toBe(way === 'do' ? 'done' : 'undone');
      const lines = changes.filter(({ what }: { what: string }) => what.includes('done by wall'));
      expect([after, way, lines.length]).toEqual([after, way, way === 'do' ? 1 : 2]);
    }
    if (lived) break;
  }
  expect(died).toBeGreaterThan(5);
});
