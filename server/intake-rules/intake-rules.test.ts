import { createServer as createHttp, type Server } from 'node:http';
import { once } from 'node:events';
import { createServer as createTcp, type AddressInfo, type Server as TcpServer, type Socket } from 'node:net';
import { makeSeal } from '../seal.js';
import { Rereader } from '../reread/reread.js';
import { RuleSet } from '../intake/rule-set.js';
import { RecordStore } from '../intake/store-records.js';
import {
  Caller,
  SECRET,
  send,
  signInRecord,
  testServer,
  TEST_TIME,
  type TestServer,
} from '../tests/server.js';
import { forwardDue } from './forward.js';
import { SUM_UP_MET } from './sql.js';

let server: TestServer;
let admin: Caller;
let analyst: Caller;
let sink: Server;
let collector: TcpServer;
const posted: { readonly body: string; readonly key: string; readonly signed: boolean }[] = [];
let lines = '';
let refuse = false;
const never = new AbortController().signal;
/** Ends when the collector has read all of the connection that is made next. */
const readNext = async (): Promise<void> => {
  const [socket] = (await once(collector, 'connection')) as [Socket];
  await once(socket, 'end');
};

beforeAll(async () => {
  server = await testServer();
  admin = await new Caller(server).signIn('admin');
  analyst = await new Caller(server).signIn('analyst');
  sink = createHttp((request, response) => {
    let body = '';
    request.on('data', (chunk: Buffer) => (body += chunk.toString('utf8')));
    request.on('end', () => {
      if (refuse) return void response.writeHead(503).end();
      const key = request.headers['idempotency-key'];
      posted.push({ body, key: String(key), signed: 'lamp-signature' in request.headers });
      response.end('{}');
    });
  });
  collector = createTcp((socket) => socket.on('data', (chunk) => (lines += chunk.toString('utf8'))));
  for (const one of [sink, collector]) await new Promise<void>((done) => one.listen(0, '127.0.0.1', done));
  const port = (of: Server | TcpServer): number => (of.address() as AddressInfo).port;
  await admin.call('PUT', '/destinations/sink', {
    kind: 'webhook',
    address: `http://127.0.0.1:${port(sink)}/`,
    settings: {},
    secret: 'known to both',
    allowPrivate: true,
  });
  await admin.call('PUT', '/destinations/collector', {
    kind: 'syslog',
    address: `tcp://127.0.0.1:${port(collector)}`,
    settings: {},
    allowPrivate: true,
  });
});
afterAll(async () => {
  sink.closeAllConnections();
  sink.close();
  collector.close();
  await server.stop();
});
beforeEach(async () => {
  posted.length = 0;
  lines = '';
  refuse = false;
  for (const { id } of await all()) await admin.call('DELETE', `/intake-rules/${id}`);
});

const rule = (more: object): object => ({
  title: 'a rule',
  on: true,
  source: null,
  when: null,
  holds: null,
  tags: [],
  forward: [],
  discard: false,
  recipe: null,
  ...more,
});
const add = async (more: object): Promise<number> => {
  const { status, json } = await admin.call('POST', '/intake-rules', rule(more));
  if (status !== 200) throw new Error(json.detail);
  return json.id;
};
const all = async (): Promise<any[]> => (await analyst.call('GET', '/intake-rules')).json.rules;
const one = async (id: number): Promise<any> => (await all()).find((known) => known.id === id);
const forwardAll = (): Promise<number> =>
  forwardDue({ pool: server.database.pool, seal: makeSeal(SECRET) }, never);
const dueNow = (): Promise<unknown> => server.database.pool.query('UPDATE forwards SET next_try = now()');
/** Users of the events that a hunt keeps. */
async function found(where: string): Promise<string[]> {
  const { json } = await analyst.call('POST', '/hunts/run', {
    text: `from all\nwhere ${where}\nshow user\nsort user`,
    window: TEST_TIME,
  });
  return json.rows.map(([user]: [string]) => user);
}

it('tags records, and every hunt finds them by it', async () => {
  const kept = await add({ holds: 'intake-one', tags: ['watched', 'harbour'] });
  await send(server, 'harbour-id', signInRecord({ eventId: 'a1', user: 'intake-one' }));
  await send(server, 'harbour-id', signInRecord({ eventId: 'a2', user: 'someone' }));
  expect(await found("tags = 'watched'")).toEqual(['intake-one']);
  expect(await found("tags != 'watched' and user = 'someone'")).toEqual(['someone']);
  expect(await one(kept)).toMatchObject({ met: 1, lastMet: expect.any(String) });
  // Summed up, it is as much.
  await server.database.pool.query(`UPDATE intake_met SET at = at - interval '1 hour'`);
  await server.database.pool.query(SUM_UP_MET);
  expect((await server.database.pool.query('SELECT 1 FROM intake_met')).rowCount).toBe(0);
  await send(server, 'harbour-id', signInRecord({ eventId: 'a3', user: 'intake-one' }));
  expect((await one(kept)).met).toBe(2);
});

