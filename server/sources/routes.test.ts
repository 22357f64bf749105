import { readFileSync } from 'node:fs';
import { HOUR } from '../../core/base/instant.js';
import type { Recipe } from '../../core/recipes/recipe-schema.js';
import type { Source } from '../../core/wire/sources.js';
import { gapsOf, lagWithin, longestSilence } from './health.js';
import { lagOfStep, lagStep } from '../derived/sql.js';
import { Caller, send, signInRecord, testServer, type TestServer } from '../tests/server.js';

let server: TestServer;
let admin: Caller;
let analyst: Caller;
beforeEach(async () => {
  server = await testServer();
  admin = await new Caller(server).signIn('admin');
  analyst = await new Caller(server).signIn('analyst');
});
afterEach(() => server.stop());

const noon = Date.parse('2026-11-14T12:00:00Z');
const record = (minutesAgo: number): string =>
  signInRecord({ at: new Date(noon - minutesAgo * 60_000).toISOString() });
const one = async (name: string): Promise<Source> => {
  const { json } = await analyst.call('GET', '/sources');
  return json.sources.find((source: Source) => source.name === name);
};

describe('how a source has been doing', () => {
  it('waits until the first record, then flows', async () => {
    expect(await one('harbour-id')).toMatchObject({
      state: 'waiting',
      lag: null,
      usualSeconds: null,
      silentSeconds: null,
      gaps: [],
      recipeVersion: 1,
      format: 'json',
    });
    await send(server, 'harbour-id', Array.from({ length: 30 }, (_, i) => record(i * 4)).join('\n'));
    const source = await one('harbour-id');
    expect(source).toMatchObject({ state: 'late', silentSeconds: 0, stored: 30 });
    expect(source.usualSeconds).toBe((3 * 3600) / 30);
    expect(source.lag?.median).toBeGreaterThan(2400);
    expect(source.lag?.most).toBeGreaterThan(source.lag?.median ?? Infinity);
  });

  it('flows when records come within minutes, and is quiet when silent for longer than ever', async () => {
    await send(server, 'harbour-id', Array.from({ length: 20 }, (_, i) => record(i / 4)).join('\n'));
    expect(await one('harbour-id')).toMatchObject({ state: 'flowing' });
    server.clock.now += 2 * HOUR;
    expect(await one('harbour-id')).toMatchObject({ state: 'quiet', silentSeconds: 7200 });
  });

  it('shows the stretches in which many events were to be expected and none came', async () => {
    // Two hours of events, and two more seven hours before; four whole hours between hold none.
    const minutes = [...Array(120).keys()].flatMap((i) => [i, i + 7 * 60]);
    await send(server, 'harbour-id', minutes.map((minute) => record(minute + 60)).join('\n'));
    const [gap, ...others] = (await one('harbour-id')).gaps;
    expect(gap).toEqual({ from: '2026-11-14T05:00:00Z', to: '2026-11-14T09:00:00Z' });
    expect(others).toEqual([]);
  });

  it('nights and weekends that are always silent are no gaps; silence at a usual hour is one', () => {
    const firstHour = Date.parse('2026-10-19T00:00:00Z') * 1000;
    // Four weeks from a Monday: 12 an hour from 7 to 18 on weekdays, one now and then at night.
    const perHour = Array.from({ length: 28 * 24 }, (_, hour) => {
      const [day, at] = [Math.floor(hour / 24) % 7, hour % 24];
      return day < 5 && at >= 7 && at < 18 ? 12 : at === 2 && day % 3 === 0 ? 1 : 0;
    });
    expect(gapsOf(perHour, firstHour)).toEqual([]);
    for (const hour of [9, 10, 11]) perHour[25 * 24 + hour - 24] = 0;
    expect(gapsOf(perHour, firstHour)).toEqual([
      { from: '2026-11-12T09:00:00Z', to: '2026-11-12T12:00:00Z' },
    ]);
  });

  it.each([
    [[], 0],
    [[0, 0, 1], 0],
    [[1, 0, 0, 1, 0, 1, 0, 0, 0], 2],
  ])('the longest silence of %j is %i hours', (perHour, hours) =>
    expect(longestSilence(perHour)).toBe(hours),
  );

  it('reckons a lag within a factor of the square root of two', () => {
    for (const seconds of [0, 0.5, 1, 2, 30, 3600, 5 * 3600, 9e6]) {
      const lag = seconds * 1_000_000;
      const reckoned = lagOfStep(lagStep(lag));
      expect(reckoned).toBeGreaterThanOrEqual(lag);
      if (seconds >= 1) expect(reckoned / lag).toBeLessThan(1.4143);
    }
    expect(lagWithin([], 0.5)).toBeNull();
    expect(
      lagWithin(
        [
          { step: 4, events: 10 },
          { step: 0, events: 90 },
        ],
        0.95,
      ),
    ).toBe(4);
  });
});

