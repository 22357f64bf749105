import { once } from 'node:events';
import { mkdirSync, writeFileSync } from 'node:fs';
import { createServer } from 'node:http';
import type { AddressInfo } from 'node:net';
import { join, resolve } from 'node:path';
import { Random } from '../demo/random.js';
import { scenes } from '../demo/scenes/index.js';
import type { Page } from 'puppeteer-core';
import { signedInCall } from './support/api.js';
import { makeNightCrossing } from './support/night-crossing.js';
import { openBrowser, press, signedInPage } from './support/browser.js';
import { storyBeam } from './support/story-beam.js';
import { startWorkbench, type Workbench } from './support/workbench.js';
import { makeSeal } from '../server/seal.js';
import { furnishDestinations } from '../scripts/lib/demo.js';
import { makeStandIns } from '../stand-ins/app.js';
import { buildAll } from '../scripts/lib/build.js';
import { startCluster } from '../scripts/lib/cluster.js';

// Takes the pictures of `docs/screenshots` from the demo data: one of each main view, 1280 by 800.

const folder = resolve('docs/screenshots');

const spray =
  "from signin\nwhere outcome = 'failure'\nwhere src_ip not within '10.0.0.0/8' -- inside, machines fail all day";
const hunt = (text: string, beam: string): string => `/hunt?${beam}&q=${encodeURIComponent(text)}`;

interface Shot {
  readonly name: string;
  readonly path: string;
  /** What the page shows when all of it has come. */
  readonly shows: string;
  /** What must be there before the page is opened. */
  readonly before?: (workbench: Workbench) => Promise<void>;
  readonly prepare?: (page: Page) => Promise<void>;
  /** What the page shows when it has been prepared, where that is something else. */
  readonly then?: string;
}

/** Nothing is being fetched any more, and the letters are there. */
async function settled(page: Page): Promise<void> {
  await page.waitForFunction(
    () => document.querySelector('.reading-bar') === null && document.fonts.status === 'loaded',
  );
  await page.evaluate(() => new Promise((done) => requestAnimationFrame(() => requestAnimationFrame(done))));
}

async function openCell(page: Page, cell: string): Promise<void> {
  await page.waitForSelector(`[data-cell="${cell}"]`);
  await page.click(`[data-cell="${cell}"]`);
}

