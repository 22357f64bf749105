import { addRule, Caller, send, signInRecord, testServer, type TestServer } from '../tests/server.js';
import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { makeSeal } from '../seal.js';
import { SECRET } from '../tests/server.js';
import { deliver, type DeliverParts } from './deliver.js';
import { Responses } from './responses.js';

// Responses at a firewall: tried on the past, approved by another, carried out, taken back by hand and by the clock.

let server: TestServer;
let analyst: Caller;
let admin: Caller;
let receiver: Server;
let got: { path: string; body: any }[] = [];
let refuse = false;
let alert: number;
let parts: DeliverParts;

const at = (seconds: number): string =>
  new Date(Date.parse('2026-11-14T08:00:00Z') + seconds * 1000).toISOString();
const one = async (): Promise<any> => (await analyst.call('GET', `/alerts/${alert}`)).json;
const ask = (body: object, who = analyst) => who.call('POST', `/alerts/${alert}/responses`, body);
const deliverAll = async (): Promise<void> => {
  const { rows } = await server.database.pool.query<{ id: number }>(
    `SELECT id::int FROM deliveries WHERE state = 'waiting' ORDER BY id`,
  );
  for (const { id } of rows) await deliver(parts, id);
};
/** Asks for it, has another approve it, and carries it out. @returns its number */
async function done(body: object): Promise<number> {
  expect((await ask(body)).status).toBe(200);
  const { id } = (await one()).responses.at(-1);
  expect((await admin.call('POST', `/alerts/${alert}/responses/${id}`, { approve: true })).status).toBe(200);
  await deliverAll();
  return id;
}

beforeAll(async () => {
  server = await testServer();
  analyst = await new Caller(server).signIn('analyst');
  admin = await new Caller(server).signIn('admin');
  receiver = createServer((request, response) => {
    let body = '';
    request.on('data', (piece) => (body += String(piece)));
    request.on('end', () => {
      got.push({ path: request.url ?? '', body: JSON.parse(body) });
      response.writeHead(refuse ? 404 : 200).end('{}');
    });
  });
  await new Promise<void>((ready) => receiver.listen(0, '127.0.0.1', ready));
  parts = {
    pool: server.database.pool,
    seal: makeSeal(SECRET),
    base: () => 'http://lamp.example',
    programs: null,
  };
  await addRule(
    analyst,
    'title: Refused\nlevel: high\nlogsource: {product: harbour-id}\ndetection: {failed: {outcome: failure}, condition: failed}\nlamp: {subject: [user, src_ip]}\n',
  );
  const records = Array.from({ length: 8 }, (_, day) =>
    signInRecord({ at: at(-day * 86_400), user: 'teo.marrash', address: '198.18.40.77' }),
  );
  records.push(
    signInRecord({ at: at(60), user: 'teo.marrash', address: '198.18.40.77', denied: 'bad_secret' }),
  );
  await send(server, 'harbour-id', records.join('\n'));
  alert = (await analyst.call('GET', '/alerts')).json.alerts[0].id;
});
afterAll(async () => {
  receiver.closeAllConnections();
  await new Promise((closed) => receiver.close(closed));
  await server.stop();
});
beforeEach(async () => {
  got = [];
  refuse = false;
  await server.database.pool.query('TRUNCATE responses, deliveries CASCADE');
  await admin.call('PUT', '/destinations/wall', {
    kind: 'firewall',
    address: `http://127.0.0.1:${(receiver.address() as AddressInfo).port}/api`,
    allowPrivate: true,
  });
});

it('is tried on thirty days first: what it would have hit, whether that is everyday work, the exact request', async () => {
  const { status, json } = await analyst.call('POST', `/alerts/${alert}/responses/try`, {
    does: 'drop-address',
    subject: '198.18.40.77',
  });
  expect(status).toBe(200);
  expect(json).toMatchObject({ everyday: true, events: 9, carrier: 'wall', hours: 24 });
  expect(json.days).toHaveLength(8);
  expect(json.says).toBe('Over 30 days it would have hit 9 events on 8 days: that looks like everyday work.');
  expect(json.request.address).toMatch(/\/api\/rules$/);
  expect(json.request.body).toEqual({ id: 'lamp-NUMBER', address: '198.18.40.77' });
  expect(json.hunt).toContain("src_ip = '198.18.40.77'");
  const user = await analyst.call('POST', `/alerts/${alert}/responses/try`, {
    does: 'disable-account',
    subject: 'teo.marrash',
  });
  expect(user.json).toMatchObject({
    everyday: true,
    carrier: null,
    narrower: { does: 'revoke-sessions', subject: 'teo.marrash' },
  });
});

