import { readFileSync } from 'node:fs';
import { resolve } from 'node:path';
import type { Page } from 'puppeteer-core';
import { press, pressTab, sees, editedText, writeDocument } from './support/browser.js';
import { openForTests } from './support/opened.js';
import type { Workbench } from './support/workbench.js';

let workbench: Workbench;
let page: Page;
openForTests(9, (opened) => {
  ({ workbench, page } = opened);
});

const go = (path: string): Promise<unknown> => page.goto(workbench.base + path);
const cells = (column: number): Promise<string[]> =>
  page.$$eval(
    '[role=row][aria-rowindex]',
    (rows, at) => rows.map((row) => row.children[at]?.textContent ?? ''),
    column,
  );
const count = async (selector: string): Promise<number> => (await page.$$(selector)).length;
const hunt = (text: string, beam = 'last=7d'): Promise<unknown> =>
  go(`/hunt?${beam}&q=${encodeURIComponent(text)}`);

async function send(source: string, ...records: object[]): Promise<void> {
  const response = await fetch(`${workbench.base}/api/v1/intake/${source}`, {
    method: 'POST',
    headers: { Authorization: `Bearer ${workbench.world?.keys[source]}` },
    body: records.map((record) => JSON.stringify(record)).join('\n'),
  });
  expect(response.status).toBe(200);
}

let made = 0;
const record = (user: string, more: object = {}): object => ({
  eventId: `e2e-${++made}`,
  at: new Date().toISOString(),
  action: 'session.start',
  result: { status: 'denied', why: 'bad_secret' },
  actor: { login: user },
  client: { address: '192.0.2.200' },
  ...more,
});

test('from last week of failed sign-ins to the spray by three clicks', async () => {
  await go('/hunt?last=7d');
  await sees(page, 'How it was answered');
  await page.waitForSelector('main[aria-busy="false"]');
  await press(page, 'Failed sign-ins from outside');
  await page.waitForFunction(() => document.querySelectorAll('.ladder .funnel-count').length === 3);
  await page.waitForFunction(
    () => document.querySelectorAll('[aria-label*="events over time"] g rect').length > 5,
  );

  const funnel = (): Promise<string[]> =>
    page.$$eval('.ladder .funnel-count', (all) => all.map((count) => count.textContent ?? ''));
  const before = await funnel();
  // The tallest bars are the nights of the spray: one drag over one of them, and the Beam moves there.
  const bar = await page.evaluate(() => {
    const bars = [...document.querySelectorAll('[aria-label*="events over time"] g rect')]
      .map((rect) => rect.getBoundingClientRect())
      .filter((box) => box.width > 3 && box.width < 60);
    const tallest = bars.sort((a, b) => b.height - a.height)[0];
    return tallest === undefined ? null : { left: tallest.left, right: tallest.right, y: tallest.bottom - 4 };
  });
  if (bar === null) throw new Error('The timeline has no bars.');
  await page.mouse.move(bar.left + 2, bar.y);
  await page.mouse.down();
  await page.mouse.move(bar.right - 2, bar.y, { steps: 3 });
  await page.mouse.up();
  await sees(page, 'Brushed:');
  await press(page, 'Move the Beam here');
  await page.waitForFunction(() => location.search.includes('from='));
  // The rows of the wider window stand until those of the narrower one are there.
  await page.waitForFunction(
    (wide) => {
      const counts = [...document.querySelectorAll('.ladder .funnel-count')].map(
        (count) => count.textContent,
      );
      return counts.length === wide.length && counts.join() !== wide.join();
    },
    {},
    before,
  );

  const country = await page.$$eval('[role=gridcell]', (all) =>
    all.findIndex((cell) => cell.textContent === 'Canada'),
  );
  const cell = (await page.$$('[role=gridcell]'))[country];
  await cell?.click();
  await press(page, 'Keep only this K');
  await page.waitForFunction(
    () =>
      document
        .querySelector('[role=textbox][aria-multiline=true]')
        ?.textContent?.includes("where country = 'Canada'") === true,
  );
  await page.waitForFunction(() => document.querySelectorAll('.ladder .funnel-count').length === 4);
  const addresses = await cells(4);
  expect(addresses.length).toBeGreaterThan(10);
  expect(addresses.every((address) => address.startsWith('198.18.40.'))).toBe(true);
});

