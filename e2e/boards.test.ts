import type { Browser, Page } from 'puppeteer-core';
import type { Board } from '../core/boards/board.js';
import { storeEvents } from '../server/tests/events.js';
import { makeEvents } from '../core/wick/tests/events.js';
import type { Event } from '../core/events/event.js';
import { fill, PATIENCE_MILLISECONDS, press, sees, signedInPage } from './support/browser.js';
import { openForTests } from './support/opened.js';
import { storyBeam } from './support/story-beam.js';
import type { Workbench } from './support/workbench.js';

let BEAM: string;
let workbench: Workbench;
let browser: Browser;
let page: Page;
// Enough days for what was never seen before.
openForTests(9, (opened) => {
  ({ workbench, page, browser } = opened);
  BEAM = storyBeam(workbench, 'Europe/Lisbon');
});

const go = (path: string): Promise<unknown> => page.goto(`${workbench.base}${path}`);

/** Puts a board as somebody would over the API. @returns its id */
async function makeBoard(board: Board): Promise<string> {
  return page.evaluate(async (body) => {
    const response = await fetch('/api/v1/boards', {
      method: 'POST',
      headers: { 'Content-Type': 'application/json' },
      body: JSON.stringify({ board: body }),
    });
    return ((await response.json()) as { id: string }).id;
  }, board as never);
}
const hunt = async (text: string): Promise<void> => {
  await page.locator('[aria-label="Change the card"] [role=textbox][aria-multiline=true]').click();
  await page.keyboard.down('Control');
  await page.keyboard.press('a');
  await page.keyboard.up('Control');
  await page.keyboard.sendCharacter(text);
};
const card = (title: string): string => `article[aria-label="${title}"]`;
const boxOf = (selector: string) =>
  page.$eval(selector, (one) => one.getBoundingClientRect().toJSON() as DOMRect);

test('the Desk is where one lands: what stands out, in figures that open as hunts', async () => {
  await go(`/?${BEAM}`);
  await page.waitForFunction(() => location.pathname === '/desk');
  await go(`/desk?${BEAM}`);
  await sees(page, 'Failed sign-ins today');
  await sees(page, 'Alerts waiting');
  await page.locator('::-p-xpath(//p[contains(@class, "lede")]//button[contains(., " more")])').click();
  for (const words of [
    '198.18.40.0/24',
    'teo.marrash read 184,000 records',
    'was refused 7 times and then approved',
    'key.update',
  ])
    await sees(page, words);
  await page.locator(`::-p-xpath(//p[contains(@class, "lede")]//a[contains(., "was refused")])`).click();
  await page.waitForFunction(() => location.pathname === '/hunt');
  await sees(page, 'sequence per user');
});

test('a figure of the Desk opens the hunt behind it, narrowed to it', async () => {
  await go(`/desk?${BEAM}`);
  await page.locator(`${card('Why they failed')} .bar-lines button`).click();
  await page.locator('::-p-xpath(//*[@role="menuitem"][starts-with(., "Open the hunt")])').click();
  await page.waitForFunction(() => location.pathname === '/hunt');
  await sees(page, "reason = 'no such user'");
});

test('a board is built from nothing by mouse', async () => {
  await go(`/dashboards?${BEAM}`);
  await press(page, 'New board');
  await sees(page, 'Nothing is on this board yet');
  await fill(page, 'Title of the board', 'Gates by mouse');
  await press(page, 'Add a card');
  await fill(page, 'Title', 'Attack types by count');
  await hunt(
    'from web\nwhere finding is not null\ntally count() as attacks per finding\nsort attacks desc\nfirst 20',
  );
  await press(page, 'Words');
  await page.waitForSelector(`${card('Attack types by count')} .words-picture`);
  // Made wider by its handle.
  const before = await boxOf('.board-cell');
  const handle = await boxOf('.board-cell .react-resizable-handle-e');
  await page.mouse.move(handle.x + 3, handle.y + 9);
  await page.mouse.down();
  await page.mouse.move(handle.x + 170, handle.y + 9, { steps: 8 });
  await page.mouse.up();
  await page.waitForFunction(
    (width) => (document.querySelector('.board-cell')?.clientWidth ?? 0) > width + 60,
    {},
    before.width,
  );
  await press(page, 'Add a card');
  await fill(page, 'Title', 'Attacks per gate and type');
  await hunt('from web\nwhere finding is not null\ntally count() as attacks per host, finding\nfirst 200');
  await press(page, 'Heat');
  await page.waitForSelector(`${card('Attacks per gate and type')} [data-mark]`);
  await page
    .locator(
      '::-p-xpath(//button[starts-with(., "Keep")][not(ancestor::aside) and not(ancestor::section[@aria-label="Change the card"])])',
    )
    .click();
  await page.waitForFunction(() => /^\/dashboards\/\d+$/.test(location.pathname));
  await sees(page, 'Gates by mouse');
  await sees(page, '2 cards');
});