it('falls on nothing that the alert does not name', async () => {
  expect((await ask({ does: 'drop-address', subject: '203.0.113.9' })).json.code).toBe('not-its-subject');
  expect((await ask({ does: 'drop-address', subject: '0.0.0.0/0' })).json.detail).toContain('is no address');
  expect((await ask({ does: 'block-flow', subject: 'x' })).json.detail).toContain('is no flow');
  const flow = '198.18.40.77 > 203.0.113.9 port 22/tcp';
  expect((await ask({ does: 'block-flow', subject: flow })).json.code).toBe('not-its-subject');
  // The port and the protocol are those of the evidence, too: another flow between the same two is another flow.
  const known = '10.30.0.10 > 203.0.113.77 port 53/udp';
  await server.database.pool.query(
    `UPDATE events SET src_ip = '10.30.0.10', dst_ip = '203.0.113.77', dst_port = 53, protocol = 'UDP'
      WHERE id IN (SELECT event_id FROM alert_events WHERE alert = $1)`,
    [alert],
  );
  for (const other of [
    known.replace('53', '443'),
    known.replace('udp', 'tcp'),
    '203.0.113.77 > 10.30.0.10 port 53/udp',
  ])
    expect((await ask({ does: 'block-flow', subject: other })).json.code).toBe('not-its-subject');
  expect((await ask({ does: 'block-flow', subject: known })).status).toBe(200);
  await server.database.pool.query('TRUNCATE responses CASCADE');
  await server.database.pool.query(
    "UPDATE events SET src_ip = '198.18.40.77', dst_ip = NULL WHERE dst_port = 53",
  );
  expect((await ask({ does: 'level-the-quay', subject: 'x' })).json.code).toBe('unknown-response');
  expect((await one()).responses).toEqual([]);
});

it('is approved by another, carried out by the firewall, and taken back by hand, once', async () => {
  expect((await ask({ does: 'drop-address', subject: '198.18.40.77' })).status).toBe(200);
  const { id } = (await one()).responses[0];
  const own = await analyst.call('POST', `/alerts/${alert}/responses/${id}`, { approve: true });
  expect(own.json.code).toBe('own-request');
  await admin.call('POST', `/alerts/${alert}/responses/${id}`, { approve: true });
  await deliverAll();
  expect(got).toEqual([
    { path: '/api/rules', body: { key: expect.any(String), id: `lamp-${id}`, address: '198.18.40.77' } },
  ]);
  expect((await one()).responses[0]).toMatchObject({
    state: 'done',
    decidedBy: 'admin',
    undo: 'Let it through again',
    ends: expect.any(String),
  });
  const undo = () => analyst.call('POST', `/alerts/${alert}/responses/${id}/undo`);
  expect((await undo()).status).toBe(200);
  expect((await undo()).json.code).toBe('decided-already');
  await deliverAll();
  expect(got.at(-1)?.path).toBe(`/api/rules/lamp-${id}/end`);
  expect((await one()).responses[0]).toMatchObject({ state: 'undone', undo: null });
  expect((await undo()).json.code).toBe('decided-already');
});

it('ends by itself when its time is over, once, whoever looks; without an end it holds', async () => {
  const id = await done({ does: 'drop-address', subject: '198.18.40.77', hours: 1 });
  const forever = await done({ does: 'drop-address', subject: '198.18.40.77', hours: null });
  const responses = new Responses(server.database.pool);
  expect(await responses.endThoseOver()).toBe(0);
  await server.database.pool.query("UPDATE responses SET ends = ends - interval '2 hours'");
  const ended = await Promise.all([responses.endThoseOver(), responses.endThoseOver()]);
  expect(ended.reduce((a, b) => a + b)).toBe(1);
  await deliverAll();
  expect(got.filter(({ path }) => path.endsWith('/end')).map(({ path }) => path)).toEqual([
    `/api/rules/lamp-${id}/end`,
  ]);
  const [first, second] = (await one()).responses;
  expect([first.state, second.state, second.id, second.ends]).toEqual(['ended', 'done', forever, null]);
});

it('what cannot be taken back there still holds, and can be tried again', async () => {
  const id = await done({ does: 'drop-address', subject: '198.18.40.77' });
  refuse = true;
  await analyst.call('POST', `/alerts/${alert}/responses/${id}/undo`);
  await deliverAll();
  const { responses, changes } = await one();
  expect(responses[0]).toMatchObject({ state: 'done', undo: 'Let it through again' });
  expect(changes.at(-1).what).toContain('could not be done');
  refuse = false;
  await analyst.call('POST', `/alerts/${alert}/responses/${id}/undo`);
  await deliverAll();
  expect((await one()).responses[0].state).toBe('undone');
});
