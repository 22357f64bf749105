import { listFinder } from './list-match.js';

const find = (
  match: 'exact' | 'network' | 'wildcard',
  keys: readonly string[],
  texts: readonly string[],
): (number | undefined)[] => texts.map(listFinder(match, keys));

it('exact lists ignore case and outer white space; the first of equal keys counts', () => {
  expect(find('exact', ['Teo', 'ines', ' TEO '], ['teo', 'INES ', 'x', ''])).toEqual([
    0,
    1,
    undefined,
    undefined,
  ]);
});

it('network lists take the longest prefix and skip keys that are none', () => {
  expect(
    find(
      'network',
      ['10.0.0.0/8', '10.1.0.0/16', '10.1.2.3', 'nonsense', '::/0'],
      ['10.9.9.9', '10.1.9.9', '10.1.2.3', '192.0.2.1', '2001:db8::1', 'x'],
    ),
  ).toEqual([0, 1, 2, undefined, 4, undefined]);
});

it('wildcard lists take the pattern with most literal characters', () => {
  expect(
    find('wildcard', ['*', 'svc-*', 'svc-b?ckup', 'a%b'], ['teo', 'SVC-scan', 'svc-backup', 'axb', 'a%b']),
  ).toEqual([0, 1, 2, 0, 3]);
});
