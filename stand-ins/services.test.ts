import { createHmac } from 'node:crypto';
import { once } from 'node:events';
import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import express from 'express';
import { createTransport } from 'nodemailer';
import { makeStandIns, type StandIns } from './app.js';
import { SINK_SECRET } from './services/sink.js';
import { EndpointAgent } from './services/agent.js';
import { Firewall } from './services/firewall.js';
import { Tide } from './tide/tide.js';
import type { DemoRecord } from '../demo/generate/record.js';

let standIns: StandIns;
let pages: Server;
let base = '';

beforeEach(async () => {
  standIns = makeStandIns({ seed: 7, end: 0 }, { server: '', keys: {}, syslog: null }, () => 0);
  pages = createServer(standIns.app);
  await new Promise<void>((ready) => pages.listen(0, '127.0.0.1', ready));
  base = `http://127.0.0.1:${(pages.address() as AddressInfo).port}`;
});
afterEach(async () => {
  pages.closeAllConnections();
  await new Promise((closed) => pages.close(closed));
});

const post = (path: string, body: object | string, headers: Record<string, string> = {}): Promise<Response> =>
  fetch(base + path, {
    method: 'POST',
    headers: { 'Content-Type': 'application/json', ...headers },
    body: typeof body === 'string' ? body : JSON.stringify(body),
    redirect: 'manual',
  });
const page = async (path: string): Promise<string> => (await fetch(base + path)).text();

describe('the chat room', () => {
  const say = (more: object = {}): Promise<Response> =>
    post('/chat/rooms/watch', {
      key: 'one',
      text: '<b>Look</b>',
      severity: 'high',
      link: 'https://lamp.example/alerts/1',
      fields: [{ name: 'user', value: '"><script>' }],
      buttons: [{ label: 'Do it', open: 'https://lamp.example/answers/x' }],
      ...more,
    });
  it('shows a message once, as text, with its link and buttons', async () => {
    await say();
    await say();
    const html = await page('/chat');
    expect(html.match(/class="message"/g)).toHaveLength(1);
    expect(html).toContain('&#60;b&#62;Look');
    expect(html).not.toContain('<script>');
    expect(html).toContain('href="https://lamp.example/alerts/1"');
  });

  it('a button is a link; one that is no web address is none', async () => {
    await say({ link: 'javascript:alert(1)' });
    await say({ key: 'two', buttons: [{ label: 'Worse', open: 'javascript:alert(2)' }] });
    const html = await page('/chat');
    expect(html).toContain('<a href="https://lamp.example/answers/x">Do it</a>');
    expect(html).not.toContain('javascript:');
    expect(html).not.toContain('Worse');
  });
});

it('the sink tells what was signed by a friend from what was not', async () => {
  const body = '{"title":"<i>x</i>"}';
  const signature = createHmac('sha256', SINK_SECRET).update(`12.${body}`).digest('hex');
  await post('/sink', body, { 'Idempotency-Key': 'a', 'Lamp-Time': '12', 'Lamp-Signature': signature });
  await post('/sink', body, { 'Idempotency-Key': 'a', 'Lamp-Time': '12', 'Lamp-Signature': signature });
  await post('/sink', body, { 'Idempotency-Key': 'b', 'Lamp-Time': '13', 'Lamp-Signature': signature });
  await post('/sink', body, { 'Idempotency-Key': 'c' });
  const { requests } = (await (await fetch(`${base}/sink/requests`)).json()) as {
    requests: { key: string; signed: boolean }[];
  };
  expect(requests.map(({ key, signed }) => [key, signed])).toEqual([
    ['c', false],
    ['b', false],
    ['a', true],
  ]);
  expect(await page('/sink')).not.toContain('<i>');
});

it('the directory carries an order out once by its key, and knows nobody else', async () => {
  const order = (what: string, key: string): Promise<Response> =>
    post(`/identity/users/teo.marrash/${what}`, {}, { 'Idempotency-Key': key });
  await order('force-password-change', 'a');
  await order('force-password-change', 'a');
  await order('disable-account', 'b');
  const account = (await (await fetch(`${base}/identity/users/teo.marrash`)).json()) as object;
  expect(account).toMatchObject({
    mustChangePassword: true,
    disabled: true,
    sessions: 0,
    done: [expect.stringContaining('disabled'), expect.stringContaining('must choose a new password')],
  });
  expect((await order('promote', 'c')).status).toBe(404);
  expect((await fetch(`${base}/identity/users/nobody`)).status).toBe(404);
  expect(await page('/identity')).toContain('must choose a new password, disabled');
});

it('the firewall drops an address that is named, and nothing else', async () => {
  expect(
    (await post('/firewall/blocks', { fields: { src_ip: '198.18.40.9' }, title: '<b>why</b>' })).status,
  ).toBe(200);
  expect((await post('/firewall/blocks', { address: '2001:db8::9' })).status).toBe(200);
  expect((await post('/firewall/blocks', { address: 'everything' })).status).toBe(422);
  const html = await page('/firewall');
  expect(html).toContain('198.18.40.9');
  expect(html).not.toContain('<b>why');
});