const shots: readonly Shot[] = [
  {
    name: 'desk',
    path: '/desk?STORY&zone=Europe/Lisbon',
    shows: '.lede a',
    prepare: async (page) => void (await page.waitForSelector('.dots-picture li')),
  },
  {
    name: 'dashboard',
    path: `/dashboards/web-attacks?last=30d&zone=Europe/Lisbon&carry=${encodeURIComponent("finding = 'sql-injection'")}`,
    shows: '[aria-label="Map"] circle',
  },
  {
    name: 'dashboard-change',
    path: '/dashboards/sign-ins?STORY&zone=Europe/Lisbon',
    shows: '[aria-label="Map"] circle',
    prepare: async (page) => {
      await press(page, 'Make it mine');
      await page.waitForFunction(() => /^\/dashboards\/\d+$/.test(location.pathname));
      await page.waitForSelector('[aria-label="Change the card Who is hit"]');
      await page.$eval('[aria-label="Change the card Who is hit"]', (button) =>
        (button as HTMLElement).click(),
      );
      await page.waitForSelector('[role=group][aria-label="Picture"]');
      await page.locator('[aria-label="How many"]').fill('5');
      await page.waitForSelector('.setting.edited');
      await page.waitForSelector('[aria-label="Who is hit"] .share-bar');
    },
    then: '.setting.edited',
  },
  {
    name: 'hunt',
    path: hunt(spray, 'last=7d&zone=UTC'),
    shows: '.funnel-count',
    prepare: (page) => openCell(page, '4-3'),
  },
  {
    name: 'hunt-table',
    shows: '.funnel-count',
    path: hunt(
      `${spray}\ntally count() as failures, count(distinct src_ip) as addresses, values(country) as countries, last(time) as latest per user\nsort failures desc`,
      'last=7d&zone=UTC',
    ),
  },
  {
    name: 'reading',
    shows: '[role=row][aria-rowindex]',
    path: hunt(
      "from all\nwhere user = 'teo.marrash' and country = 'Canada'\nwhere outcome = 'success'",
      'last=7d&zone=UTC',
    ),
    async prepare(page) {
      await page.waitForSelector('[data-cell="1-0"]');
      await page.focus('[data-cell="1-0"]');
      await page.keyboard.press('Enter');
      await page.waitForSelector('.raw');
      await page.hover('.group dd');
    },
  },
  {
    name: 'follow-live',
    path: hunt('from signin', 'last=1h&zone=UTC&live=1'),
    shows: '[aria-label="Follow live"][role=region]',
    async prepare(page) {
      await page.waitForFunction(() => document.body.innerText.includes('Following'));
      const scene = scenes.find(({ name }) => name === 'spray');
      const records = scene?.play(new Random('picture'), Date.now() * 1000 - 60_000_000) ?? [];
      await fetch(`${workbench.base}/api/v1/intake/harbour-id`, {
        method: 'POST',
        headers: { Authorization: `Bearer ${workbench.world?.keys['harbour-id']}` },
        body: records.map(({ raw }) => raw).join('\n'),
      });
      await page.waitForFunction(() => document.body.innerText.includes('40 since it began'));
    },
  },
  {
    name: 'hunt-map',
    path: `${hunt("from signin\nwhere outcome = 'success'\ntravel per user faster than 900", 'last=7d&zone=UTC')}&view=map`,
    shows: '.map path',
  },
  {
    name: 'hunt-path',
    path: hunt(
      "from cloud, rights, object\nwhere account = 'ticketing-prod'",
      'last=7d&zone=UTC&carry=outcome%20!%3D%20%27failure%27',
    ),
    shows: '[role=row][aria-rowindex]',
    async prepare(page) {
      await press(page, 'Path');
      await page.waitForSelector('[aria-label="Path"] li:nth-child(1)');
      for (const [cell, key] of [
        ['0-1', 'x'],
        ['0-3', 't'],
      ] as const) {
        const before = await page.$$eval('[aria-label="Path"] li', (all) => all.length);
        await openCell(page, cell);
        await page.keyboard.press(key);
        await page.waitForFunction(
          (n) => document.querySelectorAll('[aria-label="Path"] li').length > n,
          {},
          before,
        );
      }
    },
  },
  {
    name: 'alerts',
    path: '/alerts?zone=UTC&find=teo',
    async before({ database: { pool } }) {
      // What the alerts set off reaches the stand-ins, as it does where everything is started.
      const { app, smtp } = makeStandIns(
        { seed: 7, end: 0 },
        { server: '', keys: {}, syslog: null },
        () => Date.now() * 1000,
      );
      const pages = createServer(app).listen(0, '127.0.0.1').unref();
      await once(pages, 'listening');
      smtp.listen(0, '127.0.0.1');
      await once(smtp.server, 'listening');
      const base = `http://127.0.0.1:${(pages.address() as AddressInfo).port}`;
      await furnishDestinations(pool, base, {
        port: (smtp.server.address() as AddressInfo).port,
        seal: makeSeal('a secret for tests only'),
      });
      await pool.query(`UPDATE deliveries SET state = 'waiting', queued = false, tries = 0`);
      for (let waiting = 1; waiting > 0;)
        waiting =
          (
            await pool.query<{ n: number }>(
              `SELECT count(*)::int AS n FROM deliveries WHERE state = 'waiting'`,
            )
          ).rows[0]?.n ?? 0;
      smtp.close();
      pages.close();
    },
    shows: '.met',
  },
  {
    name: 'case',
    path: '/cases?zone=UTC',
    async before({ base }) {
      const call = await signedInCall(base);
      const { id } = await makeNightCrossing(call);
      const report = await call('GET', `/cases/${id}/report?form=html`);
      writeFileSync('docs/night-crossing.html', await report.text());
    },
    shows: '[aria-label="Case"] .sheet-head a',
    async prepare(page) {
      await page.click('[aria-label="Case"] .sheet-head a');
      await page.waitForSelector('.bench-case');
    },
    then: '.bench-case .facts dd',
  },
  {
    name: 'rules',
    shows: '[aria-label="Rules"] tbody tr:nth-child(9)',
    path: '/rules?zone=UTC&by=-matches',
  },
  {
    name: 'rule',
    path: '/rules?zone=UTC&find=over+hours',
    shows: '[aria-label="Rules"] tbody tr',
    async prepare(page) {
      await page.click('[aria-label="Rules"] tbody tr .queue-title');
      await page.waitForFunction(() => document.body.innerText.includes('every test holds'));
      await press(page, 'Replay Ctrl Enter');
    },
    then: '.root-bar',
  },
  {
    name: 'tuning',
    path: '/tuning?last=7d&zone=UTC',
    shows: '.noise-row.lit',
    async prepare(page) {
      await page
        .locator('[aria-label="Rules, most work first"] ::-p-text(Failed sign-ins of one user over hours)')
        .click();
      await page.locator('[aria-label^="Leave out: "]').click();
    },
    then: '.compare',
  },
  { name: 'sources', path: '/sources/fw-brannoch?zone=UTC', shows: '.row-line' },
  {
    name: 'set-aside',
    path: '/sources/booking-app?zone=UTC',
    shows: '.row-line',
    async before(workbench) {
      const records = [
        '{"id":"bk-1","event":"login","actor":"runa.keel","ok":true}',
        '{"id":"bk-2","event":"query","actor":"teo.marrash","rows":200}',
        '{"id":"bk-3","ts":179, "event',
        'ERROR pool exhausted, retrying in 5 s',
        'ERROR pool exhausted, retrying in 10 s',
      ];
      await fetch(`${workbench.base}/api/v1/intake/booking-app`, {
        method: 'POST',
        headers: { Authorization: `Bearer ${workbench.world?.keys['booking-app']}` },
        body: records.join('\n'),
      });
    },
    prepare: async (page) => {
      await press(page, 'Set aside 5');
      await page.waitForSelector('.haired');
    },
    then: '.haired',
  },
  { name: 'recipe', path: '/sources/cumulus/recipe?zone=UTC', shows: '.record-chip' },
  { name: 'lists', path: '/lists/networks?zone=UTC', shows: '[aria-label="List"] tbody tr' },
  {
    name: 'dossier',
    path: '/dossier/user/teo.marrash?STORY&zone=UTC',
    shows: '[aria-label="Alerts and cases"] li',
    then: '.lanes svg path[fill="var(--c1)"]',
  },
];

mkdirSync(folder, { recursive: true });
await buildAll();
const cluster = await startCluster({ folder: resolve('.under-lamp-test'), disposable: true });
process.env['UNDER_LAMP_TEST_DATABASE'] = cluster.url;
const workbench = await startWorkbench(30);
const chromium = await openBrowser();
try {
  const { page } = await signedInPage(chromium.browser, workbench.base);
  // Names of pictures may be given, so that one that has changed is made alone.
  const named = process.argv.slice(2);
  for (const { name, path, shows, before, prepare, then } of shots) {
    if (named.length > 0 && !named.includes(name)) continue;
    await before?.(workbench);
    // A day that holds the story, whatever the time of day.
    await page.goto(
      workbench.base + path.replace(/STORY&zone=(.*)$/, (_whole, zone: string) => storyBeam(workbench, zone)),
    );
    await page.waitForSelector(shows);
    await settled(page);
    await prepare?.(page);
    await page.waitForSelector(then ?? shows);
    await settled(page);
    await page.screenshot({ path: join(folder, `${name}.png`) });
    process.stdout.write(`${name}\n`);
  }
} finally {
  await chromium.close();
  await workbench.stop();
  cluster.stop();
}
