import { execFileSync } from 'node:child_process';
import { existsSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { EvtxReader } from '../core/formats/evtx/evtx.js';
import { cutWhole } from '../core/formats/format.js';
import { osEventXml } from '../core/formats/os-event-xml.js';
import { installDebian } from './lib/debian.js';
import { generateDemo } from '../demo/generate/index.js';
import { mastOsRecords } from '../demo/evtx/mast-os-file.js';
import {
  bytesOf,
  type Content,
  type EventRecord,
  fileTimeOf,
  type RecordValue,
  type Template,
  writeEvtx,
} from '../demo/evtx/write-evtx.js';

// The binary reader against files of ours, and against an independent reader from Debian.

const folder = mkdtempSync(join(tmpdir(), 'under-lamp-evtx-'));
afterAll(() => rmSync(folder, { recursive: true }));
beforeAll(async () => {
  if (!existsSync('/usr/bin/evtxexport')) await installDebian(['libevtx-utils'], 'The independent reader');
}, 300_000);

const read = (bytes: Uint8Array, size = 50_000): { xml: string[]; errors: string[] } => {
  const reader = new EvtxReader();
  const parts = [];
  for (let at = 0; at < bytes.length; at += size) parts.push(...reader.push(bytes.subarray(at, at + size)));
  parts.push(...reader.end());
  return {
    xml: parts.flatMap((part) => (part.part === 'record' ? [part.xml] : [])),
    errors: parts.flatMap((part) => (part.part === 'error' ? [part.message] : [])),
  };
};
const fieldsOf = (xml: string): unknown => {
  const reading = osEventXml.reader({})(xml);
  if (reading.fields === null) throw new Error(reading.reason);
  return reading.fields;
};
/** What the other reader makes of a file. */
function theirs(bytes: Uint8Array): unknown[] {
  const path = join(folder, 'file.evtx');
  writeFileSync(path, bytes);
  const text = execFileSync('evtxexport', ['-f', 'xml', path], { encoding: 'utf8', maxBuffer: 1 << 28 });
  return cutWhole(osEventXml, text.slice(text.indexOf('<Event')))
    .filter((record) => record.startsWith('<Event'))
    .map(fieldsOf);
}

const time = Date.parse('2026-11-14T08:00:00Z') * 1000;
const guid = (n: number): Uint8Array => bytesOf.guid(`{0000000${n}-2222-3333-4444-555555555555}`);
const text = (value: string): RecordValue => ({ type: 1, bytes: bytesOf.text(value) });
/** An event whose data are these, each by a name of its own. */
const eventOf = (
  n: number,
  data: readonly { readonly content: readonly Content[]; readonly name: string }[],
): Template => ({
  guid: guid(n),
  root: {
    name: 'Event',
    children: [
      { name: 'System', children: [{ name: 'EventID', children: [{ text: '4624' }] }] },
      {
        name: 'EventData',
        children: data.map(({ name, content }) => ({
          name: 'Data',
          attributes: [['Name', [{ text: name }]]] as const,
          children: [...content],
        })),
      },
    ],
  },
});
const record = (template: Template, values: readonly RecordValue[]): EventRecord => ({
  written: fileTimeOf(time),
  template,
  values,
});

const values: readonly (readonly [type: number, bytes: Uint8Array, text: string])[] = [
  [0x01, bytesOf.text('Grüße <b>&"x"'), 'Grüße <b>&"x"'],
  [0x02, new TextEncoder().encode('plain'), 'plain'],
  [0x03, bytesOf.u8(5), '5'],
  [0x04, bytesOf.u8(250), '250'],
  [0x05, bytesOf.u16(7), '7'],
  [0x06, bytesOf.u16(65_000), '65000'],
  [0x07, bytesOf.u32(77), '77'],
  [0x08, bytesOf.u32(4_000_000_000), '4000000000'],
  [0x09, bytesOf.u64(99n), '99'],
  [0x0a, bytesOf.u64(18_446_744_073_709_551_615n), '18446744073709551615'],
  [0x0b, new Uint8Array(new Float32Array([1.5]).buffer), '1.500000e+000'],
  [0x0c, new Uint8Array(new Float64Array([2.25]).buffer), '2.250000e+000'],
  [0x0d, bytesOf.u32(1), 'true'],
  [0x0d, bytesOf.u32(0), 'false'],
  [0x0e, Uint8Array.of(1, 0xab, 3), '01AB03'],
  [0x0f, bytesOf.guid('{54849625-5478-4994-a5ba-3e3b0328c30d}'), '{54849625-5478-4994-A5BA-3E3B0328C30D}'],
  [0x10, bytesOf.u64(16n), '16'],
  [0x11, bytesOf.fileTime(time + 123_456), '2026-11-14T08:00:00.123456000Z'],
  [
    0x12,
    new Uint8Array(new Uint16Array([2026, 11, 6, 14, 8, 3, 12, 718]).buffer),
    '2026-11-14T08:03:12.718Z',
  ],
  [
    0x13,
    bytesOf.sid('S-1-5-21-1004336348-1177238915-682003330-512'),
    'S-1-5-21-1004336348-1177238915-682003330-512',
  ],
  [0x14, bytesOf.u32(0x3e7), '0x000003e7'],
  [0x15, bytesOf.u64(0x3e7n), '0x00000000000003e7'],
];

it('every type of value, nested templates, optional values: the same in both readers', () => {
  const inner: Template = { guid: guid(9), root: { name: 'Inner', children: [{ value: 0, type: 1 }] } };
  const data = values.map(([type], i) => ({
    name: `v${i}`,
    content: [{ value: i, type, optional: i % 2 === 0 }],
  }));
  const template = eventOf(1, [
    ...data,
    { name: 'none', content: [{ value: values.length, type: 1, optional: true }] },
    { name: 'mixed', content: [{ text: 'a' }, { entity: 'amp' }, { text: 'b' }] },
    { name: 'list', content: [{ value: values.length + 1, type: 0x81 }] },
    { name: 'within', content: [{ value: values.length + 2, type: 0x21, optional: true }] },
  ]);
  const given: RecordValue[] = [
    ...values.map(([type, bytes]) => ({ type, bytes })),
    { type: 0, bytes: new Uint8Array(0) },
    { type: 0x81, bytes: bytesOf.text('one\0two\0') },
    { type: 0x21, template: inner, values: [text('nested')] },
  ];
  const file = writeEvtx(
    Array.from({ length: 5 }, () => record(template, given)),
    { perChunk: 2, dirty: true },
  );
  const { xml, errors } = read(file);
  expect(errors).toEqual([]);
  expect(xml).toHaveLength(5);
  const fields = fieldsOf(xml[0] ?? '') as Record<string, string>;
  for (const [i, [, , wanted]] of values.entries()) expect([i, fields[`v${i}`]]).toEqual([i, wanted]);
  expect(fields).toMatchObject({ mixed: 'a&b', list: 'two', Inner: 'nested' });
  expect(fields).not.toHaveProperty('none');
  expect(xml.map(fieldsOf)).toEqual(theirs(file));
  // However it comes in pieces.
  for (const size of [file.length, 4097, 999]) expect(read(file, size)).toEqual({ xml, errors: [] });
});

it('the story of the demo, as its hosts would keep it: the same fields as its XML gives, in both readers', () => {
  const records = generateDemo({ seed: 7, end: time, days: 5 })
    .filter(({ source }) => source === 'mast-os')
    .map(({ raw }) => raw);
  // A chunk that is filled to its last byte is a case of its own, below.
  const file = writeEvtx(mastOsRecords(records), { perChunk: 80 });
  const { xml, errors } = read(file);
  expect(errors).toEqual([]);
  expect(xml.length).toBeGreaterThan(500);
  expect(file.length / 65_536).toBeGreaterThan(5);
  const ours = xml.map(fieldsOf);
  const told = (one: unknown): unknown => ({ ...(one as object), SystemTime: null });
  expect(ours.map(told)).toEqual(records.map(fieldsOf).map(told));
  expect(ours).toEqual(theirs(file));
});

describe('where the other reader is wrong or refuses, the description of the format decides', () => {
  const one = (content: readonly Content[], given: readonly RecordValue[]): unknown => {
    const { xml, errors } = read(writeEvtx([record(eventOf(2, [{ name: 'x', content }]), given)]));
    expect(errors).toEqual([]);
    return (fieldsOf(xml[0] ?? '') as Record<string, unknown>)['x'];
  };
  const value = (type: number): Content[] => [{ value: 0, type }];

  it('negative numbers are negative', () => {
    expect(one(value(3), [{ type: 3, bytes: bytesOf.u8(0xfb) }])).toBe('-5');
    expect(one(value(5), [{ type: 5, bytes: bytesOf.u16(-5) }])).toBe('-5');
    expect(one(value(7), [{ type: 7, bytes: bytesOf.u32(-5) }])).toBe('-5');
    expect(one(value(9), [{ type: 9, bytes: bytesOf.u64(-5n) }])).toBe('-5');
  });

  it('nothing where a value must be is nothing, signs above U+FFFF and references are what they mean', () => {
    expect(one(value(1), [{ type: 0, bytes: new Uint8Array(0) }])).toBe('');
    expect(one(value(1), [text('🚢 at sea')])).toBe('🚢 at sea');
    expect(one([{ text: 'a' }, { charRef: 0x263a }, { text: 'b' }], [])).toBe('a☺b');
    expect(one([{ cdata: '<b>&' }], [])).toBe('<b>&');
  });

  it('text behind a NUL is not lost, and the NUL is visible', () => {
    expect(one(value(1), [text('one\0two\0')])).toBe('one\ufffdtwo');
  });

  it('a record that ends on the last byte of its chunk is one', () => {
    const template = eventOf(3, [{ name: 'x', content: value(1) }]);
    const room = (length: number): number =>
      writeEvtx([record(template, [text('y')]), record(template, [text('x'.repeat(length))])]).length;
    // Values hold at most 65,535 bytes, so the chunk is filled by two.
    const fillers = [record(template, [text('a'.repeat(16_000))])];
    let length = 15_000;
    while (writeEvtx([...fillers, record(template, [text('x'.repeat(length))])]).length === 4096 + 65_536)
      length++;
    const file = writeEvtx([...fillers, record(template, [text('x'.repeat(length - 1))])]);
    expect(room(10)).toBe(4096 + 65_536);
    const { xml, errors } = read(file);
    expect([xml.length, errors]).toEqual([2, []]);
  });
});

describe('what is damaged', () => {
  const template = eventOf(4, [{ name: 'x', content: [{ value: 0, type: 1 }] }]);
  const whole = writeEvtx(
    Array.from({ length: 12 }, (_, i) => record(template, [text(`record ${i}`)])),
    { perChunk: 4 },
  );
  const at = (chunk: number): number => 4096 + 65_536 * chunk;
  const texts = (bytes: Uint8Array): { texts: unknown[]; errors: string[] } => {
    const { xml, errors } = read(bytes);
    return { texts: xml.map((one) => (fieldsOf(one) as Record<string, unknown>)['x']), errors };
  };
  const all = Array.from({ length: 12 }, (_, i) => `record ${i}`);

  it('a chunk that does not begin as one is skipped and told; the others are read', () => {
    const broken = whole.slice();
    broken[at(1)] = 0;
    expect(texts(broken)).toEqual({
      texts: [...all.slice(0, 4), ...all.slice(8)],
      errors: [`the chunk at ${at(1)} is damaged: it does not begin as one`],
    });
  });

  it('of a chunk whose checksum does not hold, and of a torn one, every whole record is given and one error told', () => {
    const flipped = whole.slice();
    // A letter of a text of the second chunk's third record.
    const place = Buffer.from(flipped).indexOf(Buffer.from(bytesOf.text('record 6')), at(1));
    flipped[place] = 'R'.charCodeAt(0);
    expect(texts(flipped)).toEqual({
      texts: all.map((one) => (one === 'record 6' ? 'Record 6' : one)),
      errors: [`the chunk at ${at(1)} is damaged: its checksum does not hold`],
    });
    const cut = Buffer.from(whole).indexOf(Buffer.from(bytesOf.text('record 10')), at(2));
    const torn = texts(whole.subarray(0, cut));
    expect(torn.texts).toEqual(all.slice(0, 10));
    expect(torn.errors).toHaveLength(1);
    expect(torn.errors[0]).toContain('is torn');
  });

  it('a record whose size does not hold is passed over, and the next is found', () => {
    const broken = whole.slice();
    const view = new DataView(broken.buffer);
    const first = view.getUint32(at(0) + 512 + 4, true);
    view.setUint32(at(0) + 512 + first + 4, 0xffffff, true);
    const { texts: given, errors } = texts(broken);
    expect(given).toEqual([all[0], ...all.slice(2)]);
    expect(errors).toHaveLength(1);
  });

  it('no bytes make it throw or hang: ten thousand random changes', () => {
    let state = 12_345;
    const random = (most: number): number =>
      (state = (Math.imul(state, 1_103_515_245) + 12_345) >>> 0) % most;
    const used = whole.subarray(0, at(0) + 4096);
    for (let i = 0; i < 10_000; i++) {
      const broken = used.slice();
      for (let k = 0; k < 4; k++) broken[at(0) + 512 + random(1500)] = random(256);
      const { errors } = read(broken, broken.length);
      expect(errors.length).toBeLessThanOrEqual(1);
    }
  });

  it('values that nest and are named over and over are stopped, and the next record is read', () => {
    const many = (n: number): Template => ({
      guid: guid(n),
      root: { name: 'N', children: Array.from({ length: 60 }, () => ({ value: 0, type: 0x21 })) },
    });
    let value: RecordValue = { type: 0x21, template: many(5), values: [text('x')] };
    for (const n of [6, 7, 8]) value = { type: 0x21, template: many(n), values: [value] };
    const evil = eventOf(1, [
      { name: 'x', content: Array.from({ length: 60 }, () => ({ value: 0, type: 0x21 })) },
    ]);
    const { texts: given, errors } = texts(
      writeEvtx([record(evil, [value]), record(template, [text('after')])]),
    );
    expect(given).toEqual(['after']);
    expect(errors).toEqual([expect.stringContaining('more than 100000 steps')]);
  });

  it('a header that is torn off, an empty file, a file without chunks', () => {
    expect(read(whole.subarray(0, 100)).errors).toEqual(['the file ends within its header']);
    expect(read(new Uint8Array(0))).toEqual({ xml: [], errors: [] });
    expect(read(writeEvtx([]))).toEqual({ xml: [], errors: [] });
  });
});
