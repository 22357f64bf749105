import fc from 'fast-check';
import { SyslogFrames } from './frames.js';

const cut = (chunks: readonly Buffer[]): string[] => {
  const frames = new SyslogFrames();
  return [...chunks.flatMap((chunk) => frames.push(chunk)), ...frames.end()];
};
const counted = (text: string): Buffer => Buffer.from(`${Buffer.byteLength(text)} ${text}`);

it.each<[string, Buffer, string[]]>([
  ['lines', Buffer.from('<13>a\r\n<13>b\n\n<13>c'), ['<13>a', '<13>b', '<13>c']],
  ['counted frames, in bytes', Buffer.concat([counted('<13>å\nå'), counted('<13>b')]), ['<13>å\nå', '<13>b']],
  [
    'both in one stream',
    Buffer.concat([counted('<13>a'), Buffer.from('<13>b\n'), counted('<13>c\n')]),
    ['<13>a', '<13>b', '<13>c'],
  ],
  ['a counted frame that is cut off', Buffer.from('20 <13>short'), ['20 <13>short']],
  ['a count beyond all bounds, which is no count', Buffer.from('9999999 x\n<13>b\n'), ['9999999 x', '<13>b']],
  ['a line that begins with a digit', Buffer.from('2026-11-14 x\n'), ['2026-11-14 x']],
])('cuts %s', (_, stream, messages) => expect(cut([stream])).toEqual(messages));

it('finds the same messages wherever the stream is cut', () => {
  const message = fc.oneof(
    fc.string({ unit: fc.constantFrom('<', '1', ' ', 'å', 'x', '>') }).map((text) => counted(`<13>${text}|`)),
    fc.string({ unit: fc.constantFrom('<', ' ', 'å', 'x') }).map((text) => Buffer.from(`<13>${text}|\n`)),
  );
  fc.assert(
    fc.property(fc.array(message, { maxLength: 6 }), fc.integer({ min: 1, max: 7 }), (messages, size) => {
      const stream = Buffer.concat(messages);
      const chunks = Array.from({ length: Math.ceil(stream.length / size) }, (_, i) =>
        stream.subarray(i * size, (i + 1) * size),
      );
      expect(cut(chunks)).toEqual(cut([stream]));
      expect(cut([stream])).toHaveLength(messages.length);
    }),
  );
});

it('holds no more than one message of a stream that never ends one', () => {
  const frames = new SyslogFrames();
  const found: string[] = [];
  for (let i = 0; i < 40; i++) found.push(...frames.push(Buffer.alloc(1 << 17, 'x')));
  found.push(...frames.push(Buffer.from('\n<13>next\n')));
  expect(found.map((text) => text.length)).toEqual([1 << 20, 8]);
});