test('and by keyboard', async () => {
  await go(`/dashboards?${BEAM}`);
  await sees(page, 'Ready-made');
  await page.keyboard.press('n');
  await sees(page, 'Nothing is on this board yet');
  const enter = async (name: string): Promise<void> => {
    const button = await page.waitForSelector(`::-p-aria(${name})`);
    await button?.focus();
    await page.keyboard.press('Enter');
  };
  await enter('Add a card');
  await page.waitForSelector('[aria-label="Change the card"] [role=textbox][aria-multiline=true]');
  await (await page.waitForSelector('#card-title'))?.focus();
  await page.keyboard.type(' by keys');
  await enter('Ranked');
  await page.waitForSelector(`${card('New card by keys')} tbody tr`);
  // Arrows move the card, with Shift they make it larger.
  await page.focus(card('New card by keys'));
  const before = await boxOf(card('New card by keys'));
  await page.keyboard.press('ArrowRight');
  await page.waitForFunction(
    (x) => (document.querySelector('article')?.getBoundingClientRect().x ?? 0) > x,
    {},
    before.x,
  );
  await page.focus(card('New card by keys'));
  await page.keyboard.down('Shift');
  await page.keyboard.press('ArrowDown');
  await page.keyboard.up('Shift');
  await page.waitForFunction(
    (high) => (document.querySelector('article')?.getBoundingClientRect().height ?? 0) > high + 20,
    {},
    before.height,
  );
  await page.focus('#card-title');
  await page.keyboard.down('Control');
  await page.keyboard.press('Enter');
  await page.keyboard.up('Control');
  await page.waitForFunction(() => /^\/dashboards\/\d+$/.test(location.pathname));
  await page.waitForSelector(`${card('New card by keys')} tbody tr`);
  // Enter on a card opens its hunt.
  await page.focus(card('New card by keys'));
  await page.keyboard.press('Enter');
  await page.waitForFunction(() => location.pathname === '/hunt');
});

test('a word is carried in the Beam, and the whole board follows', async () => {
  await go(`/dashboards/web-attacks?last=7d&zone=UTC`);
  await page.locator(`${card('Attack types by count')} figure button`).click();
  await sees(page, 'Cards that count per finding show every value and mark');
  expect(new URL(page.url()).searchParams.getAll('carry')).toHaveLength(1);
  await page.waitForSelector(`${card('Attack types by count')} .carried`);
  expect(await page.$$(`${card('Attack types by count')} figure button`)).not.toHaveLength(1);
});

test('a mistake stays in its card, and is mended from there', async () => {
  const id = await makeBoard({
    title: 'Broken',
    cards: [
      {
        id: 'bad',
        title: 'Misspelled',
        hunt: "from signin\nwhere outcom = 'failure'\ntally count() as n per user\nfirst 5",
        picture: { kind: 'ranked' },
      },
      { id: 'good', title: 'Sound', hunt: 'from signin\ntally count() as n', picture: { kind: 'number' } },
    ],
    layout: [
      { card: 'bad', x: 0, y: 0, w: 5, h: 6 },
      { card: 'good', x: 5, y: 0, w: 3, h: 3 },
    ],
  });
  await go(`/dashboards/${id}?${BEAM}`);
  await sees(page, 'Line 2: No field "outcom". Did you mean "outcome"?');
  await page.waitForSelector(`${card('Sound')} figure`);
  await press(page, 'Mend it');
  await page.waitForSelector(`${card('Misspelled')} tbody tr`);
  await page.locator('.card-settings .sheet-foot button').click();
  await sees(page, 'Versions');
  await go(`/dashboards/${id}?${BEAM}`);
  await page.waitForSelector(`${card('Misspelled')} tbody tr`);
});