it('discards with a count, and only what is meant, also of one source alone', async () => {
  const id = await add({ title: 'checks', holds: 'intake-check', discard: true, source: 'harbour-id' });
  const records = [1, 2, 3].map((n) => signInRecord({ eventId: `b${n}`, user: 'intake-check' }));
  const { json } = await send(
    server,
    'harbour-id',
    [...records, signInRecord({ eventId: 'b4', user: 'b-stays' })].join('\n'),
  );
  expect(json).toMatchObject({ stored: 1, discarded: 3 });
  expect(json.outcomes[0]).toMatchObject({ reason: 'a rule of the way in: checks' });
  expect(await found("user like 'intake-check%' or user = 'b-stays'")).toEqual(['b-stays']);
  expect((await one(id)).met).toBe(3);
  const elsewhere = await send(server, 'dock-auth', '<86>Nov 14 08:03:12 gate-01 sshd[1]: intake-check');
  expect(elsewhere.json).toMatchObject({ stored: 1, discarded: 0 });
});

it('routes to another recipe', async () => {
  await admin.call('PUT', '/recipes', {
    name: 'routed',
    title: 'Routed',
    version: 1,
    format: 'json',
    time: { from: 'at', as: 'iso' },
    constants: { kind: 'finding', operation: 'routed' },
    map: { user: 'whom' },
  });
  await add({ when: { whom: '*' }, recipe: 'routed' });
  await send(server, 'harbour-id', JSON.stringify({ at: '2026-11-14T08:00:00Z', whom: 'routed-one' }));
  expect(await found("operation = 'routed'")).toEqual(['routed-one']);
  // A recipe that a rule reads by is not deleted under it.
  expect((await admin.call('DELETE', '/recipes/routed')).json).toMatchObject({
    status: 409,
    detail: expect.stringContaining('the rule of the way in "a rule"'),
  });
});