test('clicking a value writes a tally, and the hunt is in the address', async () => {
  await hunt("from signin\nwhere outcome = 'failure'\nsort time");
  await page.waitForSelector('[data-cell="0-3"]');
  await page.click('[data-cell="0-3"]');
  await page.waitForSelector('[role=menu]');
  await page.keyboard.press('t');
  await page.waitForFunction(
    () =>
      [...document.querySelectorAll('[role=grid] [role=columnheader]')]
        .map((head) => head.textContent?.replace(/\W/g, ''))
        .join() === 'user,count',
  );
  const query = new URL(page.url()).searchParams.get('q');
  expect(query).toBe("from signin\nwhere outcome = 'failure'\ntally count() per user\nsort count desc");
  const counts = (await cells(1)).map(Number);
  expect(counts).toEqual([...counts].sort((a, b) => b - a));
  await page.goBack();
  await page.waitForFunction(
    () =>
      document.querySelector('[role=textbox][aria-multiline=true]')?.textContent?.includes('sort time') ===
      true,
  );
});

test('the streak alert leads to the dossier of Teo Marrash, and its rule to a new threshold', async () => {
  // The dossier is of the Beam's window, and the story may be older than a day.
  await go('/alerts?last=7d');
  await sees(page, 'Many failed sign-ins of one user');
  await page.evaluate(() =>
    [...document.querySelectorAll<HTMLElement>('[aria-label="Alerts"] tbody tr')]
      .find(
        (row) =>
          row.innerText.includes('Many failed sign-ins of one user') && row.innerText.includes('teo.marrash'),
      )
      ?.click(),
  );
  await page.waitForFunction(
    () =>
      document.querySelector('[aria-label="Alert"] h2')?.textContent === 'Many failed sign-ins of one user',
  );
  await page.waitForFunction(() => document.querySelectorAll('[aria-label="Alert"] tbody tr').length >= 24);

  await press(page, 'Open dossier');
  await page.waitForFunction(() => document.querySelector('h1')?.textContent === 'teo.marrash');
  await sees(page, '198.18.40.77');
  await sees(page, 'Second factor given after refusals');
  // The lanes come after the words.
  await page.waitForFunction(() => document.querySelectorAll('.lanes svg path[fill="var(--c1)"]').length > 2);

  await page.goBack();
  await press(page, 'Open the rule');
  await page.waitForFunction(
    () =>
      document.querySelector('[role=textbox][aria-multiline=true]')?.textContent?.includes('gte: 12') ===
      true,
  );
  const id = new URL(page.url()).pathname.split('/').at(-1);
  const text = await page.evaluate(
    async (rule) => ((await (await fetch(`/api/v1/rules/${rule}`)).json()) as { text: string }).text,
    id,
  );
  await writeDocument(page, text.replace('timespan: 15m', 'timespan: 30m'));
  await sees(page, 'within 30m of the same user');
  await page.keyboard.down('Control');
  await page.keyboard.press('s');
  await page.keyboard.up('Control');
  await sees(page, 'version 1 is on, this one waits for its replay');
  await press(page, 'Replay Ctrl Enter');
  await sees(page, 'Who sets it off most');
  await press(page, 'Switch version 2 on');
  await sees(page, 'Version 2 · on');
});