test('it is shared, and a reader opens the link and sees the same', async () => {
  const id = await makeBoard({
    title: 'For the next shift',
    cards: [{ id: 'n', title: 'Events', hunt: 'from all\ntally count() as n', picture: { kind: 'number' } }],
    layout: [{ card: 'n', x: 0, y: 0, w: 4, h: 3 }],
  });
  await go(`/dashboards/${id}?${BEAM}`);
  await page.waitForSelector(`${card('Events')} figure`);
  const reader = await signedInPage(browser, workbench.base, 'runa.keel');
  await reader.page.goto(page.url());
  await sees(reader.page, 'This board cannot be shown');
  await press(page, 'Share');
  await press(page, 'everyone who may sign in');
  await press(page, 'Share it so');
  await page.waitForFunction(() => document.querySelector('[role=dialog]') === null);
  await reader.page.goto(page.url());
  await reader.page.waitForSelector(`${card('Events')} figure`);
  await sees(reader.page, 'Make it mine');
  expect(await reader.page.$('::-p-aria(Change)')).toBeNull();
  await reader.page.close();
});

test('on a wall it asks again by itself, and shows what came in', async () => {
  const id = await makeBoard({
    title: 'Wall',
    refresh: 60,
    cards: [
      {
        id: 'n',
        title: 'Seen on the wall',
        hunt: "from signin\nwhere user = 'wall.watcher'\ntally count() as n",
        picture: { kind: 'number' },
      },
    ],
    layout: [{ card: 'n', x: 0, y: 0, w: 4, h: 3 }],
  });
  const wall = await page.browserContext().newPage();
  try {
    wall.setDefaultTimeout(PATIENCE_MILLISECONDS);
    // A minute passes quickly here.
    await wall.evaluateOnNewDocument(() => {
      const real = window.setInterval.bind(window);
      const quick = (act: () => void, pause: number) => real(act, pause >= 60_000 ? 500 : pause);
      window.setInterval = quick as unknown as typeof window.setInterval;
    });
    // What comes in now is only seen by a Beam that goes on.
    await wall.goto(`${workbench.base}/dashboards/${id}?last=24h&zone=Europe/Lisbon&wall=1`);
    await wall.waitForFunction(() => document.querySelector('.big')?.textContent === '0');
    expect(await wall.$eval('header', (bar) => getComputedStyle(bar).display)).toBe('none');
    const [event] = makeEvents([
      { time: new Date(Date.now() - 60_000).toISOString(), kind: 'signin', user: 'wall.watcher' },
    ]);
    await storeEvents(workbench.database.pool, [
      { ...(event as Event), source: 'harbour-id', id: 'e'.repeat(32) },
    ]);
    // What is kept of an answer holds for a minute; counting anew does not wait for it.
    await wall.bringToFront();
    await wall.keyboard.press('r');
    await wall.waitForFunction(() => document.querySelector('.big')?.textContent === '1');
  } finally {
    // What comes after it looks at its own page.
    await wall.close();
    await page.bringToFront();
  }
});

test('on paper it says title, window and zone, and nothing to press', async () => {
  await go(`/dashboards/sign-ins?${BEAM}`);
  await sees(page, 'Why they failed');
  await page.emulateMediaType('print');
  await sees(page, 'Europe/Lisbon');
  await sees(page, 'Sign-ins');
  const shown = await page.evaluate(() => document.body.innerText);
  expect(shown).not.toContain('As JSON');
  expect(shown).toMatch(/ to .*Europe\/Lisbon.*counted/);
  await page.emulateMediaType('screen');
});
