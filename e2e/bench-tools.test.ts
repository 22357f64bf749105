import type { Browser, Page } from 'puppeteer-core';
import { fill, press, sees, signedInPage } from './support/browser.js';
import { openForTests } from './support/opened.js';
import type { Workbench } from './support/workbench.js';

// What the bench offers besides steps and rows: path, snapshots, the Beam's conditions, columns, pictures, the guide.

let workbench: Workbench;
let page: Page;
let browser: Browser;
openForTests(5, (opened) => {
  ({ workbench, page, browser } = opened);
});

const hunt = async (text: string, more = ''): Promise<void> => {
  await page.goto(`${workbench.base}/hunt?last=7d&zone=UTC${more}&q=${encodeURIComponent(text)}`);
  await page.waitForSelector('[role=row][aria-rowindex], figure');
};
const steps = (): Promise<string> =>
  page.$$eval('[aria-multiline=true] > *', (lines) => lines.map((line) => line.textContent ?? '').join('\n'));
const stepsHold = (text: string): Promise<unknown> =>
  page.waitForFunction(
    (wanted) =>
      [...document.querySelectorAll('[aria-multiline=true] > *')]
        .map((line) => line.textContent ?? '')
        .join('\n')
        .includes(wanted),
    {},
    text,
  );
const clickCell = async (text: string, item: string): Promise<void> => {
  await page.locator(`[role=gridcell] ::-p-text(${text})`).click();
  await page.waitForSelector('[role=menu]');
  await press(page, item);
};
const columnMenu = async (column: string, item: string): Promise<void> => {
  // A menu that is still open would be taken for the one that is asked for, and go away under the click.
  if ((await page.$('[role=menu]')) !== null) await page.keyboard.press('Escape');
  await page.waitForFunction(() => document.querySelector('[role=menu]') === null);
  await page.locator(`[aria-label="What to do with the column ${column}"]`).click();
  await page.waitForSelector('[role=menu]');
  await press(page, item);
};
const points = (wanted: number): Promise<unknown> =>
  page.waitForFunction((n) => document.querySelectorAll('[aria-label="Path"] li').length === n, {}, wanted);

test('the path keeps each turn: back, another way, a name, and what two points differ in', async () => {
  await hunt('from rights');
  await press(page, 'Path');
  await points(1);
  await clickCell('role.grant', 'Keep only this K');
  await points(2);
  // Back to where it began, which asks the same again and makes no point.
  await page.locator('[aria-label="Path"] li:first-child button[title]').click();
  await page.waitForFunction(
    () => document.querySelector('[aria-label="Path"] li:first-child [aria-current=step]') !== null,
  );
  expect(await steps()).toBe('from rights');
  // Rows that are still being fetched would move under the click.
  await page.waitForSelector('main[aria-busy="false"] [role=row][aria-rowindex]');
  await clickCell('role.grant', 'Leave this out X');
  await points(3);
  expect(
    await page.$$eval('[aria-label="Path"] li button[title]', (all) => all.map((one) => one.textContent)),
  ).toEqual(['from rights', "+ where operation = 'role.grant'", "+ where operation != 'role.grant'"]);
  await page.locator('[aria-label="Path"] li:first-child ::-p-text(name)').click();
  await page.locator('[aria-label="Name of this point"]').fill('All rights');
  await page.keyboard.press('Enter');
  await sees(page, 'All rights');
  await page.locator('[aria-label="Path"] li:nth-child(2) ::-p-text(compare with here)').click();
  await page.waitForFunction(() => / new, 0 with other figures, [1-9]/.test(document.body.innerText));
  await page.keyboard.press('Escape');
});

test('a result is kept as it was, and read by others', async () => {
  await hunt('from rights\nshow time, user, operation');
  await press(page, 'Snapshots');
  await page.locator('[aria-label="Name of the snapshot"]').fill('Rights of the week');
  await page.keyboard.press('Enter');
  await sees(page, 'Rights of the week');
  await page.locator('[aria-label="Snapshots"] ::-p-text(Rights of the week)').click();
  await sees(page, 'Ask the same now');
  await page.waitForSelector('[role=row][aria-rowindex]');
  const other = await signedInPage(browser, workbench.base, 'runa.keel');
  await other.page.goto(page.url());
  await sees(other.page, 'Rights of the week');
  await other.page.waitForSelector('[role=row][aria-rowindex]');
  expect(other.mistakes).toEqual([]);
  await other.page.close();
  await press(page, 'Ask the same now');
  await stepsHold('show time, user, operation');
});

