import { once } from 'node:events';
import { createServer } from 'node:http';
import type { AddressInfo } from 'node:net';
import type { Browser, Page } from 'puppeteer-core';
import { signedInCall } from './support/api.js';
import { choose, press, sees, signedInPage } from './support/browser.js';
import { makeNightCrossing } from './support/night-crossing.js';
import { openForTests } from './support/opened.js';
import type { Workbench } from './support/workbench.js';

let page: Page;
let browser: Browser;
let workbench: Workbench;
openForTests(5, (opened) => {
  ({ page, browser, workbench } = opened);
});

const key = (name: Parameters<Page['keyboard']['press']>[0]): Promise<void> => page.keyboard.press(name);

test('from an alert to a closed case by keyboard alone', async () => {
  await page.goto(`${workbench.base}/alerts?find=Desk+taken+over&last=7d`);
  await sees(page, 'quay-tk-07');
  await key('c');
  await sees(page, 'Into a case');
  await page.focus('::-p-aria([name="Title of a new case"][role="textbox"])');
  await key('Enter');
  await sees(page, 'Pinned to');
  await key('Escape');
  await page.waitForFunction(() => document.querySelector('[role=dialog]') === null);
  // To the cases and into the one that is lit.
  await key('g');
  await key('c');
  await sees(page, 'Desk taken over: quay-tk-07');
  await page.waitForSelector('[aria-label="Story"]');
  await key('Enter');
  await page.waitForSelector('[aria-label="State of the case"] dd');
  await sees(page, 'As it was when it was pinned');
  await key('m');
  await page.waitForSelector('[aria-label="Story"] li ::-p-text(key)');
  await key('n');
  await page.keyboard.type('The desk was taken over from outside.');
  await sees(page, 'kept as you write');
  await page.keyboard.down('Control');
  await key('Enter');
  await page.keyboard.up('Control');
  await page.waitForSelector('[aria-label="Notes so far"] li');
  await key('Escape');
  await key('t');
  await page.waitForFunction(
    () =>
      (document.activeElement as HTMLInputElement | null)?.labels?.[0]?.textContent === 'What is to be done',
  );
  await page.keyboard.type('Rebuild the desk');
  await key('Enter');
  await sees(page, 'Rebuild the desk');
  await page.evaluate(() => (document.activeElement as HTMLElement | null)?.blur());
  await key('v');
  await sees(page, 'Settle its alert alike');
  await page.focus('::-p-aria([name="real"][role="radio"])');
  await key('Space');
  await key('Enter');
  await sees(page, 'closed since');
  await sees(page, 'Open it again');
  const call = await signedInCall(workbench.base);
  const settled = await call('GET', '/alerts?state=settled&verdict=real&find=Desk%20taken');
  expect(((await settled.json()) as { alerts: object[] }).alerts).toHaveLength(1);
});

test('a response is tried on the past, approved by another person, and seen to be carried out', async () => {
  const asked: { path: string; body: { id: string; address: string } }[] = [];
  const wall = createServer((request, response) => {
    let body = '';
    request.on('data', (piece) => (body += String(piece)));
    request.on('end', () => {
      asked.push({ path: request.url ?? '', body: JSON.parse(body) as { id: string; address: string } });
      response.end('{}');
    });
  });
  wall.listen(0, '127.0.0.1');
  await once(wall, 'listening');
  const call = await signedInCall(workbench.base);
  await call('PUT', '/destinations/wall', {
    kind: 'firewall',
    address: `http://127.0.0.1:${(wall.address() as AddressInfo).port}`,
    allowPrivate: true,
  });
  const { page: other } = await signedInPage(browser, workbench.base, 'joris.penhale');
  try {
    await page.goto(`${workbench.base}/alerts?find=Data+leaves&last=7d`);
    await press(page, 'Drop everything to and from the address');
    await sees(page, 'all on the day of this alert');
    await sees(page, 'The exact request');
    await press(page, 'Block this flow: 10.30.0.10 > 203.0.113.77 port 53/udp');
    await sees(page, '"port": "53"');
    await press(page, 'Ask for it');
    await sees(page, 'asked for by ottilie.brandt');
    await other.goto(`${workbench.base}/alerts?find=Data+leaves&last=7d`);
    await press(other, 'Approve');
    await sees(page, 'done, joris.penhale, until');
    expect(asked[0]).toMatchObject({ path: '/rules', body: { source: '10.30.0.10', port: '53' } });
    await press(page, 'Let it through again');
    await sees(page, 'undone');
    expect(asked[1]?.path).toBe(`/rules/${asked[0]?.body.id}/end`);
  } finally {
    await other.browserContext().close();
    wall.closeAllConnections();
    wall.close();
  }
});

