import type { Page } from 'puppeteer-core';
import { fill, press, sees, writeDocument } from './support/browser.js';
import { openForTests } from './support/opened.js';
import type { Workbench } from './support/workbench.js';

let workbench: Workbench;
let page: Page;
openForTests(5, (opened) => {
  ({ workbench, page } = opened);
});

const go = (path: string): Promise<unknown> => page.goto(workbench.base + path);

/** Waits until a button may be pressed, and presses it. */
async function pressReady(name: RegExp): Promise<void> {
  const handle = await page.waitForFunction(
    (source) =>
      [...document.querySelectorAll('button')].find(
        (button) => !button.disabled && new RegExp(source).test(button.textContent ?? ''),
      ),
    {},
    name.source,
  );
  await (handle.asElement() as Awaited<ReturnType<Page['$']>>)?.click();
}

let made = 0;
async function send(user: string, reason: string): Promise<void> {
  const response = await fetch(`${workbench.base}/api/v1/intake/harbour-id`, {
    method: 'POST',
    headers: { Authorization: `Bearer ${workbench.world?.keys['harbour-id']}` },
    body: JSON.stringify({
      eventId: `rules-${++made}`,
      at: new Date().toISOString(),
      action: 'session.start',
      result: { status: 'denied', why: reason },
      actor: { login: user },
      client: { address: '198.18.40.9' },
    }),
  });
  expect(response.status).toBe(200);
}

test('from a hunt to a rule, its replay, on, a live event, and an alert', async () => {
  const hunt = "from signin\nwhere outcome = 'failure' and src_ip within '198.18.40.0/24'";
  await go(`/hunt?last=7d&q=${encodeURIComponent(hunt)}`);
  await sees(page, 'Make it a rule');
  await press(page, 'Make it a rule');
  await sees(page, 'Not kept yet');
  await sees(page, 'as it happens');
  await pressReady(/^Replay/);
  await sees(page, 'Who sets it off most');
  expect(
    await page.$eval('[aria-label="Replay"] b', (figure) => Number(figure.textContent?.replaceAll(',', ''))),
  ).toBeGreaterThan(100);
  await pressReady(/^Keep as version 1 and switch on/);
  await sees(page, 'Version 1 · on');
  await send('live.person', 'bad_secret');
  await go('/alerts');
  await sees(page, 'live.person');
  await sees(page, 'Name what this hunt finds');
});

test('an event becomes a rule: its fields are chosen, and it is the first test', async () => {
  await go(`/hunt?last=7d&q=${encodeURIComponent("from log\nwhere operation = 'log.cleared'")}`);
  await page.waitForSelector('[role=row][aria-rowindex]');
  await page.focus('[data-cell="0-0"]');
  await page.keyboard.press('Enter');
  await sees(page, 'Make a rule of it');
  await press(page, 'Make a rule of it');
  await sees(page, 'Choose what it has to have');
  await page.locator('::-p-aria([name="host = quay-tk-07"])').click();
  await press(page, 'Write the rule');
  await sees(page, 'the event it was made from: must match, it matches');
  await sees(page, "host: 'quay-tk-07'");
});

test('a version that is not replayed does not run, and a failing test keeps it off', async () => {
  await go('/rules?find=Log+cleared+again');
  await press(page, 'New rule');
  await sees(page, 'Not kept yet');
  const text = (must: string): string =>
    `title: Somebody refused\nlevel: low\nlogsource: {category: authentication}\ndetection: {s: {user: nobody.at.all}, condition: s}\nlamp: {tests: [{must: ${must}, event: {user: nobody.at.all}}]}\n`;
  await writeDocument(page, text('pass'));
  await sees(page, 'fails: it matches');
  await pressReady(/^Replay/);
  await sees(page, 'It would have said nothing');
  await sees(page, 'A test fails.');
  await writeDocument(page, text('match'));
  await sees(page, 'The text has changed since this replay.');
  await pressReady(/^Replay Ctrl|^ReplayCtrl/);
  await pressReady(/^Keep as version 1 and switch on/);
  await sees(page, 'Version 1 · on');
});

test('a broken rule is refused with its line, and the rest go on', async () => {
  await go('/rules');
  await press(page, 'Import');
  const files = await page.waitForSelector('input[aria-label="Rule files"]');
  if (files === null) throw new Error('There is no way to choose files.');
  const good = (title: string): string =>
    `title: ${title}\nlogsource: {product: harbour-id}\ndetection: {s: {user: x}, condition: s}\n`;
  await page.evaluate(
    (element, texts) => {
      const transfer = new DataTransfer();
      for (const [name, text] of texts) transfer.items.add(new File([text ?? ''], name ?? ''));
      element.files = transfer.files;
      element.dispatchEvent(new Event('change', { bubbles: true }));
    },
    files,
    [
      ['one.yml', good('First of a pack')],
      ['two.yml', good('Broken').replace('user: x', 'user|contain: x')],
      ['three.yml', good('Third of a pack')],
    ],
  );
  await sees(page, '2 rules loaded, 1 refused:');
  await sees(page, 'two.yml, line 3');
  await sees(page, '2 new drafts');
  await press(page, 'Close');
  await sees(page, 'First of a pack');
  await sees(page, 'Third of a pack');
});

test('a rule whose log source nothing gives says so, until the table says what it means', async () => {
  await go('/rules/new');
  await sees(page, 'Not kept yet');
  await writeDocument(
    page,
    'title: Doors\nlogsource: {category: door_log}\ndetection: {s: {Who: teo.marrash}, condition: s}\n',
  );
  await sees(page, 'no source gives category door_log');
  await go('/rules/log-sources');
  await press(page, 'New line');
  await fill(page, 'category', 'door_log');
  await page.locator('aria/signin[role="checkbox"]').click();
  await fill(page, 'Fields', 'Who = user');
  await press(page, 'Add the line');
  await sees(page, 'door_log');
  await go('/rules/new');
  await sees(page, 'Not kept yet');
  await writeDocument(
    page,
    'title: Doors\nlogsource: {category: door_log}\ndetection: {s: {Who: teo.marrash}, condition: s}\n',
  );
  await sees(page, 'harbour-id');
});