it('forwards what came, as it came, to HTTP and syslog, once though it is sent again', async () => {
  const id = await add({ holds: 'intake-forward', forward: ['sink', 'collector'] });
  const body = [1, 2].map((n) => signInRecord({ eventId: `f${n}`, user: 'intake-forward' })).join('\n');
  await send(server, 'harbour-id', body);
  // A sender that did not hear of it sends again: what is known is not sent on twice.
  await send(server, 'harbour-id', body);
  expect(await one(id)).toMatchObject({ waiting: 4, forwarded: 0 });
  const read = readNext();
  expect(await forwardAll()).toBe(2);
  await read;
  expect(await one(id)).toMatchObject({ waiting: 0, forwarded: 4, givenUp: 0 });
  expect(posted).toHaveLength(1);
  expect(posted[0]).toMatchObject({ signed: true });
  expect(
    posted[0]?.body
      .trim()
      .split('\n')
      .map((line) => JSON.parse(line) as object),
  ).toEqual(body.split('\n').map((record) => ({ source: 'harbour-id', record })));
  // Framed by octet counting, in an envelope of its own where it was no syslog line.
  expect(lines).toMatch(/^\d+ <14>1 \S+ under-lamp harbour-id - - - \{/);
  expect(lines).toContain('intake-forward');
});

it('a syslog line goes out as the line it was', async () => {
  await add({ holds: 'passes on', forward: ['collector'] });
  const line = '<86>Nov 14 08:03:12 gate-01 sshd[1]: passes on';
  await send(server, 'dock-auth', line);
  const read = readNext();
  await forwardAll();
  await read;
  expect(lines).toBe(`${line.length} ${line}`);
});

it('a receiver that takes nothing is tried again, given up in the end, and tried anew when asked', async () => {
  const id = await add({ holds: 'intake-late', forward: ['sink'] });
  await send(server, 'harbour-id', signInRecord({ eventId: 'l1', user: 'intake-late' }));
  refuse = true;
  for (let tries = 0; tries < 10; tries++) {
    await dueNow();
    expect(await forwardAll()).toBe(0);
  }
  expect(await one(id)).toMatchObject({ waiting: 0, givenUp: 1, said: 'It answers 503.' });
  refuse = false;
  await dueNow();
  expect(await forwardAll()).toBe(0);
  await admin.call('POST', `/intake-rules/${id}/forward-again`);
  expect(await forwardAll()).toBe(1);
  expect(await one(id)).toMatchObject({ givenUp: 0, forwarded: 1 });
});

it('a receiver that is gone holds up nobody, and fills no disk', async () => {
  const id = await add({ holds: 'intake-flood', forward: ['sink'] });
  await server.database.pool.query(
    `INSERT INTO forwards (rule, "to", source, records) SELECT $1, 'sink', 'x', '{a}' FROM generate_series(1, 1000)`,
    [id],
  );
  await send(server, 'harbour-id', signInRecord({ eventId: 'm1', user: 'intake-flood' }));
  expect(await one(id)).toMatchObject({ waiting: 1000, notForwarded: 1, met: 1 });
  expect(await found("user = 'intake-flood'")).toEqual(['intake-flood']);
});

it('is tried on stored records first, and changes nothing by it', async () => {
  await send(server, 'harbour-id', signInRecord({ eventId: 't1', user: 'intake-tried' }));
  const { status, json } = await analyst.call(
    'POST',
    '/intake-rules/try',
    rule({ holds: 'intake-tried', discard: true }),
  );
  expect(status).toBe(200);
  expect(json).toMatchObject({
    met: 1,
    records: [{ source: 'harbour-id', became: 'discarded', raw: expect.stringContaining('intake-tried') }],
  });
  expect(json.looked).toBeGreaterThan(5);
  expect(await all()).toEqual([]);
  expect(await found("user = 'intake-tried'")).toEqual(['intake-tried']);
});

it('records are asked in the order that somebody gave the rules', async () => {
  const discards = await add({ title: 'away', holds: 'intake-order', discard: true });
  const tags = await add({ title: 'tagged', holds: 'intake-order', tags: ['first'] });
  expect((await all()).map(({ id }) => id)).toEqual([discards, tags]);
  await admin.call('PUT', '/intake-rules/order', { ids: [tags, discards] });
  expect((await all()).map(({ id }) => id)).toEqual([tags, discards]);
  await send(server, 'harbour-id', signInRecord({ eventId: 'o1', user: 'intake-order' }));
  expect([(await one(tags)).met, (await one(discards)).met]).toEqual([1, 1]);
});

it('stored records that are read again meet the rules there are by then', async () => {
  await send(server, 'harbour-id', signInRecord({ eventId: 'r1', user: 'intake-again' }));
  await add({ holds: 'intake-again', tags: ['later'] });
  const recipe = (await admin.call('GET', '/recipes/harbour-id')).json.recipe;
  await admin.call('POST', '/recipes', { ...recipe, version: 1 });
  await admin.call('POST', '/sources/harbour-id/rereads', {});
  const { pool } = server.database;
  await new Rereader(pool, new RecordStore(pool, new RuleSet(), () => server.clock.now)).runAll(never);
  expect(await found("tags = 'later'")).toEqual(['intake-again']);
});

it('only an admin changes rules, and what is wrong with one is told', async () => {
  expect((await analyst.call('POST', '/intake-rules', rule({ tags: ['x'] }))).status).toBe(403);
  for (const [more, told] of [
    [{}, 'does nothing'],
    [{ tags: ['x'], source: 'nowhere' }, 'no source "nowhere"'],
    [{ recipe: 'nothing' }, 'no recipe "nothing"'],
    [{ forward: ['nobody'] }, 'no destination "nobody"'],
  ] as const) {
    const { status, json } = await admin.call('POST', '/intake-rules', rule(more));
    expect([status, json.detail]).toEqual([422, expect.stringContaining(told)]);
  }
  expect((await admin.call('POST', '/intake-rules', rule({ tags: ['a,b'] }))).status).toBe(400);
  expect((await admin.call('PUT', '/intake-rules/999', rule({ tags: ['x'] }))).status).toBe(404);
});

it('tags have a meaning and a colour, which anyone sees', async () => {
  const reader = await new Caller(server).signIn('reader');
  expect((await analyst.call('PUT', '/tags/watched', { colour: 'ochre', about: 'of the case' })).status).toBe(
    200,
  );
  expect((await reader.call('GET', '/tags')).json.tags).toEqual([
    { name: 'watched', colour: 'ochre', about: 'of the case' },
  ]);
  expect((await reader.call('PUT', '/tags/other', { colour: 'ochre', about: '' })).status).toBe(403);
  expect((await analyst.call('PUT', '/tags/other', { colour: 'red', about: '' })).status).toBe(400);
  expect((await analyst.call('DELETE', '/tags/watched')).status).toBe(200);
  expect((await analyst.call('DELETE', '/tags/watched')).status).toBe(404);
});
