import { chmodSync, mkdtempSync, rmSync, symlinkSync, writeFileSync } from 'node:fs';
import {
  createServer as createHttp,
  type IncomingMessage,
  type Server,
  type ServerResponse,
} from 'node:http';
import { createServer as createTcp, type AddressInfo, type Socket } from 'node:net';
import { createHmac } from 'node:crypto';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { pino } from 'pino';
import { SMTPServer } from 'smtp-server';
import { makeSeal } from '../seal.js';
import { addRule, Caller, SECRET, send, signInRecord, testServer, type TestServer } from '../tests/server.js';
import { deliver, MAX_TRIES, type DeliverParts, type Tried } from './deliver.js';
import { DestinationLimiter } from './destination-limiter.js';
import { Outbox } from './outbox.js';

interface Got {
  readonly path: string;
  readonly headers: IncomingMessage['headers'];
  readonly body: string;
}

let server: TestServer;
let analyst: Caller;
let admin: Caller;
let receiver: Server;
let got: Got[];
/** How the receiver answers; taken from the front, else 200. */
let answers: ((request: IncomingMessage, respond: ServerResponse) => void)[];
let parts: DeliverParts;
let programs: string;

beforeEach(async () => {
  server = await testServer();
  // Only of what happens now something is sent.
  server.clock.now = Date.now() * 1000;
  analyst = await new Caller(server).signIn('analyst');
  admin = await new Caller(server).signIn('admin');
  got = [];
  answers = [];
  receiver = createHttp((request, response) => {
    const chunks: Buffer[] = [];
    request.on('data', (chunk: Buffer) => chunks.push(chunk));
    request.on('end', () => {
      got.push({ path: request.url ?? '', headers: request.headers, body: Buffer.concat(chunks).toString() });
      const answer = answers.shift();
      if (answer === undefined) response.end('{}');
      else answer(request, response);
    });
  });
  await new Promise<void>((ready) => receiver.listen(0, '127.0.0.1', ready));
  programs = mkdtempSync(join(tmpdir(), 'under-lamp-programs-'));
  parts = {
    pool: server.database.pool,
    seal: makeSeal(SECRET),
    base: () => server.base.replace('/api/v1', ''),
    programs,
  };
});
afterEach(async () => {
  receiver.closeAllConnections();
  await new Promise((closed) => receiver.close(closed));
  rmSync(programs, { recursive: true, force: true });
  await server.stop();
});

const receiverAt = (path: string): string =>
  `http://127.0.0.1:${(receiver.address() as AddressInfo).port}${path}`;
const put = (name: string, body: object) => admin.call('PUT', `/destinations/${name}`, body);
const ids = async (): Promise<number[]> =>
  (await server.database.pool.query<{ id: number }>('SELECT id FROM deliveries ORDER BY id')).rows.map(
    ({ id }) => id,
  );
const log = async (): Promise<any[]> => (await analyst.call('GET', '/deliveries')).json.deliveries;
const deliverAll = async (): Promise<Tried[]> => Promise.all((await ids()).map((id) => deliver(parts, id)));

let made = 0;
/** Raises one alert of a rule with these actions, about someone who failed just now. */
async function raise(actions: string, user = 'teo.marrash'): Promise<void> {
  await addRule(
    analyst,
    `title: Refused ${++made}\nlevel: high\nlogsource: {}\ndetection: {s: {outcome: failure}, condition: s}\nlamp:\n  actions:\n${actions
      .split('\n')
      .map((line) => `    - ${line}`)
      .join('\n')}\n`,
  );
  const at = new Date().toISOString();
  await send(server, 'harbour-id', signInRecord({ eventId: `d-${made}`, at, user, denied: 'bad_secret' }));
}

