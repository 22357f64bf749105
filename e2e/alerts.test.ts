import type { AddressInfo } from 'node:net';
import { createServer, type Server } from 'node:http';
import type { Page } from 'puppeteer-core';
import { makeStandIns, type StandIns } from '../stand-ins/app.js';
import { SINK_SECRET } from '../stand-ins/services/sink.js';
import { RuleFiles } from '../server/rules/files.js';
import { press, sees, signedInPage } from './support/browser.js';
import { openForTests } from './support/opened.js';
import type { Workbench } from './support/workbench.js';

let workbench: Workbench;
let page: Page;
openForTests(1, (opened) => {
  ({ workbench, page } = opened);
});

let standIns: StandIns;
let pages: Server;
let base: string;

beforeAll(async () => {
  standIns = makeStandIns(
    { seed: 7, end: 0 },
    { server: workbench.base, keys: {}, syslog: null },
    () => Date.now() * 1000,
  );
  pages = createServer(standIns.app);
  await new Promise<void>((ready) => pages.listen(0, '127.0.0.1', ready));
  await new Promise<void>((ready) => standIns.smtp.listen(0, '127.0.0.1', () => ready()));
  base = `http://127.0.0.1:${(pages.address() as AddressInfo).port}`;
  const { port } = standIns.smtp.server.address() as AddressInfo;
  const destinations = {
    room: { kind: 'chat', address: `${base}/chat/rooms/watch` },
    desk: { kind: 'mail', address: `smtp://127.0.0.1:${port}`, settings: { to: 'desk@skerry-line.example' } },
    signed: { kind: 'webhook', address: `${base}/sink`, secret: SINK_SECRET },
    people: { kind: 'identity', address: `${base}/identity` },
  };
  for (const [name, body] of Object.entries(destinations))
    expect(await api('PUT', `/destinations/${name}`, { ...body, allowPrivate: true })).toBe(200);
  await new RuleFiles(workbench.database.pool).ship(
    [
      {
        name: 'stolen.yml',
        text: `title: Stolen password
level: critical
logsource: {product: harbour-id}
detection: {s: {user|startswith: stolen.}, condition: s}
lamp:
  actions:
    - { chat: room, text: '{title} of {subject}', fields: [src_ip], offer: [force-password-change] }
    - { mail: desk, subject: '{title}: {subject}' }
    - { webhook: signed, fields: [user] }
---
title: Password of a person stolen
level: critical
logsource: {product: harbour-id}
detection: {s: {user: teo.marrash, result.why: locked}, condition: s}
lamp: {actions: [{chat: room, text: '{title}', offer: [force-password-change]}]}
---
title: Loud
level: informational
logsource: {product: harbour-id}
detection: {s: {user|startswith: loud.}, condition: s}
lamp: {quiet: 1h}
`,
      },
    ],
    'test',
  );
});
afterAll(async () => {
  pages?.closeAllConnections();
  pages?.close();
  await new Promise((closed) => standIns?.smtp.close(() => closed(null)));
});

/** Calls the API as whoever is signed in. */
const api = (method: string, path: string, body: object): Promise<number> =>
  page.evaluate(
    async (how, where, what) =>
      (
        await fetch(`/api/v1${where}`, {
          method: how,
          headers: { 'Content-Type': 'application/json' },
          body: JSON.stringify(what),
        })
      ).status,
    method,
    path,
    body,
  );

let made = 0;
async function send(users: readonly string[], why = 'bad_secret'): Promise<void> {
  const response = await fetch(`${workbench.base}/api/v1/intake/harbour-id`, {
    method: 'POST',
    headers: { Authorization: `Bearer ${workbench.world?.keys['harbour-id']}` },
    body: users
      .map((login) =>
        JSON.stringify({
          eventId: `alerts-${++made}`,
          at: new Date().toISOString(),
          action: 'session.start',
          result: { status: 'denied', why },
          actor: { login },
          client: { address: '198.18.40.9' },
        }),
      )
      .join('\n'),
  });
  expect(response.status).toBe(200);
}

/** What a stand-in shows, once it holds something. */
async function until<T>(path: string, ready: (found: T) => boolean): Promise<T> {
  for (;;) {
    const found = (await (await fetch(base + path)).json()) as T;
    if (ready(found)) return found;
    await new Promise((again) => setImmediate(again));
  }
}

