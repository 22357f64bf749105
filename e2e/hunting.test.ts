import type { Browser, Page } from 'puppeteer-core';
import { fill, press, sees, signedInPage } from './support/browser.js';
import { openForTests } from './support/opened.js';
import type { Workbench } from './support/workbench.js';

// From a spike to its cause by clicking, and the other hunts that the demo world is about.

let workbench: Workbench;
let page: Page;
let browser: Browser;
openForTests(9, (opened) => {
  ({ workbench, page, browser } = opened);
});

const open = async (name: string, beam = 'last=7d'): Promise<void> => {
  await page.goto(`${workbench.base}/hunt?${beam}&zone=UTC`);
  // Rows that come in may move what is below them; the hand waits for them as a person's does.
  await sees(page, 'How it was answered');
  await page.waitForSelector('main[aria-busy="false"]');
  await press(page, name);
};
const rowsAre = (wanted: number): Promise<unknown> =>
  page.waitForFunction(
    (rows) =>
      document.querySelector('.sheet-title + .soft') !== null &&
      document.querySelectorAll('[role=row][aria-rowindex]').length === rows,
    {},
    wanted,
  );
const textOf = (selector: string): Promise<string> =>
  page.$eval(selector, (found) => found.textContent ?? '');
const clickCell = async (text: string): Promise<void> => {
  await page.locator(`[role=gridcell] ::-p-text(${text})`).click();
  await page.waitForSelector('[role=menu]');
};

/** Does what lights another window or another hunt, and waits until its bars and rows stand there. */
async function lit(change: () => Promise<unknown>): Promise<void> {
  const bars = page.waitForResponse((answer) => answer.url().endsWith('/hunts/timeline'));
  await change();
  await bars;
  await page.waitForSelector('main[aria-busy="false"]');
}

/** The length of the window in the address, minutes. */
const minutes = (): number => {
  const { searchParams } = new URL(page.url());
  const [from, to] = ['from', 'to'].map((name) => Date.parse(searchParams.get(name) ?? ''));
  return ((to ?? Number.NaN) - (from ?? Number.NaN)) / 60_000;
};

/** Drags over the highest bar of the timeline and moves the Beam there. */
async function shineOnHighestBar(): Promise<void> {
  const bar = await page.$$eval('[aria-label*="events over time"] > g[opacity]', (groups) => {
    const boxes = groups.map((group) => group.getBoundingClientRect());
    const [{ x, width, y, height }] = boxes.sort((a, b) => b.height - a.height) as [DOMRect];
    return { from: x + 1, to: x + width - 1, y: y + height / 2 };
  });
  await page.mouse.move(bar.from, bar.y);
  await page.mouse.down();
  await page.mouse.move(bar.to, bar.y, { steps: 3 });
  await page.mouse.up();
  await lit(() => press(page, 'Move the Beam here'));
}

test('from a spike to its cause by clicking only: one host, the burst, where it went, a picture, a link, a rule', async () => {
  await open('Outside traffic on UDP 53');
  await rowsAre(1);
  await clickCell('203.0.113.77');
  await press(page, 'The events behind this row E');
  await page.waitForFunction(() => document.querySelectorAll('[role=row][aria-rowindex]').length > 10);
  expect(await textOf('[role=textbox][aria-multiline=true]')).toContain("where dst_ip = '203.0.113.77'");
  await clickCell('10.30.0.10');
  await lit(() => press(page, 'Keep only this K'));
  expect(await textOf('[role=textbox][aria-multiline=true]')).toContain("src_ip = '10.30.0.10'");
  // The burst lasted ten minutes; each bar is a sixtieth of what was shone on before.
  await shineOnHighestBar();
  while (minutes() > 60) await shineOnHighestBar();
  await page.waitForFunction(() => document.querySelectorAll('[role=row][aria-rowindex]').length > 10);
  await press(page, 'Columns');
  await page.locator('.dropdown-menu ::-p-text(none)').click();
  for (const name of ['src_ip', 'dst_ip', 'as_name', 'dst_country', 'interface'])
    await page.locator(`#column-${name}`).click();
  await page.locator('.dropdown-menu ::-p-text(tally per these)').click();
  await page.waitForFunction(() => document.querySelectorAll('[role=row][aria-rowindex]').length === 1);
  expect(await textOf('[role=textbox][aria-multiline=true]')).toMatch(/tally count\(\) per .*src_ip/);
  await press(page, 'flow');
  await page.waitForSelector('figure [role=button]');
  await sees(page, '203.0.113.77 · ');
  // The address in the bar is the whole of it: somebody else sees the same.
  const other = await signedInPage(browser, workbench.base, 'joris.penhale');
  await other.page.goto(page.url());
  await sees(other.page, '203.0.113.77 · ');
  // The point of the first one's path is refused with 404, and a path of the other's own begins.
  expect(other.mistakes.filter((mistake) => !/status of 404/.test(mistake))).toEqual([]);
  await other.page.close();
  await press(page, 'table');
  await clickCell('203.0.113.77');
  await press(page, 'Write a block rule W');
  await sees(page, 'block from 10.30.0.10 to 203.0.113.77');
  await page.keyboard.press('Escape');
});

test('flows are drawn between sources, addresses and ports, and say so in words', async () => {
  await open('Flows from source to port', 'last=24h');
  await page.waitForFunction(() => document.querySelectorAll('[role=row][aria-rowindex]').length > 10);
  await press(page, 'flow');
  await page.waitForSelector('figure svg .recharts-sankey-link, figure svg path');
  await sees(page, 'src_ip → dst_ip → dst_port');
  expect(await page.$eval('figure', (found) => found.getAttribute('aria-label'))).toContain(
    'events by src_ip, dst_ip, dst_port',
  );
  expect(page.url()).toContain('view=flow');
});

