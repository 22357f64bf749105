import { createHmac } from 'node:crypto';
import { chmodSync, symlinkSync, writeFileSync } from 'node:fs';
import { once } from 'node:events';
import { type AddressInfo, createServer as createTcp, type Socket } from 'node:net';
import { join } from 'node:path';
import { pino } from 'pino';
import { openMailbox } from '../tests/mailbox.js';
import { addRule, Caller, send, signInRecord } from '../tests/server.js';
import { deliver, MAX_TRIES } from './deliver.js';
import { Outbox } from './outbox.js';
import { deliverForTests, type Delivering } from './tests/delivering.js';

let {
  server,
  analyst,
  admin,
  got,
  answers,
  parts,
  programs,
  receiverAt,
  put,
  ids,
  log,
  deliverAll,
  raise,
  raised,
} = {} as Delivering;
deliverForTests((begun) => {
  ({
    server,
    analyst,
    admin,
    got,
    answers,
    parts,
    programs,
    receiverAt,
    put,
    ids,
    log,
    deliverAll,
    raise,
    raised,
  } = begun);
});

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
  expect([text, severity]).toEqual([`Refused ${raised()}: teo.marrash from 10.20.4.11`, 'high']);
  expect(fields).toContainEqual({ name: 'user', value: 'teo.marrash' });
  const { 'lamp-time': time, 'lamp-signature': signature, 'idempotency-key': key } = message?.headers ?? {};
  expect(signature).toBe(
    createHmac('sha256', 's3cret')
      .update(`${String(time)}.${message?.body}`)
      .digest('hex'),
  );
  expect(JSON.parse(message?.body ?? '').key).toBe(key);

  const alert = Number(link.split('/').at(-1));
  const offer = new URL(buttons[0].open).pathname;
  // Whoever opens it is shown what it would do, and it waits for them.
  for (let looked = 0; looked < 2; looked++)
    expect((await analyst.call('GET', offer)).json).toEqual({
      does: 'Force a password change',
      runbook: false,
      subject: 'teo.marrash',
      alert,
      title: `Refused ${raised()}`,
      via: 'watch-room',
    });
  // The link alone is not enough: somebody answers for it with their name.
  expect((await new Caller(server).call('POST', offer)).status).toBe(401);
  const press = () => analyst.call('POST', offer);
  expect((await press()).json).toEqual({
    said: 'Asked for approval: Force a password change of teo.marrash.',
  });
  expect((await press()).status).toBe(410);
  expect((await analyst.call('GET', offer)).json.code).toBe('button-used');
  const one = async () => (await analyst.call('GET', `/alerts/${alert}`)).json;
  const [response] = (await one()).responses;
  expect(response).toMatchObject({
    state: 'asked',
    askedBy: 'analyst',
    subject: 'teo.marrash',
  });
  const decide = (approve: boolean, who = admin) =>
    who.call('POST', `/alerts/${alert}/responses/${response.id}`, { approve });
  expect((await decide(true, analyst)).json.code).toBe('own-request');
  expect((await decide(true)).status).toBe(200);
  expect((await decide(false)).json.code).toBe('decided-already');
  await deliverAll();
  expect(got.at(-1)?.path).toBe('/identity/users/teo.marrash/force-password-change');
  const after = await one();
  expect(after.responses[0]).toMatchObject({ state: 'done', decidedBy: 'admin' });
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

