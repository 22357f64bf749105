import fc from 'fast-check';
import { EvtxReader } from '../../core/formats/evtx/evtx.js';
import { osEventXml } from '../../core/formats/os-event-xml.js';
import {
  bytesOf,
  type Content,
  type Element,
  type RecordValue,
  type Template,
  writeEvtx,
} from './write-evtx.js';

// Fields straight from the values of a binary record, and fields by way of its XML: the same, whatever is written.

const read = osEventXml.reader({});
const partsOf = (file: Uint8Array, withFields: boolean) => {
  const reader = new EvtxReader(withFields);
  return [...reader.push(file), ...reader.end()];
};
/** What each way tells of a file; how many records had fields of their own. */
function bothWays(file: Uint8Array): { byXml: unknown[]; straight: unknown[]; own: number } {
  const byXml = partsOf(file, false).map((part) =>
    part.part === 'error' ? part.message : Object.entries(read(part.xml).fields ?? { unreadable: true }),
  );
  let own = 0;
  const straight = partsOf(file, true).map((part) => {
    if (part.part === 'error') return part.message;
    if (part.fields === null) return Object.entries(read(part.xml).fields ?? { unreadable: true });
    own++;
    return Object.entries(part.fields);
  });
  return { byXml, straight, own };
}

const text = fc.oneof(
  fc.string({ maxLength: 12 }),
  fc.constantFrom(
    '-',
    ' - ',
    '',
    '  two  ',
    'a\r\nb',
    'x\r',
    '<&>"\'',
    'nul\0',
    '\0\0',
    '__proto__',
    'Grüße',
    '\u0001',
    '\ud800',
    ']]>',
  ),
  fc.string({ unit: 'binary', maxLength: 60 }),
);
const number = (width: 1 | 2 | 4 | 8) => fc.uint8Array({ minLength: width, maxLength: width });
const scalar: fc.Arbitrary<RecordValue> = fc.oneof(
  text.map((one) => ({ type: 0x01, bytes: bytesOf.text(one) })),
  text.map((one) => ({ type: 0x02, bytes: new TextEncoder().encode(one) })),
  fc.constant({ type: 0, bytes: new Uint8Array(0) }),
  fc.constant({ type: 0x01, bytes: new Uint8Array(0) }),
  fc.tuple(fc.constantFrom(0x03, 0x04), number(1)).map(([type, bytes]) => ({ type, bytes })),
  fc.tuple(fc.constantFrom(0x05, 0x06), number(2)).map(([type, bytes]) => ({ type, bytes })),
  fc.tuple(fc.constantFrom(0x07, 0x08, 0x0d, 0x14), number(4)).map(([type, bytes]) => ({ type, bytes })),
  fc
    .tuple(fc.constantFrom(0x09, 0x0a, 0x11, 0x15, 0x10), number(8))
    .map(([type, bytes]) => ({ type, bytes })),
  text.map((one) => ({ type: 0x81, bytes: bytesOf.text(one) })),
  fc.uint8Array({ maxLength: 9 }).map((bytes) => ({ type: 0x84, bytes })),
  // A value that is shorter than its type.
  fc.tuple(fc.constantFrom(0x06, 0x08, 0x0a, 0x11), number(1)).map(([type, bytes]) => ({ type, bytes })),
);

const VALUES = 6;
const content: fc.Arbitrary<Content> = fc.oneof(
  {
    weight: 3,
    arbitrary: fc
      .tuple(fc.nat(VALUES), fc.boolean())
      .map(([value, optional]) => ({ value, type: 1, optional })),
  },
  { weight: 2, arbitrary: text.map((one) => ({ text: one })) },
  {
    weight: 1,
    arbitrary: fc.constantFrom<Content>(
      { entity: 'amp' },
      { entity: 'ship' },
      { charRef: 65 },
      { cdata: 'c<d' },
    ),
  },
);
const attributes = fc.array(
  fc.tuple(
    fc.constantFrom('Name', 'Guid', 'SystemTime', 'Qualifiers', 'UserID'),
    fc.array(content, { maxLength: 2 }),
  ),
  { maxLength: 2 },
);
const name = fc.constantFrom(
  'Data',
  'Data',
  'Data',
  'EventID',
  'Provider',
  'TimeCreated',
  'Execution',
  'Security',
  'Computer',
  'Binary',
  'ns:x',
);
const leaf: fc.Arbitrary<Element> = fc
  .tuple(name, attributes, fc.array(content, { maxLength: 2 }))
  .map(([of, with_, children]) => ({ name: of, attributes: with_, children }));
const parent: fc.Arbitrary<Element> = fc
  .tuple(
    fc.constantFrom('System', 'EventData', 'UserData', 'Data'),
    attributes,
    fc.array(fc.oneof({ weight: 5, arbitrary: leaf }, content), { maxLength: 5 }),
  )
  .map(([of, with_, children]) => ({ name: of, attributes: with_, children }));
const root = (of: fc.Arbitrary<string>): fc.Arbitrary<Element> =>
  fc
    .tuple(
      of,
      attributes,
      fc.array(fc.oneof({ weight: 6, arbitrary: parent }, { weight: 2, arbitrary: leaf }, content), {
        maxLength: 4,
      }),
    )
    .map(([named, with_, children]) => ({ name: named, attributes: with_, children }));
const template = (of: fc.Arbitrary<string>): fc.Arbitrary<Template> =>
  fc
    .tuple(fc.uint8Array({ minLength: 16, maxLength: 16 }), root(of))
    .map(([guid, one]) => ({ guid, root: one }));
const nested: fc.Arbitrary<RecordValue> = fc
  .tuple(template(fc.constantFrom('EventData', 'Inner', 'Data')), fc.array(scalar, { maxLength: VALUES }))
  .map(([inner, values]) => ({ type: 0x21, template: inner, values }));
const records = fc
  .tuple(
    template(fc.oneof({ weight: 9, arbitrary: fc.constant('Event') }, fc.constant('Other'))),
    fc.array(fc.array(fc.oneof({ weight: 8, arbitrary: scalar }, nested), { maxLength: VALUES }), {
      minLength: 1,
      maxLength: 4,
    }),
  )
  .map(([of, all]) => all.map((values) => ({ written: 133_000_000_000_000_000n, template: of, values })));

it('both ways give the same fields in the same order, and the same errors', () => {
  let own = 0;
  let all = 0;
  fc.assert(
    fc.property(records, (given) => {
      const ways = bothWays(writeEvtx(given));
      own += ways.own;
      all += ways.byXml.length;
      expect(ways.straight).toEqual(ways.byXml);
    }),
    { numRuns: 1500, seed: 7 },
  );
  // The quick way is taken, and so is the other.
  expect(own).toBeGreaterThan(all / 10);
  expect(own).toBeLessThan(all);
});

it('of files whose bytes were changed, too', () => {
  fc.assert(
    fc.property(
      records,
      fc.array(fc.tuple(fc.double({ min: 0, max: 1, noNaN: true }), fc.nat(255)), { maxLength: 6 }),
      (given, changes) => {
        const file = writeEvtx(given);
        const free = new DataView(file.buffer, file.byteOffset).getUint32(4096 + 48, true);
        for (const [place, byte] of changes) file[4096 + 512 + Math.floor(place * (free - 513))] = byte;
        const { byXml, straight } = bothWays(file);
        expect(straight).toEqual(byXml);
      },
    ),
    { numRuns: 1500, seed: 11 },
  );
});