it('a rule of the firewall keeps a flow away until it ends, and no other', async () => {
  const firewall = new Firewall();
  const app = express().use(firewall.router);
  const server = app.listen(0, '127.0.0.1');
  await once(server, 'listening');
  const at = `http://127.0.0.1:${(server.address() as AddressInfo).port}`;
  const send = async (path: string, body: object): Promise<number> =>
    (
      await fetch(at + path, {
        method: 'POST',
        headers: { 'Content-Type': 'application/json' },
        body: JSON.stringify(body),
      })
    ).status;
  const told = (raw: string, source = 'fw-stavik'): boolean => firewall.drops({ source, raw });
  const flow = 'src=10.30.0.10 sport=5 dst=203.0.113.77 dport=53 proto=udp';
  try {
    expect(await send('/rules', { id: 'lamp-1', source: '10.30.0.10' })).toBe(422);
    expect(
      await send('/rules', { id: 'lamp-1', source: '10.30.0.10', destination: '203.0.113.77', port: '53' }),
    ).toBe(200);
    expect(told(flow)).toBe(true);
    expect(told(flow.replace('dport=53', 'dport=531'))).toBe(false);
    expect(told(flow.replace('10.30.0.10', '10.30.0.101'))).toBe(false);
    expect(told(flow, 'harbour-id')).toBe(false);
    expect(await send('/rules/lamp-1/end', {})).toBe(200);
    expect(told(flow)).toBe(false);
    expect(await send('/rules/lamp-9/end', {})).toBe(404);
    expect(await send('/rules', { id: 'lamp-2', address: '203.0.113.77' })).toBe(200);
    expect(told('2026,10.1.1.1,203.0.113.77,443', 'fw-brannoch')).toBe(true);
    // What is dropped never leaves the tide; the rest does.
    const sent: DemoRecord[] = [];
    const sender = { send: (records: DemoRecord[]) => Promise.resolve(void sent.push(...records)) } as never;
    let now = Date.parse('2026-11-14T08:00:00Z') * 1000;
    const world = { seed: 7, end: now };
    const tide = new Tide(
      world,
      sender,
      () => now,
      ({ source }) => source === 'fw-stavik',
    );
    now += 2 * 3_600_000_000;
    await tide.round();
    const sources = new Set(sent.map(({ source }) => source));
    expect([sources.has('fw-stavik'), sources.has('harbour-id')]).toEqual([false, true]);
  } finally {
    server.close();
  }
});

it('an agent takes a host off the network: nothing of it comes in until it is let back', async () => {
  const agent = new EndpointAgent();
  const server = express().use(agent.router).listen(0, '127.0.0.1');
  await once(server, 'listening');
  const at = `http://127.0.0.1:${(server.address() as AddressInfo).port}`;
  const order = async (path: string): Promise<number> => (await fetch(at + path, { method: 'POST' })).status;
  const told = (raw: string, source = 'mast-os'): boolean => agent.drops({ source, raw });
  try {
    expect(await order('/hosts/quay-tk-07/quarantine')).toBe(200);
    expect(told('<Computer>quay-tk-07</Computer>')).toBe(true);
    expect(told('<Computer>quay-tk-08</Computer>')).toBe(false);
    expect(told('quay-tk-07 at the gate', 'harbour-id')).toBe(false);
    expect(await order('/hosts/quay-tk-07/release')).toBe(200);
    expect(told('<Computer>quay-tk-07</Computer>')).toBe(false);
    expect(await order('/hosts/nowhere/quarantine')).toBe(404);
    expect(await order('/hosts/quay-tk-07/sink')).toBe(404);
  } finally {
    server.close();
  }
});

it('the cloud takes a right away and gives it back, each order once', async () => {
  const right = { user: '0ttilie.brandt', right: 'owner' };
  for (const key of ['a', 'a'])
    expect((await post('/cloud/accounts/ticketing-prod/rights/remove', { ...right, key })).status).toBe(200);
  expect((await post('/cloud/accounts/ticketing-prod/rights/give', { ...right, key: 'b' })).status).toBe(200);
  expect((await post('/cloud/accounts/ticketing-prod/rights/remove', { user: 'x' })).status).toBe(422);
  expect(await (await fetch(`${base}/cloud/changes`)).json()).toEqual({
    changes: [
      'owner in ticketing-prod given back to 0ttilie.brandt',
      'owner in ticketing-prod taken from 0ttilie.brandt',
    ],
  });
});

it('the mailbox takes mail over SMTP and reads it, whatever its letters', async () => {
  await new Promise<void>((ready) => standIns.smtp.listen(0, '127.0.0.1', () => ready()));
  const { port } = standIns.smtp.server.address() as AddressInfo;
  const transport = createTransport({ host: '127.0.0.1', port });
  const mail = { from: 'a@x.example', to: 'b@x.example', messageId: '<one@x>' };
  await transport.sendMail({
    ...mail,
    subject: 'Übung – für Ünal',
    text: 'Grüße,\n<b>ein langer Text</b> '.repeat(9),
  });
  await transport.sendMail({ ...mail, subject: 'again', text: 'x' });
  transport.close();
  const { mails } = (await (await fetch(`${base}/mail/messages`)).json()) as {
    mails: { subject: string; to: string; text: string }[];
  };
  expect(mails).toHaveLength(1);
  expect(mails[0]).toMatchObject({ subject: 'Übung – für Ünal', to: 'b@x.example' });
  expect(mails[0]?.text).toContain('Grüße,');
  expect(await page('/mail')).not.toContain('<b>ein');
  await new Promise((closed) => standIns.smtp.close(() => closed(null)));
});
