import type { Browser, Page } from 'puppeteer-core';
import { choose, fill, press, sees, signedInPage } from './support/browser.js';
import { openForTests } from './support/opened.js';
import type { Workbench } from './support/workbench.js';

// Getting data in, as whoever runs the workbench does it: a source set up and mended, its recipe, the lists.

let workbench: Workbench;
let page: Page;
let browser: Browser;
openForTests(2, (opened) => {
  ({ workbench, page, browser } = opened);
});

const ROWS = '::-p-aria([name="Rows: CSV, JSON, one value a line, or a STIX 2.1 bundle"][role="textbox"])';
const go = (path: string): Promise<unknown> => page.goto(workbench.base + path);

async function send(source: string, body: string): Promise<void> {
  const response = await fetch(`${workbench.base}/api/v1/intake/${source}`, {
    method: 'POST',
    headers: { Authorization: `Bearer ${workbench.world?.keys[source]}` },
    body,
  });
  expect(response.status).toBe(200);
}

test('what could not be read is mended in the workbench and read again', async () => {
  // The application has begun to write its time under another name, and a field nobody knows.
  const at = Date.now();
  await send(
    'booking-app',
    [1, 2, 3]
      .map((i) =>
        JSON.stringify({
          id: `late-${i}`,
          when: at - i,
          event: 'login',
          actor: 'runa.keel',
          ok: true,
          shoe: 41,
        }),
      )
      .join('\n'),
  );
  await go('/sources/booking-app');
  await press(page, 'Set aside 3');
  await sees(page, '3 records, 1 reason');
  await sees(page, 'no time in "ts"');
  await press(page, 'Mend the recipe');
  await sees(page, 'What becomes of them');
  await sees(page, 'Set aside: no time in "ts"');
  // The fields that nobody has mapped are shown as left.
  await sees(page, 'shoe');
  // Both names at once: the records of before must still be read.
  await page.click('[aria-label="Text of the recipe"]');
  await page.keyboard.down('Control');
  await page.keyboard.press('a');
  await page.keyboard.up('Control');
  const { recipe } = (await page.evaluate(async () =>
    (await fetch('/api/v1/recipes/booking-app')).json(),
  )) as { recipe: { time: object } };
  await page.evaluate(
    (text) => {
      const pasted = new DataTransfer();
      pasted.setData('text/plain', text);
      document
        .querySelector('[aria-label="Text of the recipe"]')
        ?.dispatchEvent(
          new ClipboardEvent('paste', { clipboardData: pasted, bubbles: true, cancelable: true }),
        );
    },
    JSON.stringify({ ...recipe, time: { from: ['ts', 'when'], as: 'epoch-milliseconds' } }, null, 2),
  );
  await page.waitForFunction(
    () => document.querySelectorAll('[aria-label="Records of the sample"] .set-aside').length === 0,
  );
  await page.waitForFunction(
    () => document.querySelectorAll('[aria-label="Records of the sample"] .event').length > 3,
  );
  await page.keyboard.down('Control');
  await page.keyboard.press('s');
  await page.keyboard.up('Control');
  await sees(page, 'Kept; new records are read by it.');
  await go('/sources/booking-app');
  await press(page, 'Set aside 3');
  await press(page, 'Read all again');
  await sees(page, '3 read again: 3 stored');
  await sees(page, 'Nothing is set aside');
});

test('two versions of a recipe are compared line by line', async () => {
  await go('/sources/booking-app/recipe');
  await choose(page, 'compare with', '1');
  await sees(page, 'lines differ from version 1');
  const lines = await page.$eval('[aria-label="Both versions, line by line"]', (both) =>
    (both.textContent ?? '').split('\n'),
  );
  const marked = (sign: string): string => lines.filter((line) => line.startsWith(sign)).join('');
  expect(marked('+')).toContain('"when"');
  expect(marked('−')).toContain('"from": "ts"');
});

test('a mistake in a recipe is told where it is, and cannot be kept', async () => {
  await go('/sources/keeper/recipe');
  await sees(page, 'What becomes of them');
  await page.click('[aria-label="Text of the recipe"]');
  await page.keyboard.type('!');
  await page.waitForFunction(() => /Line \d/.test(document.body.innerText));
  await page.waitForSelector('::-p-xpath(//button[starts-with(., "Keep as version")][@disabled])');
  await press(page, 'Take back');
  await page.waitForFunction(() => !/Line \d/.test(document.body.innerText));
});