it('a message has its fields and a link, is signed, and its button asks for approval once', async () => {
  await put('watch-room', {
    kind: 'chat',
    address: receiverAt('/room'),
    secret: 's3cret',
    allowPrivate: true,
  });
  await put('directory', { kind: 'identity', address: receiverAt('/identity'), allowPrivate: true });
  await raise(
    "{ chat: watch-room, text: '{title}: {subject} from {event.src_ip}', fields: [country, user], offer: [force-password-change] }",
  );
  await deliverAll();
  const [message] = got;
  const { buttons, fields, link, text, severity } = JSON.parse(message?.body ?? '');
  expect([text, severity]).toEqual([`Refused ${made}: teo.marrash from 10.20.4.11`, 'high']);
  expect(fields).toContainEqual({ name: 'user', value: 'teo.marrash' });
  const { 'lamp-time': time, 'lamp-signature': signature, 'idempotency-key': key } = message?.headers ?? {};
  expect(signature).toBe(
    createHmac('sha256', 's3cret')
      .update(`${String(time)}.${message?.body}`)
      .digest('hex'),
  );
  expect(JSON.parse(message?.body ?? '').key).toBe(key);

  const press = () => fetch(buttons[0].call, { method: 'POST' });
  expect(await (await press()).json()).toEqual({
    said: 'Asked for approval: Force a password change of teo.marrash.',
  });
  expect((await press()).status).toBe(410);
  const alert = Number(link.split('/').at(-1));
  const one = async () => (await analyst.call('GET', `/alerts/${alert}`)).json;
  const [response] = (await one()).responses;
  expect(response).toMatchObject({
    state: 'asked',
    askedBy: 'somebody in watch-room',
    subject: 'teo.marrash',
  });
  const decide = (approve: boolean) =>
    analyst.call('POST', `/alerts/${alert}/responses/${response.id}`, { approve });
  expect((await decide(true)).status).toBe(200);
  expect((await decide(false)).json.code).toBe('decided-already');
  await deliverAll();
  expect(got.at(-1)?.path).toBe('/identity/users/teo.marrash/force-password-change');
  const after = await one();
  expect(after.responses[0]).toMatchObject({ state: 'done', decidedBy: 'analyst' });
  expect(after.changes.map(({ what }: { what: string }) => what)).toEqual([
    'asked for: Force a password change of teo.marrash',
    'approved: Force a password change of teo.marrash',
    'Force a password change of teo.marrash: done by directory',
  ]);
});

it('what fails is tried again with longer and longer pauses, then given up, shown, and tried once more on demand', async () => {
  await put('sink', { kind: 'webhook', address: receiverAt('/sink'), allowPrivate: true });
  await raise('{ webhook: sink, fields: [user] }');
  const [id = 0] = await ids();
  const pauses: unknown[] = [];
  for (let i = 0; i < MAX_TRIES; i++) {
    answers.push((_, response) => response.writeHead(503).end());
    pauses.push(await deliver(parts, id));
  }
  expect(pauses.slice(0, 3)).toEqual([5, 10, 20].map((again) => ({ over: false, again })));
  expect(pauses.at(-1)).toEqual({ over: true });
  expect(new Set(got.map(({ headers }) => headers['idempotency-key'])).size).toBe(1);
  expect((await log())[0]).toMatchObject({ state: 'dead', tries: MAX_TRIES, said: 'It answers 503.' });
  expect((await admin.call('GET', '/destinations')).json.destinations[0]).toMatchObject({
    dead: 1,
    waiting: 0,
  });
  await analyst.call('POST', `/deliveries/${id}/again`);
  await deliver(parts, id);
  expect((await log())[0]).toMatchObject({ state: 'sent', said: 'taken by sink' });
  expect((await analyst.call('POST', `/deliveries/${id}/again`)).json.code).toBe('not-given-up');
  await deliver(parts, id);
  expect(got).toHaveLength(MAX_TRIES + 1);
});

it('a receiver that lies is not followed, not read to the end, and not let inside', async () => {
  await put('sink', { kind: 'webhook', address: receiverAt('/sink'), allowPrivate: true });
  await raise('{ webhook: sink }');
  const [id = 0] = await ids();
  answers.push((_, response) => response.writeHead(302, { location: '/elsewhere' }).end());
  await deliver(parts, id);
  expect((await log())[0]).toMatchObject({ state: 'dead', said: expect.stringContaining('redirects') });
  await analyst.call('POST', `/deliveries/${id}/again`);
  answers.push((_, response) => {
    response.writeHead(200);
    const pour = (): void => {
      while (!response.destroyed && response.write(Buffer.alloc(16_384)));
      response.once('drain', pour);
    };
    pour();
  });
  await deliver(parts, id);
  expect((await log())[0]).toMatchObject({ state: 'sent' });
  expect(got.map(({ path }) => path)).toEqual(['/sink', '/sink']);
  await put('sink', { kind: 'webhook', address: receiverAt('/sink') });
  await raise('{ webhook: sink }', 'ines.vaal');
  await deliverAll();
  await put('sink', { kind: 'webhook', address: receiverAt('/sink').replace('127.0.0.1', 'localhost') });
  await raise('{ webhook: sink }', 'runa.keel');
  await deliverAll();
  expect(
    (await log()).filter(({ state, said }) => state === 'dead' && said.includes('lies inside')).length,
  ).toBeGreaterThanOrEqual(2);
  expect(got).toHaveLength(2);
});

