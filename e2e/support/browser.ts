import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import puppeteer, { type Browser, type Page } from 'puppeteer-core';

/** How long a page may take over one thing; a busy machine is no failure. */
export const PATIENCE_MILLISECONDS = 55_000;

/** Headless Chromium with nothing of anyone's in it. */
export interface TestBrowser {
  readonly browser: Browser;
  close(): Promise<void>;
}

export async function openBrowser(): Promise<TestBrowser> {
  const profile = mkdtempSync(join(tmpdir(), 'under-lamp-browser-'));
  const browser = await puppeteer.launch({
    executablePath: process.env['CHROMIUM'] ?? '/usr/bin/chromium',
    headless: true,
    userDataDir: profile,
    args: [
      '--no-sandbox',
      '--disable-gpu',
      '--disable-quic',
      '--no-first-run',
      '--disable-background-networking',
      '--disable-component-update',
      '--disable-sync',
      '--lang=en-GB',
    ],
    env: { ...process.env, TZ: 'UTC' },
  });
  return {
    browser,
    async close() {
      await browser.close();
      rmSync(profile, { recursive: true, force: true });
    },
  };
}

/** A page with someone signed in; whatever goes wrong in its scripts is gathered in `mistakes`. */
export async function signedInPage(
  browser: Browser,
  base: string,
  name = 'ottilie.brandt',
): Promise<{ page: Page; mistakes: string[] }> {
  const context = await browser.createBrowserContext();
  const page = await context.newPage();
  page.setDefaultTimeout(PATIENCE_MILLISECONDS);
  await page.setViewport({ width: 1280, height: 800 });
  const mistakes: string[] = [];
  page.on('pageerror', (error) => mistakes.push(String(error)));
  page.on('console', (message) => {
    // The first question of a page, who is signed in, is answered by 401 before the sign-in.
    if (message.type() === 'error' && !/status of (401|422)/.test(message.text()))
      mistakes.push(message.text());
  });
  page.on('dialog', (dialog) => {
    mistakes.push(`dialogue: ${dialog.message()}`);
    void dialog.dismiss();
  });
  await page.goto(`${base}/`);
  await fill(page, 'Name', name);
  await fill(page, 'Password', 'skerry-line');
  await page.locator('button[type=submit]').click();
  await page.waitForSelector('header');
  return { page, mistakes };
}

/** Waits until the page shows a text somewhere. */
export async function sees(page: Page, text: string): Promise<void> {
  try {
    await page.waitForFunction((wanted) => document.body.innerText.includes(wanted), {}, text);
  } catch (error) {
    const shown = await page.evaluate(() => document.body.innerText);
    throw new Error(`"${text}" is not to be seen. The page shows:\n${shown}`, { cause: error });
  }
}

/** Clicks the first button, link or tab with this name. */
export async function press(page: Page, name: string): Promise<void> {
  await page.locator(`::-p-aria(${name})`).click();
}

/** Clicks a tab by the beginning of its name: a count that follows may come while one looks. */
export async function pressTab(page: Page, name: string): Promise<void> {
  await page.locator(`::-p-xpath(//*[@role="tab"][starts-with(., "${name}")])`).click();
}

/** Types a text into a field, found by its label, in place of what stands there. */
export async function fill(page: Page, label: string, text: string): Promise<void> {
  await page
    .locator(
      `::-p-aria([name="${label}"][role="textbox"]), ::-p-aria([name="${label}"][role="searchbox"]), ::-p-aria([name="${label}"][role="spinbutton"])`,
    )
    .click();
  await page.keyboard.down('Control');
  await page.keyboard.press('a');
  await page.keyboard.up('Control');
  await page.keyboard.press('Backspace');
  await page.keyboard.type(text);
}

/** Chooses a value in the field of choices that is called so. */
export async function choose(page: Page, label: string, value: string): Promise<void> {
  const field = await page.waitForSelector(`::-p-aria([name="${label}"][role="combobox"])`);
  await field?.select(value);
}

/** The text of the document that is being edited. */
export const editedText = (page: Page): Promise<string> =>
  page.$$eval('[aria-multiline=true] > *', (lines) => lines.map((line) => line.textContent ?? '').join('\n'));

/** Puts a text in place of the whole document that is being edited, as it is pasted. */
export async function writeDocument(page: Page, text: string): Promise<void> {
  await page.locator('[role=textbox][aria-multiline=true]').click();
  await page.keyboard.down('Control');
  await page.keyboard.press('a');
  await page.keyboard.up('Control');
  await page.keyboard.sendCharacter(text);
}
