import { Shapes } from './shapes.js';

const found = (texts: readonly string[]) => {
  const shapes = new Shapes();
  for (const [i, text] of texts.entries()) shapes.add(text, i);
  return shapes
    .found()
    .map(({ template, events, first, last, example }) => [template, events, first, last, example]);
};
const words = (count: number, of: (word: string) => string): string[] =>
  Array.from({ length: count }, (_, i) => of(`w${String.fromCharCode(97 + i)}x`));

describe('44: the shapes of texts', () => {
  it('words that look like values become *, one that is named keeps its name', () => {
    expect(found(['user=teo from 10.0.0.1', 'user=ines  from\t::1', 'a/b C:\\x x@y plain'])).toEqual([
      ['* * * plain', 1, 2, 2, 'a/b C:\\x x@y plain'],
      ['user=* from *', 2, 0, 1, 'user=teo from 10.0.0.1'],
    ]);
    expect(found(['', '  '])).toEqual([['', 2, 0, 1, '']]);
  });

  it('a place where more than ten different words stand becomes *, with ten it stays', () => {
    expect(found(words(10, (word) => `hello ${word} there`))).toHaveLength(10);
    expect(found(words(11, (word) => `hello ${word} there`))).toEqual([
      ['hello * there', 11, 0, 10, 'hello wax there'],
    ]);
  });

  it('only templates of equally many words that differ in one place are put together', () => {
    const mixed = [...words(11, (word) => `hello ${word}`), ...words(5, (word) => `hello ${word} there`)];
    const templates = found(mixed).map(([template]) => template);
    expect(templates).toHaveLength(6);
    expect(templates).toContain('hello *');
  });

  it('the largest group goes first, of equal ones the earliest place, until none is left', () => {
    // Twelve words in the second place, eleven in the first; both hold the text "wax wax".
    const texts = [...words(12, (word) => `wax ${word}`), ...words(11, (word) => `${word} wax`)];
    const templates = found(texts).map(([template, events]) => [template, events]);
    expect(templates).toContainEqual(['wax *', 13]);
    // What the larger group took is gone from the smaller, which is then too small.
    expect(templates).toHaveLength(11);
    const both = words(11, (word) => word).flatMap((one) => words(11, (word) => `${one} ${word}`));
    expect(found(both)).toEqual([['* *', 121, 0, 120, 'wax wax']]);
  });

  it('tells times and share where texts are known to stand for many', () => {
    const shapes = new Shapes();
    shapes.add('one', 5, 3, 9);
    shapes.add('one', 6);
    shapes.add('two', null);
    expect(shapes.size).toBe(2);
    expect(shapes.found()).toEqual([
      { template: 'two', events: 1, share: 0.2, first: null, last: null, example: 'two' },
      { template: 'one', events: 4, share: 0.8, first: 5, last: 9, example: 'one' },
    ]);
  });
});