test('a condition is carried in the Beam to the next hunt, turned round and let go', async () => {
  await hunt("from signin\nwhere user = 'teo.marrash'");
  await clickCell('teo.marrash', 'Carry in the Beam B');
  await page.waitForSelector('[aria-label^="Let go of"]');
  // The place in the top bar takes the Beam along.
  await page.locator('header nav ::-p-text(Hunt)').click();
  await page.waitForFunction(
    () =>
      document.querySelector('[role=textbox][aria-multiline=true]')?.textContent?.includes('marrash') ===
      false,
  );
  expect(await steps()).toBe('from signin');
  await page.waitForFunction(() => {
    const rows = [...document.querySelectorAll('[role=row][aria-rowindex]')];
    return rows.length > 0 && rows.every((row) => row.textContent?.includes('teo.marrash') === true);
  });
  await page.locator('[aria-label="Carried conditions"] [title]').click();
  await sees(page, 'is not');
  await page.waitForFunction(() => {
    const rows = [...document.querySelectorAll('[role=row][aria-rowindex]')];
    return rows.length > 0 && rows.every((row) => row.textContent?.includes('teo.marrash') === false);
  });
  await page.locator('[aria-label^="Let go of"]').click();
  await page.waitForFunction(() => document.querySelector('[aria-label^="Let go of"]') === null);
});

test('the head of a column: values by frequency, another name, hiding, bars split by it', async () => {
  await hunt('from rights');
  await columnMenu('operation', 'Values by frequency V');
  await page.locator('[role=dialog] li ::-p-text(keep)').click();
  await stepsHold('where operation =');
  // The rows that were there before are gone by then, and the menu stays open.
  await page.waitForFunction(() => document.querySelectorAll('.ladder .funnel-count').length === 2);
  await columnMenu('operation', 'Split the timeline by this P');
  await page.waitForFunction(
    () =>
      document.querySelector<HTMLSelectElement>('[aria-label="Split the bars by"]')?.value === 'operation',
  );
  await columnMenu('user', 'Rename R');
  await fill(page, 'Name of user', 'Who');
  await page.keyboard.press('Enter');
  await stepsHold('user as Who');
  await page.waitForSelector('[aria-label="What to do with the column Who"]');
  await columnMenu('Who', 'Hide H');
  await stepsHold('hide Who');
  await page.waitForFunction(
    () => document.querySelector('[aria-label="What to do with the column Who"]') === null,
  );
});

test('a step is dragged by its number, and a value of it becomes a blank', async () => {
  await hunt("from signin\nwhere outcome = 'failure'\nsort user\nfirst 10");
  const boxes = await page.$$eval('.rung .cm-gutterElement', (all) =>
    all
      .filter((one) => /^\d+$/.test(one.textContent ?? '') && one.getBoundingClientRect().height > 0)
      .map((one) => ({ x: one.getBoundingClientRect().x + 20, y: one.getBoundingClientRect().y + 10 })),
  );
  const [third, second] = [boxes.at(-2), boxes.at(-3)];
  if (third === undefined || second === undefined) throw new Error('The steps have numbers.');
  await page.mouse.move(third.x, third.y);
  await page.mouse.down();
  await page.mouse.move(second.x, second.y, { steps: 4 });
  await page.mouse.up();
  await stepsHold("sort user\nwhere outcome = 'failure'");
  await page.locator('[aria-multiline=true] > * ::-p-text(failure)').click();
  await press(page, "make 'failure' a blank");
  await stepsHold("ask outcome 'Outcome' default 'failure'\nfrom signin");
  await page.waitForSelector('[aria-label="Blanks of this hunt"]');
  await page.locator('::-p-xpath(//button[starts-with(., "Run")])').click();
  await page.waitForFunction(() => document.querySelectorAll('[role=row][aria-rowindex]').length === 10);
});

