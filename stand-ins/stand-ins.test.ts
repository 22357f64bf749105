import { createServer, type Server } from 'node:http';
import { createServer as createListener, type AddressInfo, type Server as Listener } from 'node:net';
import { DAY, HOUR, MINUTE, SECOND } from '../core/base/instant.js';
import { scenes } from '../demo/scenes/index.js';
import { Random } from '../demo/random.js';
import { makeStandIns, type StandIns } from './app.js';
import { Feed } from './feed/feed.js';

const end = Date.parse('2026-11-14T12:00:00Z') * 1000;
const world = { seed: 7, end };
const clock = { now: end };
const now = (): number => clock.now;

/** The other side: takes what is pushed, or refuses. */
const got = new Map<string, string[]>();
let refuses = false;
let workbench: Server;
let listener: Listener;
let syslog = '';
let standIns: StandIns;
let pages: Server;
let base = '';

const listen = async (server: Server | Listener): Promise<number> => {
  await new Promise<void>((ready) => server.listen(0, '127.0.0.1', ready));
  return (server.address() as AddressInfo).port;
};

beforeAll(async () => {
  workbench = createServer((request, response) => {
    let body = '';
    request.on('data', (chunk: Buffer) => (body += chunk.toString()));
    request.on('end', () => {
      const source = request.url?.split('/').at(-1) ?? '';
      if (refuses || request.headers.authorization !== `Bearer key of ${source}`) {
        response.writeHead(503).end();
        return;
      }
      got.set(source, [...(got.get(source) ?? []), ...body.split('\n')]);
      response.end('{}');
    });
  });
  listener = createListener((socket) => {
    socket.unref();
    socket.on('data', (chunk) => (syslog += chunk.toString()));
  });
  const [port, syslogPort] = [await listen(workbench), await listen(listener)];
  const names = [
    'harbour-id',
    'booking-app',
    'cumulus',
    'cumulus-flow',
    'mast-os',
    'fw-brannoch',
    'web-edge',
    'keeper',
  ];
  standIns = makeStandIns(
    world,
    {
      server: `http://127.0.0.1:${port}`,
      keys: Object.fromEntries(names.map((name) => [name, `key of ${name}`])),
      syslog: { host: '127.0.0.1', port: syslogPort },
    },
    now,
  );
  pages = createServer(standIns.app);
  base = `http://127.0.0.1:${await listen(pages)}`;
});
afterAll(() => {
  for (const server of [workbench, pages]) {
    server.closeAllConnections();
    server.close();
  }
  listener.close();
});
beforeEach(() => {
  got.clear();
  syslog = '';
  refuses = false;
});

const count = (): number => [...got.values()].reduce((sum, lines) => sum + lines.length, 0);

it('the tide sends what has become due, in the way of each source, and leaves the feed its part', async () => {
  clock.now = end + 2 * HOUR;
  await standIns.round();
  expect(count()).toBeGreaterThan(300);
  expect(got.has('dock-auth')).toBe(false);
  const lines = got.get('booking-app') ?? [];
  expect(lines.some((line) => line.includes('"login"'))).toBe(true);
  expect(lines.some((line) => line.includes('"query"'))).toBe(false);
  // Messages with their length before them.
  expect(syslog).toMatch(/^\d+ <\d+>/);
  const [, length = '', rest = ''] = /^(\d+) (.*)$/s.exec(syslog) ?? [];
  expect(rest.slice(Number(length))).toMatch(/^(\d+ <|$)/);
});

it('what is refused is sent again, nothing twice', async () => {
  const before = count();
  refuses = true;
  clock.now += HOUR;
  await standIns.round();
  expect(count()).toBe(before);
  refuses = false;
  await standIns.round();
  const sent = count();
  expect(sent).toBeGreaterThan(0);
  const all = [...got.values()].flat();
  expect(new Set(all).size).toBe(all.length);
  await standIns.round();
  expect(count()).toBe(sent);
});