test('a runbook is tried, started on an alert, answered by key, approved by another, and comes to its end', async () => {
  const call = await signedInCall(workbench.base);
  const directory = createServer((_request, response) => response.end('{}'));
  directory.listen(0, '127.0.0.1');
  await once(directory, 'listening');
  await call('PUT', '/destinations/people', {
    kind: 'identity',
    address: `http://127.0.0.1:${(directory.address() as AddressInfo).port}`,
    allowPrivate: true,
  });
  const steps = [
    {
      id: 'ask',
      title: 'Was it ordered?',
      do: 'ask',
      question: 'Did {user} mean it?',
      answers: [{ says: 'Yes', go: 'end' }, { says: 'No' }],
    },
    { id: 'end-sessions', title: 'End them', do: 'respond', response: 'revoke-sessions' },
    { id: 'say', title: 'Say so', do: 'message', text: 'Seen to: {user}' },
  ];
  await call('PUT', '/runbooks/ask-first', { text: JSON.stringify({ title: 'Ask first', steps }) });
  const { page: other } = await signedInPage(browser, workbench.base, 'joris.penhale');
  try {
    await page.goto(`${workbench.base}/alerts?find=Second+factor+given&last=7d`);
    await press(page, 'Start one');
    await choose(page, 'Runbook', 'ask-first');
    await press(page, 'Try it first: nothing is sent');
    await sees(page, 'would ask for: Revoke all sessions of teo.marrash');
    await page.goBack();
    await press(page, 'Start one');
    await choose(page, 'Runbook', 'ask-first');
    await press(page, 'Start it');
    await sees(page, 'Did teo.marrash mean it?');
    await sees(page, 'asks: Was it ordered?');
    await key('2');
    await sees(page, 'Another person approves it');
    await other.goto(`${workbench.base}/alerts?find=Second+factor+given&last=7d`);
    await press(other, 'Approve');
    await sees(page, 'came to its end');
    await sees(page, 'Seen to: teo.marrash');
    await page.goto(`${workbench.base}/runbooks`);
    await sees(page, 'came to its end');
  } finally {
    await other.browserContext().close();
    directory.closeAllConnections();
    directory.close();
  }
});

test('the report of the story: a page of paper, four sheets of it, with nothing that runs', async () => {
  const call = await signedInCall(workbench.base);
  const made = await makeNightCrossing(call);
  expect(made.pinned.length).toBeGreaterThanOrEqual(10);
  const { page: report } = await signedInPage(browser, workbench.base);
  await report.goto(`${workbench.base}/api/v1/cases/${made.id}/report?form=html`);
  await sees(report, 'Somebody else was Teo Marrash for an hour');
  await sees(report, 'TLP:AMBER');
  expect(await report.$$eval('script, img, link, iframe', (found) => found.length)).toBe(0);
  // A sheet is an object of the type Page (ISO 32000-1, 7.7.3.3).
  const pdf = Buffer.from(await report.pdf({ preferCSSPageSize: true })).toString('latin1');
  expect(pdf.match(/\/Type\s*\/Page\b/g)?.length).toBeLessThanOrEqual(4);
  await report.browserContext().close();
});

test('two people write a note at once: each sees that the other writes, and neither loses a word', async () => {
  const call = await signedInCall(workbench.base);
  const { id } = (await (await call('POST', '/cases', { title: 'Written by two' })).json()) as { id: number };
  const { page: other } = await signedInPage(browser, workbench.base, 'joris.penhale');
  for (const one of [page, other]) {
    await one.goto(`${workbench.base}/cases/${id}`);
    await one.waitForSelector('[aria-label="A note on the case"]');
  }
  await page.type('[aria-label="A note on the case"]', 'I asked him');
  await sees(other, 'ottilie.brandt is writing');
  await other.type('[aria-label="A note on the case"]', 'He was at sea');
  await sees(page, 'joris.penhale is writing');
  await press(page, 'Keep the note Ctrl Enter');
  await sees(other, 'I asked him');
  expect(
    await other.$eval('[aria-label="A note on the case"]', (field) => (field as HTMLTextAreaElement).value),
  ).toBe('He was at sea');
  // A page that is loaded again brings the draft back.
  await sees(other, 'kept as you write');
  await other.reload();
  await other.waitForSelector('[aria-label="A note on the case"]');
  expect(
    await other.$eval('[aria-label="A note on the case"]', (field) => (field as HTMLTextAreaElement).value),
  ).toBe('He was at sea');
  await other.browserContext().close();
});