it('an address that changes asks for the secret again, and nothing is sent to it meanwhile', async () => {
  const body = { kind: 'webhook', address: receiverAt('/sink'), allowPrivate: true };
  await put('sink', { ...body, secret: 'very secret' });
  const moved = { ...body, address: receiverAt('/elsewhere').replace('127.0.0.1', 'localhost') };
  const { status, json } = await put('sink', moved);
  expect([status, json.code]).toEqual([422, 'secret-again']);
  expect((await admin.call('GET', '/destinations')).json.destinations[0].address).toBe(body.address);
  expect((await put('sink', { ...moved, secret: null })).status).toBe(200);
  expect((await admin.call('GET', '/destinations')).json.destinations[0]).toMatchObject({
    address: moved.address,
    hasSecret: false,
  });
});

it('secrets are kept sealed, never given out, and stay when nothing new is said of them', async () => {
  const body = { kind: 'webhook', address: receiverAt('/sink'), allowPrivate: true };
  await put('sink', { ...body, secret: 'very secret' });
  await put('sink', body);
  const { json } = await admin.call('GET', '/destinations');
  expect(json.destinations[0]).toMatchObject({ hasSecret: true });
  expect(JSON.stringify(json)).not.toContain('very secret');
  const { rows } = await server.database.pool.query<{ secret: Buffer }>('SELECT secret FROM destinations');
  expect(rows[0]?.secret.toString('latin1')).not.toContain('very secret');
  await raise('{ webhook: sink }');
  await deliverAll();
  expect(got[0]?.headers['lamp-signature']).toMatch(/^[0-9a-f]{64}$/);
  await put('sink', { ...body, secret: null });
  expect((await admin.call('GET', '/destinations')).json.destinations[0].hasSecret).toBe(false);
});

it.each([
  [{ kind: 'webhook', address: 'ftp://x.example' }, 'Write it as https://sink.example/alerts'],
  [{ kind: 'webhook', address: 'https://a:b@x.example' }, 'Leave the password out'],
  [{ kind: 'mail', address: 'smtp://x.example', settings: { to: 'nobody' } }, 'whom mails go to'],
  [{ kind: 'program', address: '../../bin/sh' }, 'Write it as block.sh'],
  [{ kind: 'syslog', address: 'http://x.example' }, 'tcp://collector.example:514'],
])('%j is refused', async (body, reason) => {
  const { status, json } = await put('x', body);
  expect([status, json.detail]).toEqual([422, expect.stringContaining(reason)]);
  expect((await analyst.call('PUT', '/destinations/x', body)).status).toBe(403);
});

it('hostile log text stays text: one line, no characters that steer, nothing filled in twice', async () => {
  const mails: string[] = [];
  const smtp = new SMTPServer({
    disabledCommands: ['STARTTLS', 'AUTH'],
    onData(stream, _session, done) {
      const chunks: Buffer[] = [];
      stream.on('data', (chunk: Buffer) => chunks.push(chunk));
      stream.on('end', () => {
        mails.push(Buffer.concat(chunks).toString());
        done();
      });
    },
  });
  await new Promise<void>((ready) => smtp.listen(0, '127.0.0.1', () => ready()));
  const { port } = smtp.server.address() as AddressInfo;
  await put('desk', {
    kind: 'mail',
    address: `smtp://127.0.0.1:${port}`,
    settings: { to: 'desk@skerry-line.example' },
    allowPrivate: true,
  });
  await raise(
    "{ mail: desk, subject: 'About {subject}', text: '{event.user_agent} {level}' }",
    'x\r\nbcc: all@evil.example {title}',
  );
  await deliverAll();
  expect((await log())[0]).toMatchObject({ state: 'sent', said: 'mailed to desk@skerry-line.example' });
  expect(mails[0]).toContain('Subject: About x bcc: all@evil.example {title}');
  expect(mails[0]).not.toMatch(/^bcc:/im);
  expect(mails[0]).toMatch(/^Message-ID: <[0-9a-f-]{36}@under-lamp>/im);
  await new Promise((closed) => smtp.close(() => closed(null)));
});

