import fc from 'fast-check';
import { boundedText } from './bounded-text.js';

const bytes = (text: string): number => Buffer.byteLength(text);

it.each([
  ['abc', 10, 'abc'],
  ['abcdefghij', 10, 'abcdefghij'],
  ['abcdefghijk', 10, 'abcdefg…'],
  ['ééééé', 10, 'ééééé'],
  ['éééééé', 10, 'ééé…'],
  ['😀😀😀', 10, '😀…'],
])('%s within %d bytes is %s', (text, max, short) => {
  expect(boundedText(text, max)).toBe(short);
});

it('never exceeds its bound, cuts whole characters, and leaves alone what fits', () => {
  fc.assert(
    fc.property(
      fc.string({ unit: 'binary', maxLength: 60 }),
      fc.integer({ min: 3, max: 80 }),
      (text, max) => {
        const whole = text.toWellFormed();
        const short = boundedText(whole, max);
        expect(bytes(short)).toBeLessThanOrEqual(max);
        if (bytes(whole) <= max) expect(short).toBe(whole);
        else expect(whole.startsWith(short.slice(0, -1))).toBe(true);
        expect(short.isWellFormed()).toBe(true);
      },
    ),
  );
});
