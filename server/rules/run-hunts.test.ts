import { formatInstant, HOUR, MINUTE, parseInstant, type Instant } from '../../core/base/instant.js';
import {
  addRule,
  Caller,
  send,
  signInRecord,
  TEST_TIME,
  testServer,
  type TestServer,
} from '../tests/server.js';
import { HuntRunner } from '../hunts/runner.js';
import { onePool } from '../db/pools.js';
import { runDueHunts } from './run-hunts.js';
import { lastDue, nextDue } from './schedule.js';

let server: TestServer;
let analyst: Caller;
beforeEach(async () => {
  server = await testServer();
  analyst = await new Caller(server).signIn('analyst');
});
afterEach(() => server.stop());

const START = parseInstant('2026-11-14T08:00:00Z') ?? 0;
const at = (seconds: number): string => new Date(START / 1000 + seconds * 1000).toISOString();
const denied = (seconds: number, user = 'teo.marrash'): string =>
  signInRecord({ at: at(seconds), user, denied: 'bad_secret' });
const run = (now: Instant): Promise<number> =>
  runDueHunts(
    server.database.pool,
    new HuntRunner(onePool(server.database.pool)),
    () => now,
    new AbortController().signal,
  );
const alerts = async (): Promise<any[]> => (await analyst.call('GET', '/alerts?state=all')).json.alerts;
const runs = async (id: string): Promise<any[]> => (await analyst.call('GET', `/rules/${id}/runs`)).json.runs;

const hunt = (steps: string, lamp: string): string =>
  `title: A hunt\nlevel: medium\nhunt: |\n  ${steps.replaceAll('\n', '\n  ')}\nlamp: {${lamp}}\n`;
const perUser = "from signin\nwhere outcome = 'failure'\ntally count() as failures per user";

it('tells a row once, however many windows it lies in', async () => {
  const { id } = await addRule(
    analyst,
    hunt("from signin\nwhere outcome = 'failure'", 'every: 10m, over: 1h, tells: row'),
  );
  await run(START);
  await send(server, 'harbour-id', [denied(60), denied(90, 'ines.vaal')].join('\n'));
  for (const minutes of [10, 20, 30]) expect(await run(START + minutes * MINUTE)).toBe(1);
  expect((await alerts()).map(({ subject, matches }) => [subject, matches]).sort()).toEqual([
    ['ines.vaal', 1],
    ['teo.marrash', 1],
  ]);
  expect((await runs(id)).map(({ measured, told }) => [measured, told])).toEqual([
    [2, 0],
    [2, 0],
    [2, 2],
  ]);
});

it('a column, subjects, and a rise against the run before can be what counts', async () => {
  await addRule(analyst, hunt(perUser, 'every: 10m, trigger: {of: column, column: failures, gte: 3}'));
  await addRule(
    analyst,
    hunt(perUser, 'every: 10m, trigger: {of: subjects, gte: 2}').replace('A hunt', 'Two people'),
  );
  await addRule(
    analyst,
    hunt("from signin\nwhere outcome = 'failure'", 'every: 10m, trigger: {of: rows, rises: 50%}').replace(
      'A hunt',
      'A rise',
    ),
  );
  await run(START);
  await send(server, 'harbour-id', [0, 1, 2].map((seconds) => denied(seconds)).join('\n'));
  await run(START + 10 * MINUTE);
  await send(server, 'harbour-id', [0, 1, 2, 3].map((seconds) => denied(700 + seconds)).join('\n'));
  await run(START + 20 * MINUTE);
  expect((await alerts()).map(({ title, subject, matches }) => [title, subject, matches])).toEqual([
    ['A hunt', 'teo.marrash', 2],
  ]);
  await send(server, 'harbour-id', [0, 1, 2, 3, 4, 5].map((s) => denied(1300 + s, `user-${s}`)).join('\n'));
  await run(START + 30 * MINUTE);
  expect((await alerts()).map(({ title }) => title).sort()).toEqual(['A hunt', 'A rise', 'Two people']);
});

it('waits for late records, and makes up for runs that were missed', async () => {
  const { id } = await addRule(
    analyst,
    hunt(perUser, 'every: 10m, lateness: 1h, trigger: {of: rows, gte: 1}'),
  );
  await run(START);
  expect(await run(START + HOUR)).toBe(6);
  await send(server, 'harbour-id', denied(30));
  expect(await run(START + HOUR + 10 * MINUTE)).toBe(1);
  expect((await alerts()).map(({ firstEvent }) => firstEvent)).toHaveLength(1);
  expect((await runs(id))[0]).toMatchObject({ due: '2026-11-14T09:10:00Z', measured: 1, told: 1 });
});

it('a hunt that can no longer run says so, and the others go on', async () => {
  await analyst.call('PUT', '/lists/watched', { match: 'exact', key: 'user', rows: [] });
  const { id } = await addRule(analyst, hunt('from signin\nwhere user in list watched', 'every: 10m'));
  await addRule(analyst, hunt(perUser, 'every: 10m').replace('A hunt', 'Other'));
  await run(START);
  const admin = await new Caller(server).signIn('admin');
  expect((await admin.call('DELETE', '/lists/watched')).json).toEqual({});
  await send(server, 'harbour-id', denied(30));
  expect(await run(START + 10 * MINUTE)).toBe(2);
  expect((await runs(id))[0].failure).toContain('watched');
  expect((await alerts()).map(({ title }) => title)).toEqual(['Other']);
});

