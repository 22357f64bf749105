import { gzipSync, zipSync, strToU8 } from 'fflate';
import { FileDecoder, encodingOf, textOfHead, type Decoded } from './decode.js';

/** What a file gives, however it comes in pieces; a text at a time. */
function decoded(bytes: Uint8Array, size = bytes.length): string[] {
  const decoder = new FileDecoder('file');
  const found: Decoded[] = [];
  for (let at = 0; at < bytes.length; at += size) found.push(...decoder.push(bytes.subarray(at, at + size)));
  found.push(...decoder.end());
  const told: string[] = [];
  let text = '';
  for (const part of found)
    if (part.part === 'text') text += part.text;
    else {
      told.push(
        ...(text === '' ? [] : [text]),
        part.part === 'end' ? `end of ${part.name}` : `error: ${part.message}`,
      );
      text = '';
    }
  return text === '' ? told : [...told, text];
}
const same = (bytes: Uint8Array, wanted: unknown[]): void => {
  for (const size of [bytes.length, 1000, 7]) expect(decoded(bytes, size)).toEqual(wanted);
};
const utf16 = (text: string, big = false): Uint8Array => {
  const view = new DataView(new ArrayBuffer(2 * text.length));
  for (let i = 0; i < text.length; i++) view.setUint16(2 * i, text.charCodeAt(i), !big);
  return new Uint8Array(view.buffer);
};
const join = (...all: Uint8Array[]): Uint8Array => Uint8Array.from(all.flatMap((one) => [...one]));
const tar = (members: readonly (readonly [string, Uint8Array])[]): Uint8Array =>
  join(
    ...members.flatMap(([name, bytes]) => {
      const head = new Uint8Array(512);
      head.set(strToU8(name));
      head.set(strToU8('0000644\x000000000\x000000000\x00'), 100);
      head.set(strToU8(`${bytes.length.toString(8).padStart(11, '0')}\0`), 124);
      head.set(strToU8('0'), 156);
      head.set(strToU8('ustar'), 257);
      head.fill(0x20, 148, 156);
      const sum = head.reduce((a, b) => a + b, 0);
      head.set(strToU8(`${sum.toString(8).padStart(6, '0')}\0 `), 148);
      return [head, bytes, new Uint8Array((512 - (bytes.length % 512)) % 512)];
    }),
    new Uint8Array(1024),
  );

it('texts in the encoding they are in', () => {
  same(strToU8('Übung ✓\n'), ['Übung ✓\n', 'end of file']);
  same(Uint8Array.of(0xdc, 0x62, 0x75, 0x6e, 0x67, 0x0a), ['Übung\n', 'end of file']);
  same(join(Uint8Array.of(0xff, 0xfe), utf16('Übung ✓\n')), ['Übung ✓\n', 'end of file']);
  same(utf16('{"user":"teo"}\n'), ['{"user":"teo"}\n', 'end of file']);
  same(utf16('{"user":"teo"}\n', true), ['{"user":"teo"}\n', 'end of file']);
  expect(encodingOf(strToU8('é').subarray(0, 1))).toBe('utf-8');
  same(new Uint8Array(0), ['end of file']);
});

it('what is packed is unpacked, also within an archive; members are told apart', () => {
  const [one, two] = [strToU8('one\n'.repeat(2000)), strToU8('two')];
  same(gzipSync(one), ['one\n'.repeat(2000), 'end of file']);
  same(zipSync({ 'a.log': one, 'b/c.gz': gzipSync(two) }), [
    'one\n'.repeat(2000),
    'end of file/a.log',
    'two',
    'end of file/b/c.gz',
  ]);
  same(
    gzipSync(
      tar([
        ['a.log', one],
        ['b.log', two],
      ]),
    ),
    ['one\n'.repeat(2000), 'end of file/a.log', 'two', 'end of file/b.log'],
  );
});

it('a zstd frame', () => {
  // A frame of one raw block (RFC 8878): magic, single segment of 3 bytes, last raw block of 3 bytes.
  same(Uint8Array.of(0x28, 0xb5, 0x2f, 0xfd, 0x20, 3, 0x19, 0, 0, 0x61, 0x62, 0x63), ['abc', 'end of file']);
});

it('what is torn or damaged is told, and what was whole is given', () => {
  const torn = gzipSync(strToU8('one\n'.repeat(50_000))).subarray(0, 200);
  expect(decoded(torn).join(' ')).toContain('error: it is not packed as it says');
  const archive = tar([
    ['a', strToU8('aaa')],
    ['b', strToU8('b'.repeat(600))],
  ]);
  expect(decoded(archive.subarray(0, 1024 + 512 + 100))).toEqual([
    'aaa',
    'end of file/a',
    'b'.repeat(100),
    'end of file/b',
    'error: the archive ends within a member',
  ]);
  const broken = archive.slice();
  broken[1024 + 3] = 7;
  expect(decoded(broken)).toEqual([
    'aaa',
    'end of file/a',
    'error: the archive cannot be read on: a header does not hold',
  ]);
  expect(decoded(zipSync({ a: strToU8('a'.repeat(5000)) }).subarray(0, 40)).join()).toMatch(/error|end of/);
});

it('packs within packs are bounded', () => {
  let bytes = strToU8('inside');
  for (let i = 0; i < 6; i++) bytes = gzipSync(bytes);
  expect(decoded(bytes).join()).not.toContain('inside');
});

it('what swells within what is packed is stopped, and told', () => {
  const zeros = gzipSync(gzipSync(new Uint8Array(80_000_000)));
  expect(zeros.length).toBeLessThan(10_000);
  let characters = 0;
  const errors: string[] = [];
  const decoder = new FileDecoder('bomb');
  for (const part of [...decoder.push(zeros), ...decoder.end()])
    if (part.part === 'text') characters += part.text.length;
    else if (part.part === 'error') errors.push(part.message);
  expect(characters).toBeLessThanOrEqual(32 * 1024 * 1024);
  expect(errors.join()).toContain('it swells to more than is taken');
});

it('the head of a file as text', () => {
  expect(textOfHead(gzipSync(strToU8('{"a":1}\n')))).toBe('{"a":1}\n');
  expect(textOfHead(strToU8('\ufeffname,user'))).toBe('name,user');
});
