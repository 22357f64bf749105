import { parse } from 'csv-parse/sync';
import type { Column } from '../wick/plan.js';
import { csvHead, csvRow } from './csv.js';
import { jsonRow } from './json-lines.js';

const columns: Column[] = [
  { slot: 'time', name: 'time', type: 'time' },
  { slot: 'a', name: 'a,b', type: 'text' },
  { slot: 'n', name: 'n', type: 'number' },
  { slot: 'v', name: '=v', type: 'any' },
];

it('CSV reads back, and no cell is a formula', () => {
  const rows = [
    [0, 'plain', -1.5, { k: ['x'] }],
    [1, '=cmd()', 1e21, null],
    [null, '+1 "quoted"\nline', null, '@x'],
    [0, '-12', 3, '\ttab'],
    [0, ' padded ', 3, true],
  ] as const;
  const text = [csvHead(columns), ...rows.map((row) => csvRow(columns, row))].join('\r\n');
  expect(parse(text)).toEqual([
    ['time', 'a,b', 'n', "'=v"],
    ['1970-01-01T00:00:00Z', 'plain', '-1.5', '{"k":["x"]}'],
    ['1970-01-01T00:00:00.000001Z', "'=cmd()", '1000000000000000000000', ''],
    ['', `'+1 "quoted"\nline`, '', "'@x"],
    ['1970-01-01T00:00:00Z', '-12', '3', "'\ttab"],
    ['1970-01-01T00:00:00Z', ' padded ', '3', 'true'],
  ]);
});

it('JSON keeps nulls and writes times as text', () => {
  expect(jsonRow(columns, [null, 'x', 2, [1]])).toEqual({ time: null, 'a,b': 'x', n: 2, '=v': [1] });
});