test('a mistake in a rule is underlined, named with its line, and cannot be kept', async () => {
  await go('/rules');
  await press(page, 'New rule');
  await page.waitForFunction(
    () =>
      document
        .querySelector('[role=textbox][aria-multiline=true]')
        ?.textContent?.includes('A name for the rule') === true,
  );
  await sees(page, 'of authentication where');
  await writeDocument(
    page,
    (await editedText(page)).replace('condition: selection', 'condition: selections'),
  );
  await sees(page, 'Line 14: nothing is named "selections". Did you mean "selection"?');
  expect(await count('.cm-lintRange-error')).toBeGreaterThan(0);
  expect(
    await page.$eval('[aria-label="Rule"] .btn-primary', (button) => (button as HTMLButtonElement).disabled),
  ).toBe(true);
});

test('an alert comes up by itself while one looks, and is worked through by keyboard', async () => {
  await go('/alerts');
  await sees(page, 'Waiting and taken');
  const user = 'freya.newcomer';
  await send('harbour-id', ...Array.from({ length: 13 }, () => record(user)));
  await sees(page, user);
  await page.evaluate(
    (name) =>
      [...document.querySelectorAll<HTMLElement>('[aria-label="Alerts"] tbody tr')]
        .find((row) => row.innerText.includes(name))
        ?.click(),
    user,
  );
  await page.waitForFunction(
    (name) => document.querySelector('[aria-label="Alert"]')?.textContent?.includes(name) === true,
    {},
    user,
  );
  await page.keyboard.press('t');
  await sees(page, 'with ottilie.brandt');
  await page.keyboard.press('h');
  await page.waitForSelector('form input:focus');
  await page.keyboard.press('Enter');
  await page.waitForFunction(
    (name) => !(document.querySelector('[aria-label="Alerts"]')?.textContent ?? '').includes(name),
    {},
    user,
  );
  await press(page, 'Settled');
  await page.waitForFunction(
    (name) => document.querySelector('[aria-label="Alerts"]')?.textContent?.includes(name) === true,
    {},
    user,
  );
  await sees(page, 'harmless');
});

test('a file of what a real sshd wrote goes in through the page, and what cannot be read is shown', async () => {
  await go('/sources/dock-auth');
  await press(page, 'Send to it');
  await sees(page, 'Upload a file');
  const input = await page.waitForSelector('input[type=file]');
  if (input === null) throw new Error('There is no field for a file.');
  await input.uploadFile(resolve('demo/fixtures/dock-auth.log'));
  await sees(page, 'dock-auth.log: 76 records, 76 stored, 0 already known, 0 set aside.');
  await input.uploadFile(resolve('demo/fixtures/dock-auth.log'));
  await sees(page, '76 records, 0 stored, 76 already known');
  await input.uploadFile(resolve('package.json'));
  await sees(page, 'would be set aside');
  await press(page, 'Send it so');
  await sees(page, 'package.json: ');
  await pressTab(page, 'Set aside');
  await sees(page, 'no syslog line: ');
  expect(readFileSync('demo/fixtures/dock-auth.log', 'utf8')).toContain('0ttilie.brandt');
  await hunt(
    "from source dock-auth over '2026-11-23T15:24:00Z' to '2026-11-23T15:26:00Z'\nwhere user = '0ttilie.brandt' and kind = 'signin'",
  );
  await page.waitForFunction(() => document.querySelectorAll('[role=row][aria-rowindex]').length === 1);
});

test('the editor marks mistakes, offers what may be written, and puts a word right', async () => {
  await hunt("from signin\nwhere outcom = 'failure'");
  await sees(page, 'Line 2 cannot be run');
  await page.waitForSelector('.cm-lintRange-error');
  await press(page, 'Write outcome');
  await page.waitForFunction(() => document.querySelectorAll('[role=row][aria-rowindex]').length > 3);
  await page.click('[role=textbox][aria-multiline=true]');
  await page.keyboard.down('Control');
  await page.keyboard.press('End');
  await page.keyboard.up('Control');
  await page.keyboard.press('Enter');
  await page.keyboard.type("where user = 'teo");
  await page.waitForFunction(
    () => document.querySelector('.cm-tooltip-autocomplete')?.textContent?.includes('teo.marrash') === true,
  );
  await sees(page, 'The steps have changed since this run.');
});

