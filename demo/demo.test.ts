import { readFileSync } from 'node:fs';
import { formatInstant, HOUR, MINUTE, parseInstant, SECOND } from '../core/base/instant.js';
import { compileRecipe } from '../core/recipes/apply.js';
import type { Recipe } from '../core/recipes/recipe-schema.js';
import { crossingMorning, demoSources, generateDemo, generateTide } from './generate/index.js';
import { BEACON_ADDRESS, EXPORTED } from './generate/night-crossing-inside.js';
import type { DemoRecord, Happening } from './generate/record.js';
import { truthOf } from './truth.js';
import { people } from './world/people.js';

const end = parseInstant('2026-11-14T15:00:00Z') ?? 0;
const records = generateDemo({ seed: 7, end, days: 30 });

it('is the same for the same seed and end, and another for another', () => {
  const of = (seed: number): string[] => generateDemo({ seed, end, days: 2 }).map(({ raw }) => raw);
  const first = of(7);
  expect(of(7).join('\n')).toBe(first.join('\n'));
  expect(of(8)[0]).not.toBe(first[0]);
});

it('comes in by time and never from after the end', () => {
  expect(records.findIndex(({ received }, i) => received < (records[i - 1]?.received ?? 0))).toBe(-1);
  expect(records.filter(({ time, received }) => time >= end || received > end)).toEqual([]);
});

/** Two recipes tell why a field is what it is only by lists; the rest stands in the record. */
const readBy = new Map(
  demoSources.map(([name]) => [
    name as string,
    compileRecipe(JSON.parse(readFileSync(`demo/recipes/${name}.json`, 'utf8')) as Recipe),
  ]),
);
const draftOf = (record: DemoRecord) => {
  const outcome = readBy.get(record.source)?.apply(record.raw, record.received);
  if (outcome?.became !== 'event') throw new Error(`${outcome?.became}: ${record.raw}`);
  return outcome.draft;
};
const of = (happening: Happening): DemoRecord[] =>
  records.filter((record) => record.happening === happening).sort((a, b) => a.time - b.time);

/** Asking to act as another is written down before it is known how it ended. */
const SAYS_NO_OUTCOME = /<EventID>4648</;

it.each(demoSources.map(([name]) => name))(
  'every record of %s is read by its recipe, into the time it happened',
  (name) => {
    const own = records.filter(({ source }) => source === name);
    expect(own.length).toBeGreaterThan(100);
    // Every tenth of the many, and all that has a part in the story.
    const looked = own.filter(({ happening }, i) => happening !== undefined || i % 10 === 0);
    const wrong = looked.filter((record) => {
      const outcome = readBy.get(name)?.apply(record.raw, record.received);
      return (
        outcome?.became !== 'event' ||
        outcome.unread.length > 0 ||
        outcome.identity !== record.identity ||
        (outcome.draft.outcome === 'unknown' && !SAYS_NO_OUTCOME.test(record.raw)) ||
        Math.abs(outcome.draft.time - record.time) >= 1000
      );
    });
    expect(wrong.map(({ raw }) => raw)).toEqual([]);
  },
);

it('holds about 300,000 records, some of them hours late', () => {
  expect(records.length).toBeGreaterThan(280_000);
  expect(records.length).toBeLessThan(350_000);
  const late = records.filter(({ time, received }) => received - time > 3 * HOUR - SECOND);
  expect(new Set(late.map(({ source }) => source))).toEqual(new Set(['booking-app']));
  expect(late.length).toBeGreaterThan(15_000);
});

it('tells the story: a slow spray, a streak, refused second factors, a second place', () => {
  const morning = crossingMorning(end);
  const spray = of('spray');
  expect(new Set(spray.map((record) => formatInstant(record.time).slice(0, 10)))).toEqual(
    new Set(['2026-11-12', '2026-11-13', '2026-11-14']),
  );
  expect(spray.length).toBeGreaterThan(3 * people.length);
  expect(
    of('streak').every((record) => record.raw.includes('"teo.marrash"') && record.raw.includes('bad_secret')),
  ).toBe(true);
  expect(of('factor-fatigue').filter((record) => record.raw.includes('factor_denied'))).toHaveLength(7);
  const [own, stranger] = of('second-sign-in');
  expect([own?.raw.includes('"Stavik"'), stranger?.raw.includes('"Pell Harbour"')]).toEqual([true, true]);
  expect(((stranger?.time ?? 0) - (own?.time ?? 0)) / 60_000_000).toBe(20);
  expect(own?.time).toBeGreaterThan(morning);
});

it('names the events of each happening by the ids they will have', () => {
  const truth = truthOf(records);
  expect(truth.streak).toHaveLength(31);
  expect(new Set(Object.values(truth).flat()).size).toBe(Object.values(truth).flat().length);
});

it('the tide goes on where the world ends, without a gap and without repeating', () => {
  const later = end + 30 * HOUR;
  const tide = generateTide({ seed: 7, end }, end, later);
  expect(tide.length).toBeGreaterThan(500);
  expect(tide.every((record) => record.received > end && record.received <= later)).toBe(true);
  const known = new Set(records.map((record) => record.identity));
  expect(tide.filter((record) => known.has(record.identity))).toEqual([]);
  const halves = [
    ...generateTide({ seed: 7, end }, end, end + 9 * HOUR),
    ...generateTide({ seed: 7, end }, end + 9 * HOUR, later),
  ];
  expect(halves.map((record) => record.identity).sort()).toEqual(
    tide.map((record) => record.identity).sort(),
  );
});

