import fc from 'fast-check';
import type { Cutter } from './format.js';
import { MAX_RECORD_LENGTH } from './format.js';
import { eventElementCutter, jsonCutter, lineCutter, quotedLineCutter } from './cutters.js';

const cutters = { lineCutter, quotedLineCutter, jsonCutter, eventElementCutter };

function cut(cutter: Cutter, pieces: readonly string[]): string[] {
  return [...pieces.flatMap((piece) => cutter.push(piece)), ...cutter.end()];
}

it.each<[keyof typeof cutters, string, string[]]>([
  ['lineCutter', 'a\r\n\n b \nc', ['a', ' b ', 'c']],
  ['quotedLineCutter', 'a,"x\ny",c\n"q""\n",2\nlast', ['a,"x\ny",c', '"q""\n",2', 'last']],
  ['quotedLineCutter', 'a,"never closed\nb', ['a,"never closed\nb']],
  ['jsonCutter', '\ufeff [{"a":"],["} , [1,[2]], 3 ]', ['{"a":"],["}', '[1,[2]]', '3']],
  ['jsonCutter', '[{"a":"\\\\"},{"b":"\\""}]', ['{"a":"\\\\"}', '{"b":"\\""}']],
  ['jsonCutter', '[1]\n{"after":1}\n[2,3]', ['1', '{"after":1}', '[2,3]']],
  ['jsonCutter', '[{"a":1},{"cut', ['{"a":1}', '{"cut']],
  ['jsonCutter', '  ', []],
  [
    'eventElementCutter',
    '<?xml version="1.0"?>\n<Events xmlns="x">\n<Event a="1"><A/></Event> <Event>2</Event></Events>',
    ['<Event a="1"><A/></Event>', '<Event>2</Event>'],
  ],
  [
    'eventElementCutter',
    '<!DOCTYPE x [<!ENTITY a "b">]><Event>&a;</Event><Event>cut off',
    ['<!DOCTYPE x [<!ENTITY a "b">]>', '<Event>&a;</Event>', '<Event>cut off'],
  ],
])('%s cuts %j', (name, text, records) => {
  expect(cut(cutters[name](), [text])).toEqual(records);
});

it.each(Object.keys(cutters) as (keyof typeof cutters)[])(
  '%s finds the same records wherever the stream is cut into pieces',
  (name) => {
    const characters = fc.constantFrom(
      '{',
      '}',
      '[',
      ']',
      '"',
      '\\',
      ',',
      '\n',
      '\r',
      'a',
      ' ',
      '<Event>',
      '</Event>',
    );
    fc.assert(
      fc.property(
        fc.array(
          fc.array(characters, { maxLength: 9 }).map((some) => some.join('')),
          { maxLength: 9 },
        ),
        (pieces) => {
          expect(cut(cutters[name](), pieces)).toEqual(cut(cutters[name](), [pieces.join('')]));
        },
      ),
      { numRuns: 500 },
    );
  },
);

it.each(Object.keys(cutters) as (keyof typeof cutters)[])(
  '%s holds no more than one record of a stream without ends, and goes on after it',
  (name) => {
    const cutter = cutters[name]();
    const start = {
      jsonCutter: '[{"a":"',
      eventElementCutter: '<Event>',
      quotedLineCutter: '"',
      lineCutter: '',
    }[name];
    const found = cutter.push(start);
    for (let i = 0; i < 40; i++) found.push(...cutter.push('x'.repeat(MAX_RECORD_LENGTH / 8)));
    expect(found.length).toBeGreaterThan(0);
    expect(Math.max(...found.map((record) => record.length))).toBeLessThan(MAX_RECORD_LENGTH + 2);
    const end = {
      jsonCutter: '"},{"b":1}]',
      eventElementCutter: '</Event><Event>b</Event>',
      quotedLineCutter: '"\nb',
      lineCutter: '\nb',
    }[name];
    found.push(...cutter.push(end), ...cutter.end());
    expect(found.at(-1)).toBe(
      { jsonCutter: '{"b":1}', eventElementCutter: '<Event>b</Event>' }[name as string] ?? 'b',
    );
  },
);