test('rows are walked, read and left by keyboard', async () => {
  await hunt('from signin\nsort time');
  await page.waitForSelector('[data-cell="0-0"]');
  await page.focus('[data-cell="0-0"]');
  await page.keyboard.press('ArrowDown');
  await page.keyboard.press('ArrowRight');
  await page.waitForFunction(() => (document.activeElement as HTMLElement | null)?.dataset['cell'] === '1-1');
  await page.keyboard.press('Enter');
  await page.waitForSelector('[aria-label="Reading"] .raw');
  await sees(page, 'All original fields');
  await page.keyboard.press('Escape');
  await page.waitForFunction(() => document.querySelector('[aria-label="Reading"]') === null);
  await page.keyboard.press('g');
  await page.keyboard.press('r');
  await page.waitForFunction(() => location.pathname === '/rules');
  await page.keyboard.press('?');
  await sees(page, 'complete');
});

test('a running hunt can be stopped', async () => {
  await hunt(
    'from all\nset a = similarity(raw, concat(raw, message))\nset b = similarity(raw, concat(message, raw))\nwhere a + b < 0',
    'last=30d',
  );
  await press(page, 'Stop');
  await sees(page, 'Stopped before the first row');
});

test('hostile and endless names stay text, within their place', async () => {
  const evil = `<img src=x onerror="alert(1)">${'y'.repeat(270)}`;
  await send(
    'harbour-id',
    ...Array.from({ length: 13 }, () => record(evil, { result: { status: 'denied', why: '=cmd|calc' } })),
  );
  await go('/alerts');
  await sees(page, '<img src=x onerror=');
  await page.evaluate(() =>
    [...document.querySelectorAll<HTMLElement>('[aria-label="Alerts"] tbody tr')]
      .find((row) => row.innerText.includes('<img'))
      ?.click(),
  );
  await page.waitForFunction(() => document.querySelectorAll('[aria-label="Alert"] tbody tr').length > 3);
  expect(await page.evaluate(() => document.documentElement.scrollWidth <= window.innerWidth)).toBe(true);
  await go(`/dossier/user/${encodeURIComponent(evil)}?last=24h`);
  await page.waitForFunction(() => document.querySelector('h1')?.textContent?.startsWith('<img') === true);
  await sees(page, 'Where from');
  expect(await page.evaluate(() => document.documentElement.scrollWidth <= window.innerWidth)).toBe(true);
  await hunt("from signin\nwhere user like '<img%'");
  await page.waitForSelector('[data-cell="0-3"]');
  expect(await count('img')).toBe(0);
});

test('what is on screen can be had by curl', async () => {
  await hunt('from signin\ntally count() per outcome');
  await page.waitForFunction(() => document.querySelectorAll('[role=row][aria-rowindex]').length > 1);
  await press(page, 'As curl');
  const command = await page
    .waitForSelector('.curl-text')
    .then((element) => element?.evaluate((node) => node.textContent ?? ''));
  const token = await page.evaluate(
    async () =>
      (
        (await (
          await fetch('/api/v1/tokens', {
            method: 'POST',
            headers: { 'Content-Type': 'application/json' },
            body: '{"label":"test"}',
          })
        ).json()) as { token: string }
      ).token,
  );
  const { execFileSync } = await import('node:child_process');
  const answer = JSON.parse(
    execFileSync('bash', ['-c', command ?? ''], {
      env: { ...process.env, UNDER_LAMP_TOKEN: token },
      encoding: 'utf8',
    }),
  ) as { columns: { name: string }[]; rows: unknown[] };
  expect(answer.columns.map((column) => column.name)).toEqual(['outcome', 'count']);
  expect(answer.rows.length).toBeGreaterThan(1);
});
