import { knownState } from './known-state.js';
import { neighboursOf, type SharedValue } from './neighbours.js';
import {
  clockOf,
  normalWords,
  type PastHour,
  type SubjectFigures,
  subjectSentence,
  usualOfLanes,
} from './subject-words.js';
import type { LedeWord } from './lede.js';

const read = (words: readonly LedeWord[]): string =>
  words.map((word) => (typeof word === 'string' ? word : word.name)).join('');

describe('one sentence of what is different', () => {
  const quiet: SubjectFigures = {
    events: 49,
    failed: 3,
    newCountry: null,
    journey: null,
    refusals: 0,
    actedAs: [],
    largestRead: null,
    rightsGained: [],
    firsts: 0,
    alerts: 0,
  };

  it('tells the story in its order', () => {
    expect(
      read(
        subjectSentence({
          ...quiet,
          newCountry: { country: 'Canada', others: 0 },
          journey: { from: 'Stavik', to: 'Pell Harbour', km: 3935, minutes: 20 },
          refusals: 31,
          actedAs: ['ottilie.brandt'],
          largestRead: { records: 184_000, usual: 200 },
          rightsGained: ['Administrators'],
          firsts: 9,
        }),
      ),
    ).toBe(
      'First time ever from Canada, 20 minutes and 3,935 km after one at Stavik; 31 failed sign-ins; acted as ottilie.brandt; read 184,000 records at once, usually 200; was given Administrators.',
    );
  });

  it('with nothing else it tells what was never seen, and alerts', () => {
    expect(read(subjectSentence({ ...quiet, firsts: 1, alerts: 2 }))).toBe(
      '1 thing never seen of it before; 2 alerts about it.',
    );
  });

  it('says that nothing stands out, with figures, and that nothing is there', () => {
    expect(read(subjectSentence(quiet))).toBe('Nothing stands out: 49 events, 3 of them failed.');
    expect(read(subjectSentence({ ...quiet, events: 0 }))).toBe('Nothing of it in this Beam.');
    // A read a little above the usual is none that stands out.
    expect(read(subjectSentence({ ...quiet, largestRead: { records: 300, usual: 200 } }))).toContain(
      'Nothing',
    );
  });
});

describe('what is normal', () => {
  const office = Array.from({ length: 5 }, (_, day) =>
    Array.from({ length: 9 }, (_, hour) => ({ weekday: day + 1, hour: 8 + hour, events: 4 })),
  ).flat();

  it('hours, places, applications, reads', () => {
    expect(
      read(
        normalWords({
          days: 30,
          hours: office,
          places: [
            { city: 'Stavik', addresses: 1 },
            { city: 'Brannoch', addresses: 2 },
          ],
          applications: ['booking'],
          usualRead: 200,
          actedAs: 0,
        }),
      ),
    ).toBe(
      'Usually Monday to Friday 08:00 – 17:00, from 1 address at Stavik and 1 other place, in booking, reads some 200 records at a time, acts as nobody.',
    );
  });

  it('of less than a week it says that it cannot say', () => {
    const none = { hours: [], places: [], applications: [], usualRead: null, actedAs: null };
    expect(read(normalWords({ days: 3, ...none }))).toContain('Known for 3 days');
    expect(read(normalWords({ days: 9, ...none }))).toContain('Nothing of it');
  });

  it('around the clock, and days with gaps', () => {
    const all = Array.from({ length: 24 }, (_, hour) => [
      { weekday: 1, hour, events: 1 },
      { weekday: 4, hour, events: 1 },
    ]).flat();
    expect(
      read(
        normalWords({ days: 9, hours: all, places: [], applications: [], usualRead: null, actedAs: null }),
      ),
    ).toBe('Usually Monday, Thursday around the clock.');
  });
});

describe('lanes before the window', () => {
  const hour = (more: Partial<PastHour>): PastHour => ({
    lane: 'sign-in',
    hour: 9,
    weekday: 1,
    stretch: null,
    events: 2,
    refused: 0,
    value: 2,
    ...more,
  });

  it('the median over all stretches, those without anything among them', () => {
    const hours = [
      hour({ stretch: 0, value: 5 }),
      hour({ stretch: 0, value: 5 }),
      hour({ stretch: 2, value: 4 }),
    ];
    expect(usualOfLanes(hours, 3, 3)).toEqual([{ lane: 'sign-in', usual: 4, hours: [9] }]);
    expect(usualOfLanes(hours, 5, 30)).toEqual([{ lane: 'sign-in', usual: 0, hours: [] }]);
  });

  it('the clock counts what got through; of one that never did, its tries', () => {
    expect(clockOf([hour({ refused: 2 }), hour({ hour: 10, events: 3, refused: 1 })])).toEqual([
      { weekday: 1, hour: 9, events: 0 },
      { weekday: 1, hour: 10, events: 2 },
    ]);
    expect(clockOf([hour({ refused: 2 })])).toEqual([{ weekday: 1, hour: 9, events: 2 }]);
  });
});

it('neighbours: a rare value that is shared weighs more than one that all have', () => {
  const shared: SharedValue[] = [
    ...['a', 'b', 'c', 'd'].map((name) => ({ name, by: 'country', value: 'Norway', events: 90 })),
    { name: 'd', by: 'address', value: '198.18.40.77', events: 1 },
    { name: 'a', by: 'host', value: 'quay-tk-07', events: 2 },
    { name: 'b', by: 'host', value: 'quay-tk-07', events: 2 },
  ];
  const found = neighboursOf(shared, 3);
  expect(found.map(({ name }) => name)).toEqual(['d', 'a', 'b']);
  expect(found[0]?.shared).toEqual([
    { by: 'address', value: '198.18.40.77', others: 1 },
    { by: 'country', value: 'Norway', others: 4 },
  ]);
  expect(found[0]?.score).toBeGreaterThan(found[1]?.score ?? Infinity);
});

it('the newest known state is what each field was changed to last', () => {
  expect(
    knownState([
      { time: 3, changes: [{ field: 'open', before: 'no', after: 'yes' }] },
      { time: 1, changes: [{ field: 'open', after: 'no' }, { field: 'size', after: 5 }, 'junk'] },
      { time: 4, changes: [{ field: 'size', before: 5, after: null }] },
      { time: 5, changes: null },
    ]),
  ).toEqual([
    { field: 'open', value: 'yes', time: 3 },
    { field: 'size', value: null, time: 4 },
  ]);
});
