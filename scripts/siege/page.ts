import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import puppeteer from 'puppeteer-core';
import type { Besieged } from './besieged.js';

/** A browser in which somebody has Hunt open and works on. */
export interface OpenPage {
  /** Types a letter and takes it back. @returns whether the page drew it */
  type(): Promise<boolean>;
  /** Runs the hunt and waits until its rows stand there. @returns whether they came */
  run(): Promise<boolean>;
  close(): Promise<void>;
}

/** What the page may take over one thing, milliseconds. */
const PATIENCE = 60_000;
const SMALL_HUNT = 'from signin\nfirst 10';

/** Opens Hunt with a small hunt, as the one who is given. @throws Error where there is no Chromium, or no such page */
export async function openHunt({ base, headers }: Besieged): Promise<OpenPage> {
  const profile = mkdtempSync(join(tmpdir(), 'under-lamp-siege-'));
  const browser = await puppeteer.launch({
    executablePath: process.env['CHROMIUM'] ?? '/usr/bin/chromium',
    headless: true,
    userDataDir: profile,
    args: ['--no-sandbox', '--disable-gpu', '--no-first-run', '--disable-background-networking'],
  });
  const [name = '', value = ''] = (headers['Cookie'] ?? '').split('=');
  await browser.setCookie({ name, value, domain: base.hostname, path: '/' });
  const page = await browser.newPage();
  page.setDefaultTimeout(PATIENCE);
  await page.setViewport({ width: 1280, height: 800 });
  const query = new URLSearchParams({ last: '24h', zone: 'UTC', q: SMALL_HUNT });
  await page.goto(new URL(`/hunt?${query.toString()}`, base).href);
  await page.waitForSelector('.bench[aria-busy="false"] .grid-row');
  return {
    async type() {
      await page.click('.cm-content');
      await page.keyboard.press('End');
      await page.keyboard.type(' ');
      await page.keyboard.press('Backspace');
      // As a text: the page has what these tools do not know of.
      await page.evaluate('new Promise((drawn) => requestAnimationFrame(() => drawn(true)))');
      return true;
    },
    async run() {
      const answered = page.waitForResponse((answer) => answer.url().endsWith('/hunts/run'));
      await page.locator('::-p-aria(Run Ctrl Enter)').click();
      await answered;
      await page.waitForSelector('.bench[aria-busy="false"] .grid-row');
      return (await page.$$('.grid-row')).length === 10;
    },
    async close() {
      await browser.close();
      rmSync(profile, { recursive: true, force: true });
    },
  };
}
