import { fill, openBrowser, press, sees, signedInPage, type TestBrowser } from './support/browser.js';
import { startWorkbench, type Workbench } from './support/workbench.js';

let workbench: Workbench;
let chromium: TestBrowser;
beforeAll(async () => {
  [workbench, chromium] = await Promise.all([startWorkbench(0), openBrowser()]);
});
afterAll(async () => {
  await chromium?.close();
  await workbench?.stop();
});

test('an empty workbench says everywhere what is missing and what to do', async () => {
  const { page, mistakes } = await signedInPage(chromium.browser, workbench.base);
  await sees(page, 'No source sends anything yet');
  await page.goto(`${workbench.base}/hunt`);
  await sees(page, 'No events here');
  await page.goto(`${workbench.base}/alerts`);
  await sees(page, 'Nothing waits');
  await page.goto(`${workbench.base}/rules`);
  await sees(page, 'No rules yet');
  await page.goto(`${workbench.base}/sources`);
  await sees(page, 'No sources yet');
  await page.goto(`${workbench.base}/dossier/user/nobody`);
  await sees(page, 'No user of this name was seen');
  await page.goto(`${workbench.base}/no/such/place`);
  await sees(page, 'There is nothing at this address');
  expect(mistakes).toEqual([]);
});

test('from a pasted sample to its first events: a source is added, and hunted', async () => {
  const { page, mistakes } = await signedInPage(chromium.browser, workbench.base);
  await page.goto(`${workbench.base}/sources`);
  await press(page, 'Add a source');
  const now = new Date().toISOString().slice(0, 19).replace('T', ' ').replaceAll('-', '/');
  const line = (user: string): string =>
    `${now} [error] 6391#6391: *4 user "${user}": password mismatch, client: 198.18.40.77, server: www.skerry-line.example, request: "GET /secret/ HTTP/1.1", host: "www.skerry-line.example"`;
  await page.waitForSelector('#source-sample');
  await page.focus('#source-sample');
  await page.keyboard.sendCharacter(`${line('teo.marrash')}\n${line('runa.keel')}\n`);
  await sees(page, 'Error log of nginx reads them');
  await fill(page, 'Name', 'edge');
  await fill(page, 'Title', 'Edge of the web');
  await press(page, 'Add it');
  await press(page, 'Send the sample as its first records');
  await sees(page, '2 events stored');
  const query = new URLSearchParams({
    q: "from signin\nwhere outcome = 'failure'\ntally count() per user",
    last: '1h',
  });
  await page.goto(`${workbench.base}/hunt?${query.toString()}`);
  await sees(page, 'teo.marrash');
  await sees(page, 'runa.keel');
  expect(mistakes).toEqual([]);
});

test('a wrong password is told, and a page asked for is shown after the sign-in', async () => {
  const context = await chromium.browser.createBrowserContext();
  const page = await context.newPage();
  await page.goto(`${workbench.base}/rules`);
  await fill(page, 'Name', 'ottilie.brandt');
  await fill(page, 'Password', 'wrong');
  await page.keyboard.press('Enter');
  await sees(page, 'The name or the password is wrong.');
  await fill(page, 'Password', 'skerry-line');
  await page.keyboard.press('Enter');
  await sees(page, 'No rules yet');
});
