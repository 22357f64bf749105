import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { Page } from 'puppeteer-core';
import { signInRecord } from '../server/tests/server.js';
import { fill, openBrowser, press, sees, signedInPage, type TestBrowser } from './support/browser.js';
import { startWorkbench, type Workbench } from './support/workbench.js';

// What comes in while one watches, what is fetched, what is read again, and files that are written otherwise.

let workbench: Workbench;
let chromium: TestBrowser;
let page: Page;
let mistakes: string[];
let outside: Server;
const folder = mkdtempSync(join(tmpdir(), 'under-lamp-files-'));

beforeAll(async () => {
  outside = createServer((_request, response) => {
    response.setHeader('Content-Type', 'application/json');
    response.end(
      JSON.stringify({
        staff: [
          { badge: 'b-1', who: 'Teo Marrash' },
          { badge: 'b-2', who: '<b>Runa</b>' },
        ],
      }),
    );
  });
  await new Promise<void>((ready) => outside.listen(0, '127.0.0.1', ready));
  [workbench, chromium] = await Promise.all([startWorkbench(1), openBrowser()]);
  ({ page, mistakes } = await signedInPage(chromium.browser, workbench.base));
});
afterAll(async () => {
  await chromium?.close();
  await workbench?.stop();
  outside.closeAllConnections();
  outside.close();
  rmSync(folder, { recursive: true, force: true });
});
afterEach(() => {
  expect(mistakes.splice(0)).toEqual([]);
});

const go = (path: string): Promise<unknown> => page.goto(workbench.base + path);
const send = async (...users: string[]): Promise<void> => {
  const response = await fetch(`${workbench.base}/api/v1/intake/harbour-id`, {
    method: 'POST',
    headers: { Authorization: `Bearer ${workbench.world?.keys['harbour-id']}` },
    body: users.map((user) => signInRecord({ user, at: new Date().toISOString() })).join('\n'),
  });
  expect(response.status).toBe(200);
};
const firstUsers = (): Promise<string[]> =>
  page.evaluate(() =>
    [...document.querySelectorAll('[role=row][aria-rowindex]')]
      .slice(0, 3)
      .map((row) => row.textContent ?? ''),
  );

test('a hunt is followed while events come in, held, and gone on with', async () => {
  await go(
    `/hunt?zone=UTC&q=${encodeURIComponent("from signin\nwhere user like 'watched-%'\nshow user, outcome")}`,
  );
  await sees(page, 'No rows');
  await page.click('#follow-live');
  await sees(page, 'Following');
  expect(page.url()).toContain('live=1');
  await send('watched-one', 'someone.else');
  await sees(page, 'watched-one');
  await page.keyboard.press('p');
  await sees(page, 'Held');
  await send('watched-two');
  await sees(page, '1 new rows wait');
  expect((await firstUsers()).join()).not.toContain('watched-two');
  await press(page, 'Show them and go on');
  await sees(page, 'watched-two');
  expect((await firstUsers())[0]).toContain('watched-two');
  await page.click('#follow-live');
  await page.waitForFunction(
    () => document.querySelector('[aria-label="Follow live"][role=region]') === null,
  );
});

test('a list is pulled from an address', async () => {
  await page.evaluate(() =>
    fetch('/api/v1/lists/staff', {
      method: 'PUT',
      headers: { 'Content-Type': 'application/json' },
      body: JSON.stringify({ match: 'exact', key: 'badge', rows: [] }),
    }),
  );
  await go('/lists/staff');
  await press(page, 'Pull its rows from an address');
  await fill(
    page,
    'Address that answers JSON',
    `http://127.0.0.1:${(outside.address() as AddressInfo).port}/staff`,
  );
  await press(page, 'The address may lie inside this network');
  await press(page, 'Begin to pull');
  await sees(page, 'Pulled every 60 min from');
  await press(page, 'Fetch now');
  // The answer has its items elsewhere.
  await sees(page, 'The answer has no array at "items".');
  await press(page, 'Change');
  await fill(page, 'Where the items stand in an answer (empty: the answer itself)', 'staff');
  await press(page, 'Save');
  await press(page, 'Fetch now');
  await sees(page, '<b>Runa</b>');
  await sees(page, '2 rows');
});

test('stored records are read again by a new version', async () => {
  await go('/sources/cumulus/recipe?zone=UTC');
  await sees(page, 'What becomes of them');
  const { recipe } = (await page.evaluate(async () => (await fetch('/api/v1/recipes/cumulus')).json())) as {
    recipe: { constants?: object };
  };
  await page.evaluate(
    async (document) => {
      await fetch('/api/v1/recipes', {
        method: 'POST',
        headers: { 'Content-Type': 'application/json' },
        body: JSON.stringify(document),
      });
    },
    { ...recipe, constants: { ...recipe.constants, group_name: 'read twice' } },
  );
  await go('/sources/cumulus?zone=UTC');
  await press(page, 'Read again');
  await sees(page, 'came out differently');
  await page.waitForFunction(() => !document.body.innerText.includes('Stop; what is done stays'));
  const { rows } = await workbench.database.pool.query(
    `SELECT count(*)::int AS all, count(*) FILTER (WHERE recipe_version = 2)::int AS again FROM events WHERE source = 'cumulus'`,
  );
  expect(rows[0].all).toBeGreaterThan(0);
  expect(rows[0].again).toBe(rows[0].all);
});

test('a file that is written otherwise is shown before it is sent, and read by another recipe', async () => {
  const table = join(folder, 'desks.log');
  writeFileSync(
    table,
    `${[1, 2, 3].map((i) => signInRecord({ user: `from-file-${i}`, at: '2026-11-20T10:00:00Z' })).join('\n')}\n`,
  );
  await go('/sources/dock-auth?zone=UTC');
  await press(page, 'Send to it');
  const input = await page.waitForSelector('input[type=file]');
  await (input as unknown as { uploadFile: (path: string) => Promise<void> }).uploadFile(table);
  await sees(page, 'looks like json');
  await sees(page, 'would be set aside');
  await page.select('#upload-recipe', 'harbour-id');
  await sees(page, 'Of its first 2 records 2 become events.');
  await press(page, 'Send it so');
  await sees(page, '3 records, 3 stored');
});
