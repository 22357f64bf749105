import { parseInstant } from '../base/instant.js';
import { generateDemo } from '../../demo/generate/index.js';
import { readByParser, readQuickly } from './os-event-xml.js';

// The quick reader and the full parser must agree: on what both take the fields are the same, and what the parser
// refuses the quick reader does not take.

const full = (record: string): object | null => {
  try {
    return { ...readByParser(record) };
  } catch {
    return null;
  }
};
const quick = (record: string): object | null => {
  const fields = readQuickly(record);
  return fields === null ? null : { ...fields };
};

it('agrees on every record of the demo, and takes them all', () => {
  const end = parseInstant('2026-11-14T08:00:00Z') ?? 0;
  const records = generateDemo({ seed: 3, end, days: 3 }).filter(({ source }) => source === 'mast-os');
  expect(records.length).toBeGreaterThan(300);
  for (const { raw } of records) expect(quick(raw)).toEqual(full(raw));
});

const event = (inner: string): string =>
  `<Event xmlns='http://x.example/e'><System><EventID>1</EventID></System>${inner}</Event>`;

it.each([
  event('<EventData><Data Name="a">x &amp; &#65;&#x42; "y"</Data><Data>-</Data><Data/></EventData>'),
  event("<EventData>\n  <Data Name='a&lt;b'>\t x \n</Data>\n</EventData>\n"),
  event('<UserData><E xmlns="y"><Deep><Er>1</Er></Deep></E></UserData>'),
  event('<EventData><Data Name = "a">x</Data></EventData>'),
  event('<!-- c --><EventData><Data Name="a"><![CDATA[<x>]]></Data></EventData>'),
  '<?xml version="1.0"?>' + event(''),
  '<Event/>',
])('reads what may be written: %s', (record) => {
  const wanted = full(record);
  expect(wanted).not.toBeNull();
  const found = quick(record);
  if (found !== null) expect(found).toEqual(wanted);
});

it.each([
  event('<EventData><Data Name="a">x</Dat></EventData>'),
  event('<EventData><Data Name="a" Name="b">x</Data></EventData>'),
  event('<Data>&unknown;</Data>'),
  event('<Data>a & b</Data>'),
  event('<Data>&#0;</Data>'),
  event('<Data a="x<y">1</Data>'),
  event('<Data>\u0001</Data>'),
  event('<Data>]]></Data>'),
  `${event('')}trailing`,
  '<Event><System></Event></System>',
  '<Event>',
  '<Other/>',
  '',
  'text',
  `<!DOCTYPE x><Event/>`,
])('leaves what is not well formed to the parser: %s', (record) => {
  expect(full(record)).toBeNull();
  expect(quick(record)).toBeNull();
});

it('agrees after any change of a record', () => {
  const record = event('<EventData><Data Name="user">teo &amp; co</Data><Data Name="n">-</Data></EventData>');
  let state = 99;
  const random = (most: number): number => (state = (Math.imul(state, 1_103_515_245) + 12_345) >>> 0) % most;
  const signs = [
    '<',
    '>',
    '&',
    '"',
    "'",
    '/',
    '=',
    ' ',
    'a',
    ';',
    '#',
    '1',
    '\n',
    '\r',
    '!',
    '-',
    ']',
    '\u0000',
    '\ud800',
  ];
  let taken = 0;
  for (let i = 0; i < 20_000; i++) {
    let changed = record;
    for (let k = 0; k < 1 + random(3); k++) {
      const at = random(changed.length);
      changed = changed.slice(0, at) + (signs[random(signs.length)] ?? '') + changed.slice(at + random(2));
    }
    const found = quick(changed);
    if (found === null) continue;
    taken++;
    expect([changed, found]).toEqual([changed, full(changed)]);
  }
  expect(taken).toBeGreaterThan(1000);
});