it('a line goes to a collector, events are tagged, a value goes on a list once', async () => {
  const lines: string[] = [];
  const collector = createTcp((socket) => socket.on('data', (data) => lines.push(data.toString())));
  await new Promise<void>((ready) => collector.listen(0, '127.0.0.1', () => ready()));
  await put('collector', {
    kind: 'syslog',
    address: `tcp://127.0.0.1:${(collector.address() as AddressInfo).port}`,
    allowPrivate: true,
  });
  await analyst.call('PUT', '/lists/watched', { match: 'exact', key: 'login', rows: [] });
  await raise(
    "{ syslog: collector, text: '{title} of {subject}' }\n{ tag: looked-at }\n{ list: watched, field: user }",
  );
  await deliverAll();
  await raise('{ list: watched, field: user }');
  await deliverAll();
  const said = (await log()).map((one) => one.said);
  expect(said).toEqual([
    'teo.marrash was on watched already',
    'teo.marrash put on watched',
    '1 events tagged looked-at',
    'forwarded to collector',
  ]);
  expect(lines.join('')).toMatch(
    /^\d+ <107>1 \S+ under-lamp alerts - [0-9a-f-]{32} - Refused \d+ of teo\.marrash$/,
  );
  const { rows } = await server.database.pool.query(`SELECT 1 FROM events WHERE 'looked-at' = ANY(tags)`);
  expect(rows).toHaveLength(1);
  collector.close();
});

it('programs come from one folder, without a shell', async () => {
  writeFileSync(join(programs, 'note.sh'), '#!/bin/sh\necho "got $1" "${SECRET:-nothing}"\n');
  chmodSync(join(programs, 'note.sh'), 0o755);
  symlinkSync('/bin/echo', join(programs, 'away'));
  await put('note', { kind: 'program', address: 'note.sh' });
  await put('away', { kind: 'program', address: 'away' });
  await raise("{ program: note, arguments: ['{subject}; rm -rf /'] }\n{ program: away, arguments: [x] }");
  process.env['SECRET'] = 'something';
  await deliverAll();
  delete process.env['SECRET'];
  expect((await log()).map(({ state, said }) => [state, said])).toEqual([
    ['dead', 'The program lies outside of the allowed folder.'],
    ['sent', 'note.sh: got teo.marrash; rm -rf / nothing'],
  ]);
});

it('the outbox brings every delivery to its receiver through the queue, also after it was cut off', async () => {
  await put('sink', { kind: 'webhook', address: receiverAt('/sink'), allowPrivate: true });
  await raise('{ webhook: sink }');
  const outbox = new Outbox(parts, pino({ level: 'silent' }));
  await outbox.start();
  expect(await outbox.round()).toBe(1);
  expect(await outbox.round()).toBe(0);
  while (got.length === 0) await new Promise((again) => setImmediate(again));
  while ((await log())[0].state !== 'sent') await new Promise((again) => setImmediate(again));
  await outbox.stop();
});

it('a receiver that never answers holds up nothing that goes elsewhere', async () => {
  const held: Socket[] = [];
  const silent = createTcp((socket) => held.push(socket.on('error', () => undefined)));
  await new Promise<void>((ready) => silent.listen(0, '127.0.0.1', () => ready()));
  const { port } = silent.address() as AddressInfo;
  await put('silent', { kind: 'webhook', address: `http://127.0.0.1:${port}/`, allowPrivate: true });
  await put('sink', { kind: 'webhook', address: receiverAt('/sink'), allowPrivate: true });
  const rule = (title: string, to: string, user: string): string =>
    `title: ${title}\nlogsource: {}\ndetection: {s: {user|startswith: ${user}}, condition: s}\nlamp: {actions: [{webhook: ${to}}]}\n`;
  await addRule(analyst, rule('Many', 'silent', 'many'));
  await addRule(analyst, rule('One', 'sink', 'one'));
  const at = new Date().toISOString();
  const users = [...Array.from({ length: 12 }, (_, i) => `many-${i}`), 'one'];
  await send(
    server,
    'harbour-id',
    users.map((user, i) => signInRecord({ eventId: `s-${i}`, at, user })).join('\n'),
  );
  const outbox = new Outbox(parts, pino({ level: 'silent' }));
  await outbox.start();
  await outbox.round();
  while (got.length === 0) await new Promise((again) => setImmediate(again));
  // The others still wait for their receiver.
  expect((await log()).filter(({ state }) => state === 'waiting')).toHaveLength(12);
  const stopped = outbox.stop();
  for (const socket of held) socket.destroy();
  silent.close();
  await stopped;
});