test('places on a map, journeys between them, and a picture as a file', async () => {
  await hunt('from signin', '&view=map');
  await page.waitForSelector('[aria-label="Map"] circle');
  await sees(page, 'Stavik, Norway');
  await hunt('from signin\ntravel per user faster than 900', '&view=map');
  await page.waitForSelector('[aria-label="Map"] [aria-label^="from "]');
  // Marks of a drawing take the focus as everything else does.
  await page.$eval('[aria-label="Map"] [role=button]', (mark) => (mark as SVGElement).focus());
  await page.keyboard.press('Enter');
  await page.waitForSelector('[role=menu]');
  await page.keyboard.press('Escape');
  // What would be saved is put together here, since a browser under test saves nothing.
  const saved = await page.evaluate(
    () =>
      new Promise<{ name: string; start: string }>((done) => {
        HTMLAnchorElement.prototype.click = function (): void {
          done({ name: this.download, start: decodeURIComponent(this.href).slice(0, 60) });
        };
        [...document.querySelectorAll<HTMLButtonElement>('figcaption button')]
          .find((button) => button.textContent === 'SVG')
          ?.click();
      }),
  );
  expect(saved).toEqual({
    name: 'hunt-map.svg',
    start: expect.stringContaining('data:image/svg+xml;charset=utf-8,<svg'),
  });
});

test('shapes of texts and areas over time are drawn, and say what they show', async () => {
  await hunt('from process\nshapes of command_line', '&view=shapes');
  await page.waitForSelector('figure [role=button]');
  await sees(page, 'shapes of text, the rarest first');
  await hunt('from signin\ntally count() as n per outcome, every 12h', '&view=area');
  await page.waitForSelector('figure [aria-label="n over time"]');
  await sees(page, 'n by outcome, time');
});

test('the first hunt is guided from step to step', async () => {
  await page.goto(`${workbench.base}/hunt?last=24h&zone=UTC`);
  await press(page, 'First hunt');
  await sees(page, 'First hunt, 1 of 10');
  await page.locator('[title="Change the window"]').click();
  await page.locator('.dropdown-menu ::-p-text(Last 7 days)').click();
  await sees(page, 'First hunt, 2 of 10');
  await page.focus('[role=textbox][aria-multiline=true]');
  await page.keyboard.down('Control');
  await page.keyboard.press('a');
  await page.keyboard.up('Control');
  await page.keyboard.type('from network');
  await page.keyboard.down('Control');
  await page.keyboard.press('Enter');
  await page.keyboard.up('Control');
  await sees(page, 'First hunt, 3 of 10');
  await page.select('[aria-label="Split the bars by"]', 'dst_port');
  await sees(page, 'First hunt, 4 of 10');
  await page.locator('[title="dst_port: 53"]').click();
  await press(page, 'Keep only this K');
  await sees(page, 'First hunt, 5 of 10');
  await press(page, 'leave the guide');
  await page.waitForFunction(() => document.querySelector('aside[aria-label="First hunt"]') === null);
});

test('a hundred thousand rows scroll, and only those in sight exist', async () => {
  await hunt('from all');
  await page.waitForFunction(() => document.body.innerText.includes('5,000+ rows'));
  await page.locator('::-p-text(Up to 100,000)').click();
  await page.waitForFunction(
    () => Number(document.querySelector('[role=grid]')?.getAttribute('aria-rowcount') ?? 0) > 20_000,
  );
  const { rows, bottom } = await page.$eval('[role=grid]', (grid) => {
    grid.scrollTop = grid.scrollHeight;
    return { rows: document.querySelectorAll('[role=row][aria-rowindex]').length, bottom: grid.scrollTop };
  });
  expect(rows).toBeLessThan(100);
  expect(bottom).toBeGreaterThan(20_000 * 20);
  await page.waitForFunction(() => {
    const last = [...document.querySelectorAll('[role=row][aria-rowindex]')].at(-1);
    return Number(last?.getAttribute('aria-rowindex') ?? 0) > 20_000;
  });
});
