import { lookAlikesOf, skeletonOf } from './look-alike.js';
import { recognise } from './recognise.js';
import { kindsOfColumn } from './kinds.js';

describe('names that look like another', () => {
  const names = [
    '0ttilie.brandt',
    'ottilie.brandt',
    'ottilie.brant',
    'оttilie.brandt',
    'runa.keel',
    'gate-01',
    'gate-02',
  ];

  it('by the table of confusable characters, with which stands for which; then by a slip of the hand', () => {
    expect(lookAlikesOf('ottilie.brandt', names)).toEqual([
      { name: '0ttilie.brandt', confused: [{ written: '0', takenFor: 'o' }], distance: 1 },
      { name: 'оttilie.brandt', confused: [{ written: 'о', takenFor: 'o' }], distance: 1 },
      { name: 'ottilie.brant', confused: [], distance: 1 },
    ]);
    expect(skeletonOf('0ttilie')).toBe(skeletonOf('ottilie'));
  });

  it('letters put in and left out, pairs that are taken for one, and whole names in another script', () => {
    expect(lookAlikesOf('marit.solheim', ['rnarit.solheim', 'marit.soheim', 'solheim.marit'])).toMatchObject([
      { name: 'rnarit.solheim', confused: [{ written: 'rn', takenFor: 'm' }] },
      { name: 'marit.soheim', distance: 1 },
    ]);
    expect(lookAlikesOf('pace', ['расе', 'race'])).toMatchObject([{ name: 'расе' }]);
  });

  it('not names that are counted, nor short ones a letter apart', () => {
    expect(lookAlikesOf('gate-01', names)).toEqual([]);
    expect(lookAlikesOf('teo', ['leo', 'tео'])).toEqual([
      {
        name: 'tео',
        confused: [
          { written: 'е', takenFor: 'e' },
          { written: 'о', takenFor: 'o' },
        ],
        distance: 2,
      },
    ]);
  });
});

it.each([
  ['10.20.4.11', 'address'],
  ['2001:DB8::1', 'address'],
  ['198.18.40.0/24', 'network'],
  ['d41d8cd98f00b204e9800998ecf8427e', 'hash'],
  ['36648b69-3e40-53a3-9f77-123fe4fe33b7', 'id'],
  ['S-1-5-21-77-1117', 'id'],
  ['teo.marrash@skerry-line.example', 'mail address'],
  ['t1110.003', 'technique'],
  ['teo', null],
  ['1.2.3', null],
  ['a@b', null],
  ['x'.repeat(400), null],
])('recognises %s', (text, kind) => {
  expect(recognise(text)).toBe(kind);
});

it('columns lead to the kinds they name', () => {
  expect(kindsOfColumn('acting_as')).toEqual(['user']);
  expect(kindsOfColumn('via_ips')).toEqual(['address']);
  expect(kindsOfColumn('target_id')).toEqual(['resource', 'user']);
  expect(kindsOfColumn('message')).toEqual([]);
});