it('a destination is entered by two at once, and rests after it did not answer', () => {
  let now = 0;
  const limiter = new DestinationLimiter(() => now);
  const first = limiter.enter('a');
  const second = limiter.enter('a');
  expect([first === null, second === null, limiter.enter('a'), limiter.enter('b') === null]).toEqual([
    false,
    false,
    null,
    false,
  ]);
  first?.(true);
  limiter.enter('a')?.(false);
  expect(limiter.enter('a')).toBeNull();
  now += 15_000;
  expect(limiter.enter('a')).not.toBeNull();
});

it('mail and lines of text are not let inside either', async () => {
  await put('desk', {
    kind: 'mail',
    address: 'smtp://127.0.0.1:25',
    settings: { to: 'desk@skerry-line.example' },
  });
  await put('collector', { kind: 'syslog', address: 'udp://localhost:514' });
  await raise('{ mail: desk }\n{ syslog: collector }');
  await deliverAll();
  expect((await log()).map(({ state, said }) => [state, said])).toEqual(
    ['localhost', '127.0.0.1'].map((host) => ['dead', expect.stringContaining(`${host} lies inside`)]),
  );
});

it('a mail server that talks without end is hung up on', async () => {
  const endless = createTcp((socket) => {
    const pour = (): void => {
      while (!socket.destroyed && socket.write('220-welcome '.repeat(1000)));
    };
    socket.on('drain', pour).on('error', () => undefined);
    pour();
  });
  await new Promise<void>((ready) => endless.listen(0, '127.0.0.1', () => ready()));
  const { port } = endless.address() as AddressInfo;
  await put('desk', {
    kind: 'mail',
    address: `smtp://127.0.0.1:${port}`,
    settings: { to: 'desk@skerry-line.example' },
    allowPrivate: true,
  });
  await raise('{ mail: desk }');
  await deliverAll();
  expect((await log())[0]).toMatchObject({
    state: 'waiting',
    tries: 1,
    said: expect.stringContaining('not taken'),
  });
  await new Promise((closed) => endless.close(closed));
});

it('a word is sent on demand to see whether it arrives; what does something is not tried', async () => {
  await put('sink', { kind: 'webhook', address: receiverAt('/sink'), allowPrivate: true });
  const attempt = (name: string) => admin.call('POST', `/destinations/${name}/try`);
  expect((await attempt('sink')).json).toEqual({ said: 'taken by sink' });
  expect(JSON.parse(got[0]?.body ?? '')).toMatchObject({ title: 'A test, sent by admin', alert: 0 });
  answers.push((_, response) => response.writeHead(401).end());
  expect((await attempt('sink')).json).toMatchObject({ status: 502, detail: 'It answers 401.' });
  await put('block', { kind: 'program', address: 'block.sh' });
  expect((await attempt('block')).json.code).toBe('nothing-to-try');
  expect((await attempt('nowhere')).status).toBe(404);
  expect((await analyst.call('POST', '/destinations/sink/try')).status).toBe(403);
  expect(await log()).toEqual([]);
});

it('of alerts about the past nothing goes out', async () => {
  await put('sink', { kind: 'webhook', address: receiverAt('/sink'), allowPrivate: true });
  await addRule(
    analyst,
    'title: Old\nlogsource: {}\ndetection: {s: {outcome: failure}, condition: s}\nlamp: {actions: [{webhook: sink}]}\n',
  );
  await send(server, 'harbour-id', signInRecord({ at: '2026-11-14T08:00:00Z', denied: 'bad_secret' }));
  expect(await ids()).toEqual([]);
});

it('actions are previewed on the newest alert, with what is missing', async () => {
  await raise("{ chat: nowhere, text: '{title} {oddity}' }\n{ tag: seen }");
  const [{ id, text }] = await Promise.all(
    (await analyst.call('GET', '/rules')).json.rules.map(
      async ({ id: rule }: { id: string }) => (await analyst.call('GET', `/rules/${rule}`)).json,
    ),
  );
  const { json } = await analyst.call('POST', '/rules/preview-actions', { id, text });
  expect(json.of).toContain('teo.marrash');
  expect(json.previews).toEqual([
    expect.objectContaining({
      shown: expect.stringContaining(`Refused ${made} `),
      missing: 'Nothing is called {oddity}; it stays empty.',
    }),
    { does: 'its events are tagged seen', shown: 'seen', missing: null },
  ]);
});
