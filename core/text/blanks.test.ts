import fc from 'fast-check';
import { blanksToPostgres } from '../wick/emit-sql/read.js';
import { cutBlanks, type Blanks } from './blanks.js';

const pattern = (literals: string[], more: Partial<Blanks> = {}): Blanks => ({
  literals,
  rest: false,
  endsInBlank: true,
  ...more,
});

describe('37: blanks between literals', () => {
  it.each<[string, Blanks, string, string[] | null]>([
    [
      'the fewest characters, the last up to white space',
      pattern(['user=', ' from ']),
      'x user=a b from c d',
      ['a b', 'c'],
    ],
    ['anywhere, the earliest place', pattern(['=']), 'a=1 b=2', ['1']],
    ['a space fits any white space', pattern(['for ', ' at ']), 'for\t\tme  at\n noon', ['me', 'noon']],
    ['at least one character', pattern(['a=', ';'], { endsInBlank: false }), 'a=;b;', [';b']],
    ['the last literal again where nothing follows it', pattern(['k=', ' v=']), 'k=1 v= v=2', ['1 v=', '2']],
    ['the rest, with its white space', pattern([': '], { rest: true }), 'why: it  broke ', ['it  broke ']],
    ['no fit', pattern(['x', 'y']), 'xy', null],
    ['literals are exact', pattern(['a.b*']), 'axb* a.b*7', ['7']],
    ['a sign outside the basic plane is one', pattern(['', '=']), '😀=1', ['😀', '1']],
  ])('%s', (_name, blanks, text, cut) => {
    expect(cutBlanks(blanks)(text)).toEqual(cut);
  });

  it('agrees with the pattern that the database is given', () => {
    const character = fc.constantFrom('a', 'b', '=', ' ', '7');
    const literal = fc
      .array(character, { minLength: 1, maxLength: 3 })
      .map((characters) => characters.join(''));
    fc.assert(
      fc.property(
        fc.array(literal, { minLength: 1, maxLength: 3 }),
        fc.boolean(),
        fc.boolean(),
        fc.array(character, { maxLength: 14 }).map((characters) => characters.join('')),
        (literals, rest, endsInBlank, text) => {
          fc.pre(endsInBlank || literals.length > 1);
          const blanks: Blanks = { literals, rest: rest && endsInBlank, endsInBlank };
          // The same expression in this language's spelling: its lazy repeats take as little as they can, too.
          const source = blanksToPostgres(blanks)
            .replaceAll(/\\U([0-9a-f]{8})/g, (_, hex: string) => `\\u{${parseInt(hex, 16).toString(16)}}`)
            .replaceAll('\\Z', '$');
          const expected = new RegExp(source, 'su').exec(text)?.slice(1) ?? null;
          expect(cutBlanks(blanks)(text)).toEqual(expected);
        },
      ),
      { numRuns: 3000 },
    );
  });
});