it('the feed gives everything once, page by page, hours late', () => {
  const at = { now: end + 30 * HOUR };
  const feed = new Feed(world, () => at.now);
  const seen: { id: string; ts: number }[] = [];
  let cursor: string | undefined;
  for (;;) {
    const { items, next } = feed.page(cursor);
    if (items.length === 0) break;
    seen.push(...(items as typeof seen));
    cursor = next;
  }
  expect(seen).toHaveLength(feed.held().length);
  expect(new Set(seen.map(({ id }) => id)).size).toBe(seen.length);
  expect(seen.length).toBeGreaterThan(500);
  expect(Math.max(...seen.map(({ ts }) => ts * 1000))).toBeLessThanOrEqual(at.now - 3 * HOUR);
  // Another stand-in of the same world goes on from the same cursor.
  at.now += DAY / 2;
  const again = new Feed(world, () => at.now).page(cursor);
  expect((again.items as typeof seen).some(({ id }) => seen.some((one) => one.id === id))).toBe(false);
  expect(again.items.length).toBeGreaterThan(0);
});

it('the directory tells everyone, and who has left', async () => {
  const people: { login: string; left_on: string | null; manager: string | null }[] = [];
  for (let cursor: string | null = ''; cursor !== null;) {
    const page = (await (await fetch(`${base}/directory/people?cursor=${cursor}`)).json()) as any;
    people.push(...page.people);
    cursor = page.next as string | null;
  }
  expect(people.length).toBeGreaterThan(130);
  expect(people.filter(({ left_on }) => left_on !== null)).toMatchObject([
    { login: 'dov.aster', left_on: '2026-11-02' },
  ]);
  const logins = new Set(people.map(({ login }) => login));
  expect(people.every(({ manager }) => manager === null || logins.has(manager))).toBe(true);
  const assets = await fetch(`${base}/directory/assets`);
  const mark = assets.headers.get('etag') ?? '';
  expect((await assets.json()) as unknown[]).toHaveLength(31);
  expect(
    (
      await fetch(`${base}/directory/assets`, {
        headers: { 'If-None-Match': mark, 'Cache-Control': 'max-age=0' },
      })
    ).status,
  ).toBe(304);
});

it('a scene is played as its time comes, once at a time', async () => {
  await standIns.round();
  got.clear();
  const play = () => fetch(`${base}/scenes/travel/play`, { method: 'POST', redirect: 'manual' });
  expect((await play()).status).toBe(303);
  await play();
  await standIns.round();
  expect(got.get('harbour-id')?.filter((line) => line.includes('runa.keel'))).toHaveLength(1);
  expect(await (await fetch(base)).text()).toContain('playing: 1 of 2 records sent');
  clock.now += 10 * SECOND;
  await standIns.round();
  const both = (got.get('harbour-id') ?? [])
    .filter((line) => line.includes('runa.keel'))
    .map((line) => JSON.parse(line));
  expect(both).toHaveLength(2);
  expect(Date.parse(both[1].at) - Date.parse(both[0].at)).toBeGreaterThan(15 * 60_000);
  expect(both[0].client.geo.city).not.toBe(both[1].client.geo.city);
  expect(await (await fetch(base)).text()).toMatch(/played at \d\d:\d\d:\d\d UTC, 2 records/);
});

it.each(scenes.map((scene) => [scene.name, scene] as const))(
  'the scene %s is over in a few minutes, in order',
  (_name, scene) => {
    const records = scene.play(new Random('test'), end);
    expect(records.length).toBeGreaterThan(1);
    const received = records.map((record) => record.received);
    expect(received).toEqual([...received].sort((a, b) => a - b));
    expect(Math.min(...received)).toBeGreaterThanOrEqual(end);
    expect(Math.max(...received)).toBeLessThan(end + 5 * MINUTE);
    expect(new Set(records.map(({ identity }) => identity)).size).toBe(records.length);
  },
);

it('pages bring their letters and their icon along', async () => {
  const page = await (await fetch(base)).text();
  const wanted = Array.from(
    page.matchAll(/(?:url\('|href=")(\/(?:fonts\/|mark)[^'"]+)/g),
    ([, path]) => path,
  );
  expect(wanted).toHaveLength(4);
  for (const path of wanted) {
    const answer = await fetch(base + (path ?? ''));
    expect([answer.status, answer.headers.get('content-type')]).toEqual([
      200,
      expect.stringMatching(/^(font\/woff2|image\/svg\+xml)/),
    ]);
  }
});
