import type { Page } from 'puppeteer-core';
import { press, sees } from './support/browser.js';
import { openForTests } from './support/opened.js';
import type { Workbench } from './support/workbench.js';

let workbench: Workbench;
let page: Page;
// Long enough for people to have settled what came up.
openForTests(16, (opened) => {
  ({ workbench, page } = opened);
});

interface Ranked {
  readonly id: string;
  readonly title: string;
  readonly alerts: number;
}
const api = <T>(method: string, path: string, body?: unknown): Promise<T> =>
  page.evaluate(
    async (how, where, sent) => {
      const response = await fetch(`/api/v1${where}`, {
        method: how,
        headers: { 'Content-Type': 'application/json' },
        ...(sent !== undefined && { body: JSON.stringify(sent) }),
      });
      const lines = (await response.text()).trim().split('\n');
      return JSON.parse(lines.at(-1) ?? 'null') as unknown;
    },
    method,
    path,
    body,
  ) as Promise<T>;
const window = () => {
  const to = Math.ceil(Date.now() / 3_600_000) * 3_600_000;
  return { from: new Date(to - 30 * 86_400_000).toISOString(), to: new Date(to).toISOString() };
};

const KEEP = '::-p-xpath(//button[starts-with(., "Keep as version")][not(@disabled)])';

/** The noise of the demo, by the rule that tells it and what it is known by. */
const NOISE = [
  ['Many ports tried on one host', 'scan-02'],
  ['Many hosts tried on one port', 'scan-02'],
  ['Check against booking fails', 'lb-check'],
  ['Many failed sign-ins of one user', 'lb-check'],
  ['A script was run', 'inventory'],
  ['Acting as an administrator', 'penhale'],
  ['Storage deleted', 'scratch|sandbox|ines.vaal'],
] as const;
/** Those that are cut by hand: one that counts, and two that do not. */
const BY_HAND = ['A script was run', 'Acting as an administrator', 'Storage deleted'];

test('the noise of the demo is found, cut with proof and kept; the story still alerts', async () => {
  await page.goto(`${workbench.base}/tuning?last=7d&zone=UTC`);
  await page.waitForSelector('[aria-label="Rules, most work first"] [aria-current=true]');
  const { from, to } = window();
  const { rules } = await api<{ rules: readonly Ranked[] }>('GET', `/tuning?from=${from}&to=${to}`);
  let before = 0;
  let after = 0;
  for (const [title, known] of NOISE) {
    const id = rules.find((rule) => rule.title === title)?.id ?? title;
    if (BY_HAND.includes(title)) {
      await page.goto(`${workbench.base}/tuning/${id}?last=7d&zone=UTC`);
      await page.waitForSelector('[aria-label^="Leave out: "]');
      const first = await page.$eval(
        '[aria-label^="Leave out: "]',
        (box) => box.getAttribute('aria-label') ?? '',
      );
      expect([title, new RegExp(known, 'i').test(first)]).toEqual([title, true]);
      await page.locator('[aria-label^="Leave out: "]').click();
      await sees(page, 'Replay with the one ticked');
      await page.waitForSelector(KEEP);
      await page.locator(KEEP).click();
      await press(page, 'Keep');
      await sees(page, 'Version 2 is on');
    } else {
      const study = await api<{ proposals: readonly { words: string; all: unknown }[] }>(
        'POST',
        `/tuning/${id}/study`,
        {
          window: { from, to },
        },
      );
      const [best] = study.proposals;
      expect([title, best?.words]).toEqual([title, expect.stringMatching(new RegExp(known, 'i'))]);
      const proof = await api<{
        before: { alerts: number };
        after: { alerts: number };
        realLost: readonly unknown[];
      }>('POST', `/tuning/${id}/proof`, { window: { from, to }, cuts: [{ all: best?.all }] });
      expect([title, proof.realLost]).toEqual([title, []]);
      before += proof.before.alerts;
      after += proof.after.alerts;
    }
  }
  // What these rules say is cut by more than seven tenths, and what is left of them is the story's.
  expect(before).toBeGreaterThan(50);
  expect(after / before).toBeLessThan(0.3);
  const { alerts } = await api<{ alerts: readonly { title: string; subject: string }[] }>(
    'GET',
    '/alerts?state=open&limit=200',
  );
  for (const title of [
    'Second factor given after refusals',
    'Large export of records',
    'Access key changed in a cloud account',
    'User created and made owner',
    'Security log cleared',
    'Data leaves by the port of names',
    'Database deleted',
  ])
    expect(alerts.map((alert) => alert.title)).toContain(title);
});

test('what was kept says what was expected of it, and can be undone', async () => {
  await page.goto(`${workbench.base}/tuning?last=7d&zone=UTC`);
  await page.locator('[aria-label="Rules, most work first"] ::-p-text(Storage deleted)').click();
  await sees(page, 'Kept with a proof');
  await sees(page, 'how it does is told after a week');
  await page.keyboard.press('s');
  await sees(page, 'most rules first');
  await press(page, 'Never matched');
  await page.waitForSelector('[aria-label="Rules that never matched"] li');
});

test('an alert that is settled as harmless leads to the cut with its values chosen', async () => {
  const { alerts } = await api<{ alerts: readonly { id: number; title: string }[] }>(
    'GET',
    '/alerts?state=settled&verdict=harmless&limit=200',
  );
  const one = alerts.find(({ title }) => title === 'Blocked between zones again and again') ?? alerts[0];
  await page.goto(`${workbench.base}/alerts/${one?.id}?state=settled&last=30d&zone=UTC`);
  await page.locator('::-p-aria(Tune this away)').click();
  await page.waitForSelector('[aria-label^="Leave out: "]:checked');
  await sees(page, 'Replay with the one ticked');
});