test('failures before a success: a form for any user, without reading the steps', async () => {
  await open('Failures before a success');
  await page.waitForFunction(() => document.querySelectorAll('[role=row][aria-rowindex]').length > 2);
  await page.locator('::-p-aria([name="User name"])').fill('teo.marrash');
  await press(page, 'Run with these');
  await page.waitForFunction(
    () =>
      document.querySelectorAll('[role=row][aria-rowindex]').length > 0 &&
      [...document.querySelectorAll('[role=row][aria-rowindex]')].every(
        (row) => row.textContent?.includes('teo.marrash') === true,
      ),
  );
  expect(new URL(page.url()).searchParams.get('p.who')).toBe('teo.marrash');
});

test('the rare event in a busy window, and all sources two minutes around it', async () => {
  await open('The rare event in a busy two minutes', 'last=7d');
  await sees(page, 'key.update');
  await clickCell('key.update');
  await press(page, 'The events behind this row E');
  await page.waitForFunction(() => document.querySelectorAll('[role=row][aria-rowindex]').length === 1);
  await page.focus('[data-cell="0-0"]');
  await page.keyboard.press('Enter');
  await press(page, 'All sources, two minutes around');
  await page.waitForFunction(() => document.querySelectorAll('[role=row][aria-rowindex]').length > 3);
  expect(minutes()).toBe(4);
  expect(await textOf('[role=textbox][aria-multiline=true]')).toContain('from all');
});

test('who deleted the database, and what failed before', async () => {
  await open('What was deleted, and what failed before');
  await page.locator('::-p-aria([name="Name of the thing, or a part"])').fill('fares-archive');
  await press(page, 'Run with these');
  await sees(page, 'database.delete');
  await clickCell('database.delete');
  await lit(() => press(page, 'Keep only this K'));
  expect(await textOf('[role=textbox][aria-multiline=true]')).toContain("operation = 'database.delete'");
  await page.focus('[data-cell="0-0"]');
  await page.keyboard.press('Enter');
  await press(page, 'this user');
  await page.waitForFunction(() => document.querySelectorAll('[role=row][aria-rowindex]').length > 1);
  await sees(page, 'failure');
});

test('a step is looked at, switched off and moved by keyboard', async () => {
  const text = "from signin\nwhere outcome = 'failure'\ntally count() as n per user";
  await page.goto(`${workbench.base}/hunt?last=7d&q=${encodeURIComponent(text)}`);
  await page.waitForFunction(() => document.querySelectorAll('.ladder .funnel-count').length === 3);
  await page.focus('[role=textbox][aria-multiline=true]');
  const chord = async (
    modifier: 'Control' | 'Alt',
    key: 'Home' | 'p' | '/' | 'ArrowUp' | 'ArrowDown',
  ): Promise<void> => {
    await page.keyboard.down(modifier);
    await page.keyboard.press(key);
    await page.keyboard.up(modifier);
  };
  await chord('Control', 'Home');
  await page.keyboard.press('ArrowDown');
  await chord('Alt', 'p');
  await sees(page, 'as they stood after the step on line 2');
  await page.waitForFunction(() => document.querySelectorAll('.ladder .funnel-count').length === 2);
  await press(page, 'Back to the whole hunt');
  await page.waitForFunction(() => document.querySelectorAll('.ladder .funnel-count').length === 3);
  await page.focus('[role=textbox][aria-multiline=true]');
  await chord('Control', 'Home');
  await page.keyboard.press('ArrowDown');
  await chord('Control', '/');
  await sees(page, "-- where outcome = 'failure'");
  await sees(page, 'The steps have changed since this run.');
  // The cursor stays with the step: off and on again, down and up again.
  await chord('Control', '/');
  await page.waitForFunction(() => !document.body.innerText.includes('-- where'));
  const lines = (): Promise<string[]> =>
    page.$$eval('[aria-multiline=true] > *', (all) =>
      all.map((line) => line.textContent?.split(' ')[0] ?? ''),
    );
  await chord('Alt', 'ArrowDown');
  expect(await lines()).toEqual(['from', 'tally', 'where']);
  await chord('Alt', 'ArrowUp');
  expect(await lines()).toEqual(['from', 'where', 'tally']);
});

test('a hunt is saved, shared and found again', async () => {
  await page.goto(`${workbench.base}/hunt?last=24h&q=${encodeURIComponent('from rights\nsort user')}`);
  await press(page, 'Save this hunt');
  await fill(page, 'Name', 'Rights, by name');
  await fill(page, 'Folder', 'Mine');
  await press(page, 'Share with everyone');
  await press(page, 'Save');
  await sees(page, 'Rights, by name');
  const other = await signedInPage(browser, workbench.base, 'runa.keel');
  await other.page.goto(`${workbench.base}/hunt?last=24h`);
  await other.page.locator('::-p-aria([name="Find a hunt"])').fill('by name');
  await press(other.page, 'Rights, by name');
  await other.page.waitForFunction(
    () =>
      document.querySelector('[role=textbox][aria-multiline=true]')?.textContent?.includes('sort user') ===
      true,
  );
  await other.page.close();
});

test('the language is looked up in the application', async () => {
  await page.goto(`${workbench.base}/hunt?last=24h`);
  await press(page, 'Language');
  await page.locator('::-p-aria([name="Look for a word"])').fill('first seen in the last part');
  await sees(page, 'debut FIELD');
  await press(page, 'Add to the hunt');
  await page.waitForFunction(
    () =>
      document
        .querySelector('[role=textbox][aria-multiline=true]')
        ?.textContent?.includes('debut country per user') === true,
  );
});