test('a live event becomes an alert, a message, an approval, and a response that is written down', async () => {
  await send(['teo.marrash'], 'locked');
  await until<{ messages: { text: string }[] }>('/chat/messages', ({ messages }) =>
    messages.some(({ text }) => text === 'Password of a person stolen'),
  );
  const { page: chat } = await signedInPage(page.browser(), workbench.base, 'joris.penhale');
  await chat.goto(`${base}/chat`);
  await sees(chat, 'Password of a person stolen');
  await (await chat.waitForSelector('a ::-p-text(Force a password change)'))?.click();
  await sees(chat, 'offered in room');
  await press(chat, 'Ask for it');
  await sees(chat, 'Asked for approval: Force a password change of teo.marrash.');
  await chat.browserContext().close();
  await page.goto(`${workbench.base}/alerts?find=person+stolen`);
  await sees(page, 'asked for by joris.penhale');
  await press(page, 'Approve');
  await until<{ mustChangePassword: boolean }>(
    '/identity/users/teo.marrash',
    (account) => account.mustChangePassword,
  );
  await sees(page, 'Force a password change of teo.marrash: done by people');
  await sees(page, 'done, ottilie.brandt');
});

test('mail comes over SMTP, and the sink knows the signature', async () => {
  await send(['stolen.one']);
  const { mails } = await until<{ mails: { subject: string; to: string; text: string }[] }>(
    '/mail/messages',
    (found) => found.mails.length > 0,
  );
  expect(mails[0]).toMatchObject({ subject: 'Stolen password: stolen.one', to: 'desk@skerry-line.example' });
  expect(mails[0]?.text).toContain('/alerts/');
  const { requests } = await until<{ requests: { signed: boolean; body: string }[] }>(
    '/sink/requests',
    (found) => found.requests.length > 0,
  );
  expect(requests[0]?.signed).toBe(true);
  expect(JSON.parse(requests[0]?.body ?? '')).toMatchObject({
    title: 'Stolen password',
    fields: { user: 'stolen.one' },
  });
  await page.goto(`${workbench.base}/rules/destinations`);
  await sees(page, 'mailed to desk@skerry-line.example');
});

test('twenty alerts by keyboard: taken, settled with a reason, merged, and handed over', async () => {
  await send(Array.from({ length: 20 }, (_, i) => `stolen.person-${String(i).padStart(2, '0')}`));
  await page.goto(`${workbench.base}/alerts?find=stolen.person`);
  await sees(page, '20 open');
  const key = (name: string) => page.keyboard.press(name as never);
  await key('t');
  await sees(page, 'with ottilie.brandt');
  for (let left = 20; left > 4; left--) {
    await key('h');
    await page.waitForSelector('form input:focus');
    if (left === 20) await page.keyboard.type('a drill');
    await key('Enter');
    await sees(page, `${left - 1} open`);
  }
  const lit = (): Promise<string | null> =>
    page.$eval('[aria-label="Alerts"] tbody tr[aria-current=true] a', (link) => link.getAttribute('href'));
  await key('x');
  const before = await lit();
  await key('j');
  await page.waitForFunction(
    (was) =>
      document.querySelector('[aria-label="Alerts"] tbody tr[aria-current=true] a')?.getAttribute('href') !==
      was,
    {},
    before,
  );
  await key('x');
  await sees(page, '2 chosen');
  await key('m');
  await sees(page, '3 open');
  await key('o');
  await page.waitForSelector('form input:focus');
  await page.keyboard.type('joris.penhale');
  await key('Enter');
  await sees(page, 'with joris.penhale');
  await key('c');
  await sees(page, 'Into a case');
  await press(page, 'New case');
  await sees(page, 'Pinned to');
  await key('Escape');
  await page.goto(`${workbench.base}/cases`);
  await sees(page, 'Stolen password: stolen.person');
  await page.goto(`${workbench.base}/alerts?state=settled&verdict=harmless&find=stolen.person`);
  await sees(page, '16 settled');
  await sees(page, 'settled as harmless');
});

test('three hundred alerts within a minute are one line for each subject', async () => {
  await send(Array.from({ length: 300 }, (_, i) => `loud.${i % 3}`));
  await page.goto(`${workbench.base}/alerts?find=loud.&level=informational`);
  await sees(page, '3 open');
  const counts = await page.$$eval('[aria-label="Alerts"] tbody tr', (rows) =>
    rows.map((row) => row.querySelector('.num')?.textContent),
  );
  expect(counts).toEqual(['100', '100', '100']);
});
