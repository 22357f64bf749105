import fc from 'fast-check';
import { isMisleading, visibleJson, visibleText } from './visible.js';

it.each([
  ['plain text\twith tabs\nand lines', 'plain text\twith tabs\nand lines'],
  ['user\u202egpj.exe', 'user⟨U+202E⟩gpj.exe'],
  ['a\u200bdmin', 'a⟨U+200B⟩dmin'],
  ['x\u0000\u001b[31m\u0085', 'x⟨U+0000⟩⟨U+001B⟩[31m⟨U+0085⟩'],
  ['soft\u00adhyphen, \u2066isolated\u2069', 'soft⟨U+00AD⟩hyphen, ⟨U+2066⟩isolated⟨U+2069⟩'],
  ['\u{e0041}tag', '⟨U+E0041⟩tag'],
  ['straße שלום мир 😀', 'straße שלום мир 😀'],
  ['👩\u200d💻 ❤\ufe0f', '👩\u200d💻 ❤\ufe0f'],
  ['a\u200db', 'a⟨U+200D⟩b'],
])('%j is shown as %s', (text, shown) => {
  expect(visibleText(text)).toBe(shown);
});

it('nothing that is shown misleads, and JSON reads back the same', () => {
  const text = fc.string({ unit: 'binary', maxLength: 30 });
  fc.assert(
    fc.property(text, (value) => {
      const whole = value.toWellFormed();
      const shown = visibleText(whole).replace(
        /\p{Extended_Pictographic}\u{fe0f}?(?:\u{200d}\p{Extended_Pictographic}\u{fe0f}?)*/gu,
        '',
      );
      expect(isMisleading(shown)).toBe(false);
      const json = visibleJson(JSON.stringify({ [whole]: [whole] }));
      expect(isMisleading(json)).toBe(false);
      expect(JSON.parse(json)).toEqual({ [whole]: [whole] });
    }),
  );
});
