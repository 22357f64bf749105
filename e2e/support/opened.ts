import type { Browser, Page } from 'puppeteer-core';
import { openBrowser, signedInPage, type TestBrowser } from './browser.js';
import { startWorkbench, type Workbench } from './workbench.js';

/** A workbench with a page that someone is signed in to, as the tests of a file use it. */
export interface Opened {
  readonly workbench: Workbench;
  readonly browser: Browser;
  readonly page: Page;
}

/**
 * Opens a workbench and a page for the tests of a file, closes them after it, and holds each test to a page without
 * mistakes in its scripts.
 * @param days of demo data
 * @param begin is given what was opened
 */
export function openForTests(days: number, begin: (opened: Opened) => void): void {
  let workbench: Workbench | undefined;
  let chromium: TestBrowser | undefined;
  let mistakes: string[] = [];
  beforeAll(async () => {
    [workbench, chromium] = await Promise.all([startWorkbench(days), openBrowser()]);
    const signedIn = await signedInPage(chromium.browser, workbench.base);
    mistakes = signedIn.mistakes;
    begin({ workbench, browser: chromium.browser, page: signedIn.page });
  });
  afterAll(async () => {
    await chromium?.close();
    await workbench?.stop();
  });
  afterEach(() => {
    expect(mistakes.splice(0)).toEqual([]);
  });
}