describe('Night Crossing in every source', () => {
  const entered = Math.max(...of('second-sign-in').map(({ time }) => time));

  it('acts as the harbour master and exports far more than anyone reads', () => {
    const exported = of('large-export').map(draftOf);
    expect(exported.map(({ user, acting_as, records: rows }) => [user, acting_as, rows])).toEqual([
      ['teo.marrash', 'ottilie.brandt', EXPORTED],
      ['teo.marrash', 'ottilie.brandt', EXPORTED],
    ]);
    const usual = records.filter(
      ({ source, happening }) => source === 'booking-app' && happening === undefined,
    );
    expect(Math.max(...usual.slice(0, 2000).map((record) => draftOf(record).records ?? 0))).toBeLessThan(500);
  });

  it('hides one change of a key in two busy minutes', () => {
    const [change] = of('key-change');
    const at = change?.time ?? 0;
    expect(draftOf(change as DemoRecord)).toMatchObject({
      operation: 'key.update',
      user: 'ottilie.brandt',
      target_user: 'svc-fares',
      changes: [{ field: 'status', before: 'inactive', after: 'active' }],
    });
    const around = records.filter(({ source, time }) => source === 'cumulus' && Math.abs(time - at) < MINUTE);
    expect(around.length).toBeGreaterThan(50);
    expect(records.filter(({ raw }) => raw.includes('update-access-key'))).toHaveLength(1);
  });

  it('makes a look-alike an owner, and is refused before it reads', () => {
    expect(
      of('look-alike').map((record) => [draftOf(record).operation, draftOf(record).target_user]),
    ).toEqual([
      ['account.create', '0ttilie.brandt'],
      ['role.grant', '0ttilie.brandt'],
    ]);
    expect([...new Set(of('storage-burst').map((record) => draftOf(record).reason ?? 'read'))]).toEqual([
      'invalid key',
      'access denied',
      'read',
    ]);
  });

  it('takes the desk over step by step, ending with the log cleared', () => {
    expect([...of('desk-takeover'), ...of('log-cleared')].map((record) => draftOf(record).operation)).toEqual(
      [
        'session.start',
        'process.start',
        'acting.start',
        'process.start',
        'service.install',
        'group.add',
        'software.install',
        'finding',
        'log.cleared',
      ],
    );
    expect(
      of('desk-takeover')
        .map((record) => draftOf(record).elevation)
        .filter(Boolean),
    ).toEqual(['limited', 'full']);
    expect(new Set(of('log-cleared').map((record) => draftOf(record).host))).toEqual(new Set(['quay-tk-07']));
  });

  it('sends two hundred times the usual to an address seen never before', () => {
    const beacon = of('beacon').map(draftOf);
    expect(
      new Set(beacon.map(({ dst_ip, dst_port, protocol }) => `${dst_ip} ${dst_port} ${protocol}`)),
    ).toEqual(new Set([`${BEACON_ADDRESS} 53 udp`]));
    expect(
      records.filter(({ raw, happening }) => happening !== 'beacon' && raw.includes(BEACON_ADDRESS)),
    ).toEqual([]);
    const names = records
      .filter(({ source, happening }) => source === 'cumulus-flow' && happening === undefined)
      .map(draftOf)
      .filter(({ dst_port }) => dst_port === 53);
    const usual = names.reduce((sum, { bytes_out }) => sum + (bytes_out ?? 0), 0) / names.length;
    expect((beacon[0]?.bytes_out ?? 0) / usual).toBeGreaterThan(200);
  });

  it('deletes what holds the database, and then the database', () => {
    expect(
      of('database-deleted').map((record) => [draftOf(record).resource_type, draftOf(record).outcome]),
    ).toEqual([
      ['network', 'failure'],
      ['network port', 'success'],
      ['network', 'success'],
      ['database', 'success'],
    ]);
    expect(Math.min(...of('database-deleted').map(({ time }) => time))).toBeGreaterThan(entered);
  });
});

describe('side stories', () => {
  it('lets one attack through at one gate only', () => {
    expect(
      new Set(of('gate-allows').map((record) => `${draftOf(record).host} ${draftOf(record).finding}`)),
    ).toEqual(new Set(['gate-04 path-traversal']));
    const others = records.filter(
      ({ source, raw, happening }) =>
        source === 'web-edge' && raw.includes(' attack=') && happening === undefined,
    );
    expect(new Set(others.map((record) => draftOf(record).outcome))).toEqual(new Set(['blocked']));
  });

  it('keeps the firewall at Brannoch silent for five hours', () => {
    const times = records
      .filter(({ source }) => source === 'fw-brannoch')
      .map(({ time }) => time)
      .sort((a, b) => a - b);
    const gaps = times.slice(1).map((time, i) => time - (times[i] ?? 0));
    const longest = gaps.sort((a, b) => b - a);
    expect((longest[0] ?? 0) / HOUR).toBeGreaterThan(4.9);
    expect((longest[1] ?? 0) / HOUR).toBeLessThan(3);
  });

  it('makes the honest noise that rules have to live with', () => {
    expect(of('backup-noise').length).toBeGreaterThan(30 * 40 * 2);
    expect(of('balancer-noise').length).toBeGreaterThan(28 * 1440);
    expect(new Set(of('scan-noise').map(({ time }) => new Date(time / 1000).getUTCDay()))).toEqual(
      new Set([2]),
    );
    expect(new Set(of('run-as-noise').map((record) => draftOf(record).user))).toEqual(
      new Set(['joris.penhale', 'adm-penhale']),
    );
    expect(
      new Set(of('sandbox-noise').map((record) => `${draftOf(record).user} ${draftOf(record).account}`)),
    ).toEqual(new Set(['ines.vaal sandbox']));
  });
});