it('hostile log text stays text: one line, no characters that steer, nothing filled in twice', async () => {
  const mailbox = await openMailbox();
  await put('desk', {
    kind: 'mail',
    address: mailbox.address,
    settings: { to: 'desk@skerry-line.example' },
    allowPrivate: true,
  });
  await raise(
    "{ mail: desk, subject: 'About {subject}', text: '{event.user_agent} {level}' }",
    'x\r\nbcc: all@evil.example {title}',
  );
  await deliverAll();
  expect((await log())[0]).toMatchObject({ state: 'sent', said: 'mailed to desk@skerry-line.example' });
  expect(mailbox.mails[0]).toContain('Subject: About x bcc: all@evil.example {title}');
  expect(mailbox.mails[0]).not.toMatch(/^bcc:/im);
  expect(mailbox.mails[0]).toMatch(/^Message-ID: <[0-9a-f-]{36}@under-lamp>/im);
  await mailbox.stop();
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
  const read = once(collector, 'connection').then(([socket]) => once(socket as Socket, 'end'));
  await deliverAll();
  await read;
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

it('a button of a message starts a runbook, once; a rule may offer what has a name of one', async () => {
  await put('watch-room', { kind: 'chat', address: receiverAt('/room'), allowPrivate: true });
  await raise("{ chat: watch-room, offer: ['runbook:stolen-password'] }");
  await deliverAll();
  const { buttons } = JSON.parse(got[0]?.body ?? '');
  expect(buttons[0].label).toBe('Start the runbook stolen-password');
  const offer = new URL(buttons[0].open).pathname;
  expect((await analyst.call('GET', offer)).json.does).toBe('Start the runbook stolen-password');
  const press = () => analyst.call('POST', offer);
  expect((await press()).json).toEqual({ said: 'Started: Stolen password on teo.marrash.' });
  expect((await press()).status).toBe(410);
  expect((await analyst.call('GET', '/runbook-runs')).json.runs).toMatchObject([
    { title: 'Stolen password', startedBy: 'analyst' },
  ]);
});

const ownResponse = (on: string) => ({
  title: `Call the quay about the ${on}`,
  on,
  to: 'firewall',
  path: '/calls',
  body: { about: '{subject}' },
  undo: null,
  hours: null,
  history: on === 'address' ? 'from all\nwhere src_ip = {address}' : 'from all\nwhere host = {subject}',
  narrower: null,
});

it('responses of one’s own are offered on whom the alert or its newest event names, and asked for as they are', async () => {
  await put('watch-room', { kind: 'chat', address: receiverAt('/room'), allowPrivate: true });
  for (const on of ['address', 'host', 'flow']) {
    const text = JSON.stringify({
      ...ownResponse(on),
      ...(on === 'flow' && { history: 'from all\nwhere src_ip = {source}' }),
    });
    expect((await admin.call('PUT', `/responses/call-${on}`, { text })).status).toBe(200);
  }
  const actions =
    "{ chat: watch-room, offer: ['response:call-address', 'response:call-host', 'response:call-flow', 'response:gone', revoke-sessions] }";
  await raise(actions);
  await deliverAll();
  const { buttons } = JSON.parse(got[0]?.body ?? '');
  const labels = buttons.map(({ label }: { label: string }) => label);
  expect(labels[0]).toMatch(/^Call the quay about the address: [0-9.]+$/);
  expect(labels.at(-1)).toBe('Revoke all sessions');
  expect(labels.join()).not.toMatch(/flow|gone/);
  const { pathname } = new URL(buttons[0].open);
  const [, address] = labels[0].split(': ');
  expect((await analyst.call('GET', pathname)).json).toMatchObject({
    does: 'Call the quay about the address',
    subject: address,
    runbook: false,
  });
  expect((await analyst.call('POST', pathname)).json.said).toBe(
    `Asked for approval: Call the quay about the address of ${address}.`,
  );
  const { rows } = await server.database.pool.query('SELECT does, subject, asked_by FROM responses');
  expect(rows).toEqual([{ does: 'call-address', subject: address, asked_by: 'analyst' }]);
  // Whoever writes the rule sees what would be left out, and why.
  const preview = async (offer: string): Promise<unknown> =>
    (
      await analyst.call('POST', '/rules/preview-actions', {
        text: `title: Tried\nlevel: high\nlogsource: {}\ndetection: {s: {outcome: failure}, condition: s}\nlamp:\n  actions:\n    - { chat: watch-room, offer: ['${offer}'] }\n`,
      })
    ).json.previews[0]?.missing;
  expect(await preview('response:gone')).toContain('no response "gone"');
  expect(await preview('response:call-flow')).toContain('falls on a flow');
  expect(await preview('response:call-address')).toBeNull();
});

it('a button whose runbook cannot start stays as it was, for whoever mends that', async () => {
  await put('watch-room', { kind: 'chat', address: receiverAt('/room'), allowPrivate: true });
  await raise("{ chat: watch-room, offer: ['runbook:of-the-night'] }");
  await deliverAll();
  const { pathname } = new URL(JSON.parse(got[0]?.body ?? '').buttons[0].open);
  const press = () => analyst.call('POST', pathname);
  expect((await press()).status).toBe(404);
  const step = {
    id: 'a',
    title: 'Ask',
    do: 'ask',
    question: 'So?',
    answers: [{ says: 'yes' }, { says: 'no' }],
  };
  const text = JSON.stringify({ title: 'Of the night', steps: [step] });
  expect((await analyst.call('PUT', '/runbooks/of-the-night', { text })).status).toBe(200);
  expect((await press()).json).toEqual({ said: 'Started: Of the night on teo.marrash.' });
  expect((await press()).status).toBe(410);
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
  // It is written down a moment after it arrived; the others still wait for their receiver.
  const waiting = async (): Promise<number> =>
    (await log()).filter(({ state }) => state === 'waiting').length;
  while ((await waiting()) > 12) await new Promise((again) => setImmediate(again));
  expect(await waiting()).toBe(12);
  const stopped = outbox.stop();
  for (const socket of held) socket.destroy();
  silent.close();
  await stopped;
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

it('of alerts about the past nothing goes out', async () => {
  await put('sink', { kind: 'webhook', address: receiverAt('/sink'), allowPrivate: true });
  await addRule(
    analyst,
    'title: Old\nlogsource: {}\ndetection: {s: {outcome: failure}, condition: s}\nlamp: {actions: [{webhook: sink}]}\n',
  );
  await send(server, 'harbour-id', signInRecord({ at: '2026-11-14T08:00:00Z', denied: 'bad_secret' }));
  expect(await ids()).toEqual([]);
});