describe('changing a source', () => {
  it('changes what is given and leaves the rest', async () => {
    const change = { retentionDays: 90, syslog: { hosts: ['gate-*'], networks: ['10.0.0.0/8'] } };
    expect((await admin.call('PATCH', '/sources/dock-auth', change)).status).toBe(200);
    expect((await admin.call('PATCH', '/sources/dock-auth', { title: 'Docks' })).status).toBe(200);
    expect(await one('dock-auth')).toMatchObject({ title: 'Docks', ...change });
    await admin.call('PATCH', '/sources/dock-auth', { retentionDays: null, syslog: null });
    expect(await one('dock-auth')).toMatchObject({ title: 'Docks', retentionDays: null, syslog: null });
  });

  it.each<[object, number, string]>([
    [{ retentionDays: 0 }, 400, 'retentionDays'],
    [{ recipe: 'nobody' }, 422, 'There is no recipe "nobody"'],
    [{ syslog: { networks: ['10.0.0.300'] } }, 422, '"10.0.0.300" is no address or network'],
    [{}, 400, ''],
  ])('refuses %j', async (change, status, words) => {
    const answer = await admin.call('PATCH', '/sources/dock-auth', change);
    expect(answer.status).toBe(status);
    expect(answer.json.detail).toContain(words);
  });

  it('is for admins', async () => {
    expect((await analyst.call('PATCH', '/sources/dock-auth', { title: 'x' })).status).toBe(403);
    expect((await admin.call('PATCH', '/sources/nobody', { title: 'x' })).status).toBe(404);
  });
});

describe('records set aside', () => {
  const broken = [
    '{"eventId":"a"}',
    '{"eventId":"b","when":"2026-11-14T08:00:00Z","action":"session.start"}',
    'no json 1',
    'no json 2',
  ];
  const groups = async (): Promise<unknown[]> =>
    (await analyst.call('GET', '/sources/harbour-id/set-aside')).json.groups.map(
      (group: { group: string; records: number; examples: string[] }) => [
        group.group,
        group.records,
        group.examples,
      ],
    );
  beforeEach(() => send(server, 'harbour-id', broken.join('\n')));

  it('are grouped by their reason, with examples', async () => {
    expect(await groups()).toEqual([
      ['no-time no time in "at"', 2, [broken[1], broken[0]]],
      ['not-json not JSON', 2, ['no json 2', 'no json 1']],
    ]);
  });

  it('are read again by a recipe that has learned, and came in when they did', async () => {
    const recipe = JSON.parse(readFileSync('demo/recipes/harbour-id.json', 'utf8')) as Recipe;
    const better = { ...recipe, version: 2, time: { from: ['at', 'when'], as: 'iso' } };
    expect((await admin.call('PUT', '/recipes', better)).status).toBe(200);
    server.clock.now += HOUR;
    const retried = await analyst.call('POST', '/sources/harbour-id/set-aside/retry', {
      group: 'no-time no time in "at"',
    });
    expect(retried.json).toEqual({ tried: 2, stored: 1, known: 0, discarded: 0, setAside: 1 });
    const { rows } = await server.database.pool.query(
      `SELECT "time" AS time, received, recipe_version FROM events`,
    );
    expect(rows).toEqual([{ time: (noon - 4 * 3_600_000) * 1000, received: noon * 1000, recipe_version: 2 }]);
    expect(await groups()).toEqual([
      ['not-json not JSON', 2, ['no json 2', 'no json 1']],
      ['no-time no time in ["at","when"]', 1, [broken[0]]],
    ]);
    // Again changes nothing.
    expect((await analyst.call('POST', '/sources/harbour-id/set-aside/retry', {})).json).toMatchObject({
      tried: 3,
      setAside: 3,
    });
    expect((await groups()).length).toBe(2);
  });

  it('can be taken out as they came, and thrown away with a reason', async () => {
    const out = await analyst.fetch(
      'GET',
      `/sources/harbour-id/set-aside/export?${new URLSearchParams({ group: 'not-json not JSON' }).toString()}`,
    );
    expect(out.headers.get('content-disposition')).toContain('attachment');
    expect(await out.text()).toBe('no json 1\nno json 2\n');
    const discard = { group: 'not-json not JSON', because: 'a test of the sender' };
    expect((await analyst.call('POST', '/sources/harbour-id/set-aside/discard', discard)).status).toBe(403);
    expect((await admin.call('POST', '/sources/harbour-id/set-aside/discard', discard)).json).toEqual({
      discarded: 2,
    });
    expect((await admin.call('POST', '/sources/harbour-id/set-aside/discard', discard)).status).toBe(404);
    expect((await groups()).map((group) => (group as unknown[])[1])).toEqual([2]);
    const { rows } = await server.database.pool.query('SELECT records, because, by FROM discarded_aside');
    expect(rows).toEqual([{ records: 2, because: 'a test of the sender', by: 'admin' }]);
  });
});
