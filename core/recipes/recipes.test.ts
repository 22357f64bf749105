import { readFileSync } from 'node:fs';
import { formatInstant, parseInstant } from '../base/instant.js';
import { compileRecipe } from './apply.js';
import type { Recipe } from './recipe-schema.js';
import { parseYearless, readTime } from './record-time.js';

const shipped = (name: string): Recipe =>
  JSON.parse(readFileSync(`demo/recipes/${name}.json`, 'utf8')) as Recipe;
const received = parseInstant('2026-11-23T16:00:00Z') ?? 0;

describe('what a real sshd and sudo wrote', () => {
  const recipe = compileRecipe(shipped('dock-auth'));
  const lines = recipe.cut(readFileSync('demo/fixtures/dock-auth.log', 'utf8'));
  const drafts = lines.map((line) => {
    const outcome = recipe.apply(line, received);
    if (outcome.became !== 'event') throw new Error(`${outcome.became}: ${line}`);
    expect(outcome.unread).toEqual([]);
    return outcome.draft;
  });
  const count = (test: (draft: (typeof drafts)[number]) => boolean): number => drafts.filter(test).length;

  it('is all read, with its time in the year it came in', () => {
    expect(drafts).toHaveLength(76);
    expect(new Set(drafts.map((draft) => formatInstant(draft.time).slice(0, 10)))).toEqual(
      new Set(['2026-11-23']),
    );
    expect(new Set(drafts.map((draft) => draft.host))).toEqual(new Set(['hold-fs-01']));
  });

  it('tells sign-ins that failed from those that succeeded', () => {
    expect(count((draft) => draft.kind === 'signin' && draft.outcome === 'failure')).toBe(6);
    expect(count((draft) => draft.kind === 'signin' && draft.outcome === 'success')).toBe(3);
    expect(drafts.find((draft) => draft.reason === 'no such user' && draft.kind === 'signin')).toMatchObject({
      user: '0ttilie.brandt',
      src_ip: '10.20.4.61',
      src_port: 46104,
    });
    expect(drafts.find((draft) => draft.logon_type === 'public key')).toMatchObject({
      user: 'joris.penhale',
      outcome: 'success',
    });
    expect(count((draft) => draft.src_ip === '2001:db8:20::61' && draft.kind === 'signin')).toBe(1);
  });

  it('reads who acted as whom', () => {
    expect(
      drafts
        .filter((draft) => draft.kind === 'acting')
        .map(({ user, acting_as, outcome, command_line }) => [user, acting_as, outcome, command_line]),
    ).toEqual([
      ['joris.penhale', 'root', 'failure', '/usr/bin/id'],
      ['joris.penhale', 'root', 'success', '/usr/bin/id'],
      ['joris.penhale', 'marit.solheim', 'failure', '/usr/bin/ls /root'],
    ]);
  });

  it('keeps the fields and the record as they came', () => {
    expect(drafts.map((draft) => draft.raw)).toEqual(lines);
    expect(drafts[0]?.original).toMatchObject({ hostname: 'hold-fs-01', program: 'useradd' });
  });
});

