import { openBrowser, sees, signedInPage, type TestBrowser } from './support/browser.js';
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
  await sees(page, 'No user of this name was ever seen');
  await page.goto(`${workbench.base}/no/such/place`);
  await sees(page, 'There is nothing at this address');
  expect(mistakes).toEqual([]);
});

test('a wrong password is told, and a page asked for is shown after the sign-in', async () => {
  const context = await chromium.browser.createBrowserContext();
  const page = await context.newPage();
  await page.goto(`${workbench.base}/rules`);
  await page.locator('#name').fill('ottilie.brandt');
  await page.locator('#password').fill('wrong');
  await page.keyboard.press('Enter');
  await sees(page, 'The name or the password is wrong.');
  await page.locator('#password').fill('skerry-line');
  await page.keyboard.press('Enter');
  await sees(page, 'No rules yet');
});
