import fc from 'fast-check';
import { type IdentityFacts, identityOf, type SeenTogether, stretchesOf } from './identity.js';

const seen = (name: string, other: string, first: number, last = first): SeenTogether => ({
  name,
  other,
  first,
  last,
});
const facts = (more: Partial<IdentityFacts>): IdentityFacts => ({ seen: [], listed: [], said: [], ...more });
const valuesOf = (kind: 'user' | 'host', name: string, given: IdentityFacts): string[] =>
  identityOf(kind, name, given).names.map(({ value, from, to }) => `${value} ${from}-${to}`);

describe('names and ids of a user', () => {
  it('an id belongs to the name between their first and last sighting together', () => {
    expect(
      valuesOf('user', 'teo', facts({ seen: [seen('teo', 'u1', 5, 9), seen('teo', 'u1', 20)] })),
    ).toEqual(['u1 5-20']);
  });

  it('somebody who was renamed keeps the id, and is found by the former name while that was theirs', () => {
    const renamed = facts({ seen: [seen('teo.marash', 'u1', 1, 10), seen('teo.marrash', 'u1', 12, 30)] });
    expect(valuesOf('user', 'teo.marrash', renamed)).toEqual(['u1 12-30', 'teo.marash 1-10']);
    expect(valuesOf('user', 'teo.marash', renamed)).toEqual(['u1 1-10', 'teo.marrash 12-30']);
  });

  it('an id that was given to somebody else is told, not joined', () => {
    const reused = facts({
      seen: [seen('dov', 'u1', 1, 10), seen('kaja', 'u1', 20, 30), seen('dov', 'u2', 15, 40)],
    });
    const identity = identityOf('user', 'dov', reused);
    expect(identity.names.map(({ value }) => value)).toEqual(['u1', 'u2']);
    expect(identity.told).toEqual([{ value: 'kaja', why: 'moved', words: 'u1 was also seen with kaja' }]);
  });

  it('two names that use one id at once are told', () => {
    const both = facts({ seen: [seen('a', 'u1', 1, 10), seen('b', 'u1', 5, 15)] });
    expect(identityOf('user', 'a', both)).toMatchObject({ told: [{ value: 'b', why: 'shared' }] });
  });

  it('lists and people are taken at their word; a split goes before all', () => {
    const listed = [{ list: 'people', name: 'teo', also: [{ column: 'sid', value: 'S-1-5-21-1117' }] }];
    expect(identityOf('user', 'teo', facts({ listed })).names).toEqual([
      { value: 'S-1-5-21-1117', from: null, to: null, by: 'list', where: 'people, sid' },
    ]);
    // Asked by the id, the list gives the name.
    expect(valuesOf('user', 'S-1-5-21-1117', facts({ listed }))).toEqual(['teo null-null']);
    const split = { name: 'teo', other: 'S-1-5-21-1117', joined: false, reason: 'reused', by: 'ines' };
    expect(identityOf('user', 'teo', facts({ listed, said: [split] }))).toMatchObject({
      names: [],
      told: [{ value: 'S-1-5-21-1117', why: 'split', words: 'split off by ines: reused' }],
    });
    const joined = { name: 'teo.old', other: 'teo', joined: true, reason: 'same badge', by: 'ines' };
    expect(identityOf('user', 'teo', facts({ said: [joined] })).names).toEqual([
      { value: 'teo.old', from: null, to: null, by: 'person', where: 'ines: same badge' },
    ]);
  });
});

describe('addresses of a host', () => {
  it('an address that moved between hosts shows whose it was when', () => {
    const moved = facts({
      seen: [
        seen('quay-tk-01', '10.20.4.9', 1, 5),
        seen('quay-tk-02', '10.20.4.9', 6, 9),
        seen('quay-tk-01', '10.20.4.9', 10, 12),
      ],
    });
    expect(valuesOf('host', 'quay-tk-01', moved)).toEqual(['10.20.4.9 1-5', '10.20.4.9 10-12']);
    expect(valuesOf('host', 'quay-tk-02', moved)).toEqual(['10.20.4.9 6-9']);
    expect(identityOf('host', 'quay-tk-02', moved).told).toEqual([
      { value: 'quay-tk-01', why: 'moved', words: '10.20.4.9 was also seen with quay-tk-01' },
    ]);
  });

  it('property: a moment belongs to a host exactly where the last sighting before it and the next were of it', () => {
    // One sighting a moment, so that a plain walk over them can say whose the address was.
    const sightings = fc
      .array(fc.constantFrom('a', 'b', 'c'), { minLength: 1, maxLength: 30 })
      .map((owners) => owners.map((name, i) => seen(name, 'x', i * 2)));
    fc.assert(
      fc.property(
        sightings,
        fc.integer({ min: -1, max: 61 }),
        fc.constantFrom('a', 'b', 'c'),
        (all, at, name) => {
          const inside = identityOf('host', name, facts({ seen: all })).names.some(
            ({ from, to }) => from !== null && to !== null && from <= at && at <= to,
          );
          const before = all.filter(({ first }) => first <= at).at(-1);
          const next = all.find(({ first }) => first >= at);
          expect(inside).toBe(before?.name === name && next?.name === name);
        },
      ),
      { numRuns: 400 },
    );
  });

  it('property: stretches hold every sighting, and none more than was seen', () => {
    const any = fc.array(
      fc.record({
        name: fc.constantFrom('a', 'b'),
        first: fc.integer({ min: 0, max: 50 }),
        length: fc.integer({ min: 0, max: 10 }),
      }),
      { maxLength: 20 },
    );
    fc.assert(
      fc.property(any, (drawn) => {
        const all = drawn.map(({ name, first, length }) => seen(name, 'x', first, first + length));
        const stretches = stretchesOf(all);
        for (const one of all)
          expect(
            stretches.some(({ name, from, to }) => name === one.name && from <= one.first && to >= one.last),
          ).toBe(true);
        for (const { name, from, to } of stretches) {
          const own = all.filter((one) => one.name === name);
          expect(own.some(({ first }) => first === from)).toBe(true);
          expect(own.some(({ last }) => last === to)).toBe(true);
        }
      }),
    );
  });
});