describe('an identity provider', () => {
  const recipe = compileRecipe(shipped('harbour-id'));
  const record = {
    eventId: 'hi-1',
    at: '2026-11-14T07:58:09.250Z',
    action: 'factor.answer',
    result: { status: 'denied', why: 'factor_denied' },
    actor: { login: ' Teo.Marrash', id: 'u-1', type: 'person' },
    client: { address: '198.18.40.77', geo: { lat: 47.6, lon: '-52.8' } },
  };
  const apply = (change: object) => recipe.apply(JSON.stringify({ ...record, ...change }), received);

  it('maps, names values and normalises', () => {
    expect(apply({})).toMatchObject({
      became: 'event',
      identity: 'hi-1',
      draft: {
        kind: 'signin',
        operation: 'mfa.answer',
        outcome: 'failure',
        reason: 'second factor refused',
        user: 'teo.marrash',
        src_ip: '198.18.40.77',
        lat: 47.6,
        lon: -52.8,
      },
      unread: [],
    });
  });

  it('leaves what a column cannot hold to the original, and says so', () => {
    const outcome = apply({
      client: { address: 'not an address', geo: { lat: 'north' } },
      action: 'something.new',
      result: { status: 'odd' },
    });
    expect(outcome).toMatchObject({
      became: 'event',
      unread: ['src_ip', 'lat'],
      draft: { kind: 'system', operation: 'something.new', outcome: 'unknown' },
    });
    expect(outcome.became === 'event' && outcome.draft.src_ip).toBeUndefined();
  });

  it.each([
    [{ at: undefined }, 'no-time', 'no time in "at"'],
    [{ at: 'noon' }, 'no-time', 'noon'],
    [{ at: '0001-01-01T00:00:00Z' }, 'unbelievable-time', 'not between 1970 and 2200'],
    [{ at: '9999-01-01T00:00:00Z' }, 'unbelievable-time', 'not between 1970 and 2200'],
  ])('sets aside %j', (change, code, reason) => {
    expect(apply(change)).toEqual({ became: 'set-aside', code, reason: expect.stringContaining(reason) });
  });
});

describe('recipes in general', () => {
  const base: Recipe = {
    name: 'r',
    title: 'R',
    version: 1,
    format: 'json',
    time: { from: ['t', 'u'], as: 'epoch-seconds' },
  };
  const apply = (more: Partial<Recipe>, record: object) =>
    compileRecipe({ ...base, ...more }).apply(JSON.stringify(record), received);

  it('discard, tag, take the first of several fields, and name values', () => {
    expect(
      apply({ discard: [{ when: { level: ['debug', 7] }, because: 'noise' }] }, { level: 7, t: 1 }),
    ).toEqual({ became: 'discarded', because: 'noise' });
    expect(
      apply(
        {
          tags: [{ when: { a: true }, add: 'marked' }],
          map: {
            user: { from: ['x', 'y.z'] },
            reason: { from: 'code', values: { '5': 'five' }, otherwise: 'other' },
          },
        },
        { u: '1.5', a: true, x: '', y: { z: 'W' }, code: 5 },
      ),
    ).toMatchObject({
      became: 'event',
      draft: { time: 1_500_000, user: 'w', reason: 'five', tags: ['marked'] },
    });
  });

  it('refuse blanks that are no columns', () => {
    expect(() => compileRecipe({ ...base, messages: [{ in: 'm', read: 'from <sorce>' }] })).toThrow(
      'Did you mean "source"',
    );
  });

  it('read times without a year as the latest that does not lie ahead', () => {
    const at = (text: string, now: string): string | null => {
      const time = parseYearless(text, parseInstant(now) ?? 0);
      return time === null ? null : formatInstant(time);
    };
    expect(at('Dec 31 23:59:59', '2027-01-01T00:00:05Z')).toBe('2026-12-31T23:59:59Z');
    expect(at('Jan  1 00:00:02', '2026-12-31T23:59:59Z')).toBe('2027-01-01T00:00:02Z');
    expect(at('Feb 29 12:00:00', '2026-03-05T00:00:00Z')).toBeNull();
    expect(at('Nope 1 00:00:00', '2026-12-31T23:59:59Z')).toBeNull();
  });

  it('read times in every form', () => {
    expect(readTime(1731571392, 'epoch-seconds', { received: 0, zone: 'UTC', zones: new Map() })).toBe(
      1731571392_000_000,
    );
    expect(
      readTime('1731571392123', 'epoch-milliseconds', { received: 0, zone: 'UTC', zones: new Map() }),
    ).toBe(1731571392_123_000);
    expect(readTime({ a: 1 }, 'iso', { received: 0, zone: 'UTC', zones: new Map() })).toBeNull();
  });
});