it('live, every event that it keeps is a match', async () => {
  await addRule(analyst, hunt("from signin\nwhere outcome = 'failure' and user like 'teo%'", 'live: true'));
  await send(server, 'harbour-id', [denied(0), denied(1), denied(2, 'ines.vaal')].join('\n'));
  expect((await alerts()).map(({ subject, matches }) => [subject, matches])).toEqual([['teo.marrash', 2]]);
});

it('a replay of a hunt runs it at each moment it would have', async () => {
  await send(server, 'harbour-id', [0, 1, 2, 3600, 7200].map((seconds) => denied(seconds)).join('\n'));
  const text = hunt(perUser, 'every: 1h, trigger: {of: column, column: failures, gte: 1}');
  const response = await analyst.fetch('POST', '/rules/replay', { text, window: TEST_TIME });
  const last = JSON.parse((await response.text()).trim().split('\n').at(-1) ?? '');
  expect(last).toMatchObject({ complete: true, matches: 3, alerts: 1, read: 72 });
});

it('a live hunt that reads fields out of a text is matched while events come, and replayed with the same', async () => {
  const text = hunt(
    "from signin\nread user matching '(?<first>[a-z]+)[.](?<rest>[a-z]+)'\nwhere first = 'teo' and outcome = 'failure'",
    'live: true',
  );
  await addRule(analyst, text);
  await send(server, 'harbour-id', [denied(0), denied(1), denied(2, 'ines.vaal')].join('\n'));
  expect((await alerts()).map(({ subject, matches }) => [subject, matches])).toEqual([['teo.marrash', 2]]);
  const response = await analyst.fetch('POST', '/rules/replay', { text, window: TEST_TIME });
  const last = JSON.parse((await response.text()).trim().split('\n').at(-1) ?? '');
  expect(last).toMatchObject({
    complete: true,
    matches: 2,
    subjects: [{ subject: 'teo.marrash', matches: 2 }],
  });
});

it('a replay of a hunt that rises compares its first run with the one before the window', async () => {
  await send(server, 'harbour-id', [-1800, 600, 1200, 1800].map((seconds) => denied(seconds)).join('\n'));
  const replay = async (trigger: string): Promise<any> => {
    const text = hunt("from signin\nwhere outcome = 'failure'", `every: 1h, trigger: ${trigger}`);
    const window = { from: at(0), to: at(7200) };
    const response = await analyst.fetch('POST', '/rules/replay', { text, window });
    return JSON.parse((await response.text()).trim().split('\n').at(-1) ?? '');
  };
  // One failure in the hour before, three in the first, none in the second.
  expect(await replay('{of: rows, rises: 2}')).toMatchObject({ matches: 1, read: 2 });
  expect(await replay('{of: rows, rises: 3}')).toMatchObject({ matches: 0, read: 2 });
  expect(await replay('{of: rows, falls: 100%}')).toMatchObject({ matches: 1 });
});

it('moments are the same for every server', () => {
  const every = { how: 'every', micros: 15 * MINUTE } as const;
  expect(nextDue(every, START + 1)).toBe(START + 15 * MINUTE);
  expect(nextDue(every, START)).toBe(START + 15 * MINUTE);
  const cron = { how: 'cron', expression: '30 6 * * 1', zone: 'UTC' } as const;
  expect(nextDue(cron, START)).toBe(parseInstant('2026-11-16T06:30:00Z'));
  expect(nextDue({ how: 'live' }, START)).toBeNull();
  expect(lastDue(every, START)).toBe(START);
  expect(lastDue(every, START - 1)).toBe(START - 15 * MINUTE);
  expect(lastDue(cron, START)).toBe(parseInstant('2026-11-09T06:30:00Z'));
  expect(lastDue(cron, parseInstant('2026-11-16T06:30:00Z') ?? 0)).toBe(parseInstant('2026-11-16T06:30:00Z'));
  expect(lastDue({ how: 'live' }, START)).toBeNull();
  expect(() => nextDue({ how: 'cron', expression: '99 * * * *', zone: 'UTC' }, START)).toThrow();
});

describe('by the clock of a zone that changes its own', () => {
  const at = (iso: string): number => parseInstant(iso) ?? 0;
  const moments = (expression: string, from: string, to: string): string[] => {
    const runs = { how: 'cron', expression, zone: 'Europe/Lisbon' } as const;
    const found: number[] = [];
    for (let due = nextDue(runs, at(from)); due !== null && due <= at(to); due = nextDue(runs, due)) {
      // Whoever asks at that moment when it last ran is told the same.
      expect(lastDue(runs, due)).toBe(due);
      expect(lastDue(runs, due + 1_000_000)).toBe(due);
      found.push(due);
    }
    return found.map((due) => formatInstant(due));
  };

  it('forward: a time that never comes is as much later, and comes once', () => {
    expect(moments('30 1 * * *', '2026-03-28T00:00:00Z', '2026-03-30T12:00:00Z')).toEqual([
      '2026-03-28T01:30:00Z',
      '2026-03-29T01:30:00Z',
      '2026-03-30T00:30:00Z',
    ]);
  });

  it('back: a time that comes twice is its first, and spans of minutes go on through both', () => {
    expect(moments('30 1 * * *', '2026-10-24T00:00:00Z', '2026-10-26T12:00:00Z')).toEqual([
      '2026-10-24T00:30:00Z',
      '2026-10-25T00:30:00Z',
      '2026-10-26T01:30:00Z',
    ]);
    expect(moments('*/30 * * * *', '2026-10-24T23:59:00Z', '2026-10-25T02:00:00Z')).toHaveLength(5);
    expect(moments('*/30 * * * *', '2026-03-29T00:01:00Z', '2026-03-29T02:00:00Z')).toHaveLength(4);
  });
});
