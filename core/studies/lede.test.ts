import {
  alertWave,
  failedSignIns,
  firstOperations,
  largeRead,
  type LedeFact,
  ledeOf,
  nothingStandsOut,
  quietSource,
  refusedThenIn,
  rightOntoOneself,
  sinceWhen,
  spray,
  timesUsual,
} from './lede.js';

const say = ({ words }: LedeFact): string =>
  words.map((word) => (typeof word === 'string' ? word : word.name)).join('');
const calm = { now: 400, usual: 390, spread: 20, since: null };
const otherwise = nothingStandsOut({
  failed: calm,
  alerts: { now: 2, usual: 3, spread: 1, since: null },
  rights: 1,
  quietSources: 0,
});

it('says the few that are most surprising, the same thing once, and links the rest', () => {
  const lede = ledeOf(
    [
      failedSignIns({ now: 1284, usual: 648, spread: 40, since: '07:30' }, 'h1'),
      spray({ network: '198.18.40.0/24', tries: 386, accounts: 138, entered: ['teo.marrash'] }, 'h2'),
      refusedThenIn('teo.marrash', 7, 'h3'),
      largeRead({ user: 'teo.marrash', amount: 184_000, usual: 200, data: 'booking / passengers' }, 'h4'),
      firstOperations(
        { operations: [{ operation: 'key.update', on: 'svc-fares' }], days: 28, events: 9000 },
        'h5',
        { from: 0, to: 1 },
      ),
      rightOntoOneself(
        { user: 'ines.vaal', target: 'ines.vaa1', right: 'Berth Admins', on: 'mast-dc-01' },
        'h6',
      ),
      null,
    ],
    otherwise,
  );
  expect(lede.sentences).toHaveLength(3);
  const all = [...lede.sentences, ...lede.more];
  expect(all.map(({ hunt }) => hunt)).toEqual(['h4', 'h2', 'h6', 'h3', 'h5']);
  expect(all.map(say)).toEqual([
    'teo.marrash read 184,000 records of booking / passengers at once, 920 times the usual.',
    '198.18.40.0/24 failed on 138 accounts with 386 tries and got into teo.marrash.',
    'ines.vaal gave Berth Admins on mast-dc-01 to ines.vaa1, a name that is nearly its own.',
    'The second factor of teo.marrash was refused 7 times and then approved.',
    'Never seen in the 28 days before: key.update on svc-fares.',
  ]);
});

it('on a quiet day it says that nothing stands out, with the figures', () => {
  const { sentences, more } = ledeOf(
    [failedSignIns(calm, 'h'), alertWave({ now: 2, usual: 3, spread: 1, since: null })],
    otherwise,
  );
  expect([sentences.length, more.length]).toEqual([1, 0]);
  expect(say(sentences[0] as LedeFact)).toBe(
    'Nothing stands out: 400 failed sign-ins where 390 are usual, 2 alerts where 3 are usual, 1 changes of rights, and all sources flow.',
  );
});

it('what is small, or usual, is no fact', () => {
  expect(failedSignIns({ now: 9, usual: 0, spread: 0, since: null }, 'h')).toBeNull();
  expect(spray({ network: 'n', tries: 20, accounts: 9, entered: [] }, 'h')).toBeNull();
  expect(refusedThenIn('u', 2, 'h')).toBeNull();
  expect(largeRead({ user: 'u', amount: 900, usual: 1, data: 'd' }, 'h')).toBeNull();
  expect(firstOperations({ operations: [], days: 28, events: 9 }, 'h', { from: 0, to: 1 })).toBeNull();
  expect(quietSource('s', 20, 10)).toBeNull();
});

it.each([
  [1284, 648, 'twice the usual'],
  [58, 1, '58 times the usual'],
  [13, 10, '1.3 times the usual'],
  [5, 0, 'where none are usual'],
])('%i against %i is %s', (now, usual, words) => expect(timesUsual(now, usual)).toBe(words));

it('most since a moment is only said where that tells something', () => {
  const points = [1, 1, 1, 1, 1, 1, 1, 9, 9].map((value, i) => ({ time: i, value }));
  expect(sinceWhen(points, 0, 9)).toBe(7);
  expect(
    sinceWhen(
      points.map(({ time }) => ({ time, value: 1 })),
      0,
      9,
    ),
  ).toBeNull();
  expect(sinceWhen([], 0, 9)).toBeNull();
});