test('a list is made of pasted rows, searched, changed, and asked by a hunt', async () => {
  await go('/lists');
  await press(page, 'New list');
  await fill(page, 'Name', 'on-leave');
  await fill(page, 'What it is for', 'people who are away');
  await page.locator(ROWS).fill('user,until\nteo.marrash,spring\nruna.keel,"May, or so"\n');
  await sees(page, 'CSV: 2 rows');
  await press(page, 'Take them in');
  await sees(page, 'the list has 2 rows');
  await press(page, 'Done');
  await sees(page, 'people who are away');
  await page.waitForFunction(() => document.querySelectorAll('[aria-label="List"] tbody tr').length === 2);
  await fill(page, 'Search the rows', 'spring');
  await page.waitForFunction(() => document.querySelectorAll('[aria-label="List"] tbody tr').length === 1);
  await press(page, 'Add a row');
  await fill(page, 'user', `${'long.'.repeat(60)}name`);
  await press(page, 'Add it');
  await fill(page, 'Search the rows', '');
  await page.waitForFunction(() => document.querySelectorAll('[aria-label="List"] tbody tr').length === 3);
  // Wide as it is, nothing of the page itself scrolls.
  expect(await page.evaluate(() => document.documentElement.scrollWidth <= window.innerWidth)).toBe(true);
  await press(page, 'Hunt with it');
  await sees(page, 'in list on-leave');
  await page.waitForSelector('[role=row][aria-rowindex]');
});

test('settings of a source say what is wrong with them, and hold when they are right', async () => {
  await go('/sources/fw-brannoch');
  await press(page, 'Settings');
  await fill(page, 'Addresses or networks they come from', '10.0.0.999');
  await press(page, 'Save');
  await sees(page, '"10.0.0.999" is no address or network');
  await fill(page, 'Addresses or networks they come from', '10.20.5.0/24');
  await fill(page, 'Days its events are kept (empty: for ever)', '45');
  await press(page, 'Save');
  await page.waitForFunction(() => !document.body.innerText.includes('is no address or network'));
  await press(page, 'How it stands');
  await sees(page, '45 days');
});

test('whoever only reads sees lists and recipes, and is offered no change', async () => {
  const reader = await signedInPage(browser, workbench.base, 'runa.keel');
  await reader.page.goto(`${workbench.base}/lists/hosts`);
  await sees(reader.page, 'vulnerability scanner');
  const buttons = await reader.page.$$eval('button', (all) => all.map((button) => button.textContent));
  expect(buttons.filter((text) => /New list|Add a row|Import|Remove/.test(text ?? ''))).toEqual([]);
  expect(reader.mistakes).toEqual([]);
  await reader.page.close();
});

test('a rule of the way in: tried on stored records, kept, and what it tags is found', async () => {
  await go('/sources');
  await press(page, 'Way in');
  await sees(page, 'No rules of the way in yet');
  await press(page, 'New rule');
  await fill(page, 'What it is for', 'Runa is watched');
  await fill(page, 'A text that the record holds', 'runa.keel');
  await fill(page, 'Tags, with commas between', 'watched');
  await press(page, 'Try on stored records');
  await sees(page, 'meet it');
  await press(page, 'Add the rule');
  await sees(page, 'No record has met it yet.');
  await press(page, 'Say what a tag means');
  await fill(page, 'Word', 'watched');
  await fill(page, 'What it means', 'somebody looks at it');
  await press(page, 'Keep the tag');
  await sees(page, 'somebody looks at it');
  await send(
    'booking-app',
    JSON.stringify({ id: 'tagged-1', ts: Date.now(), event: 'login', actor: 'runa.keel', ok: true }),
  );
  await go(`/hunt?last=15m&q=${encodeURIComponent("from all\nwhere tags = 'watched'\nshow user, tags")}`);
  await page.waitForSelector('.tag-slip[title="somebody looks at it"]');
  await sees(page, '1 row');
});

test('a list of several kinds of indicators becomes a list for each', async () => {
  await go('/lists');
  await press(page, 'New list');
  await fill(page, 'Name', 'warned-of');
  await page.locator(ROWS).click();
  await page.keyboard.sendCharacter(
    '# from the harbour\nvalue,why\n198[.]18.40.7,spray\n*.elsewhere.example,page\n',
  );
  await sees(page, 'A list for each kind: 1 addresses, 1 domains');
  await sees(page, '1 comment line was left out');
  await press(page, 'Take them in');
  await sees(page, 'warned-of-addresses, warned-of-domains have 2 rows.');
  await press(page, 'Done');
  await sees(page, '198.18.40.7');
});

test('a source that nobody needs is renamed, and then deleted with its events', async () => {
  await go('/sources/keeper');
  await press(page, 'Settings');
  await press(page, 'Rename');
  await fill(page, 'Name', 'keeper-two');
  await page.keyboard.press('Enter');
  await page.waitForFunction(() => location.pathname === '/sources/keeper-two');
  await sees(page, '/api/v1/intake/keeper-two');
  await press(page, 'Settings');
  await press(page, 'Delete the source keeper-two');
  await sees(page, 'It takes in nothing more at once');
  await press(page, 'Delete');
  await page.waitForFunction(() => location.pathname === '/sources');
  await page.waitForFunction(() => !document.body.textContent.includes('keeper-two'));
});
