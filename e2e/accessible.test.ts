import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { join } from 'node:path';
import type { Page } from 'puppeteer-core';
import { openBrowser, signedInPage, type TestBrowser } from './support/browser.js';
import { startWorkbench, type Workbench } from './support/workbench.js';

// Every screen against the open rules for accessible pages (WCAG 2.2 A and AA, and what is held good practice).

const axe = readFileSync(
  createRequire(join(process.cwd(), 'package.json')).resolve('axe-core/axe.min.js'),
  'utf8',
);

let chromium: TestBrowser;
let full: Workbench;
let empty: Workbench;
beforeAll(async () => {
  [full, empty, chromium] = await Promise.all([startWorkbench(2), startWorkbench(0), openBrowser()]);
});
afterAll(async () => {
  await chromium.close();
  await full.stop();
  await empty.stop();
});

/** What is found against a page: the rule, and where. */
async function findings(page: Page): Promise<string[]> {
  await page.evaluate(axe);
  return page.evaluate(async () => {
    const { violations } = await (
      globalThis as unknown as {
        axe: { run(): Promise<{ violations: { id: string; nodes: { html: string }[] }[] }> };
      }
    ).axe.run();
    return violations.flatMap(({ id, nodes }) => nodes.map(({ html }) => `${id}: ${html.slice(0, 200)}`));
  });
}

const SCREENS = [
  '/desk',
  '/hunt',
  '/dashboards',
  '/dashboards/web-attacks',
  '/dashboards/sign-ins',
  '/alerts',
  '/cases',
  '/rules',
  '/lists',
  '/sources',
  '/rules/destinations',
  '/runbooks',
  '/runbooks/stolen-password',
  '/people',
  '/clock',
  '/rules/log-sources',
  '/dossier/user/teo.marrash',
  '/dossier/host/quay-tk-07',
  '/no/such/place',
] as const;

describe.each([
  ['with data', () => full],
  ['while it is empty', () => empty],
])('%s', (_name, workbench) => {
  let page: Page;
  beforeAll(async () => {
    ({ page } = await signedInPage(chromium.browser, workbench().base));
  });

  test.each(SCREENS)('%s has no findings', async (screen) => {
    await page.goto(`${workbench().base}${screen}`, { waitUntil: 'networkidle2' });
    await page.waitForSelector('h1');
    expect(await findings(page)).toEqual([]);
  });
});
