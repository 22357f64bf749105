import { compileHunt } from '../wick/compile.js';
import { leftOut, onlyWithValue, rankingOf, withoutWord, withRanking, withWordAgain } from './edit-hunt.js';

const window = { from: 0, to: 1_000_000 };
const compiles = (text: string): string => {
  compileHunt(text, { window, now: window.to });
  return text;
};
const tally = 'from web\nwhere finding is not null\ntally count() as attacks per src_ip';

describe('top and bottom are steps', () => {
  it('which are read where they stand, and written where they belong', () => {
    expect(rankingOf(tally)).toBeNull();
    const top = compiles(withRanking(tally, { way: 'top', many: 10 }, 'attacks'));
    expect(top).toBe(`${tally}\nsort attacks desc\nfirst 10`);
    expect(rankingOf(top)).toEqual({ way: 'top', many: 10 });
    const bottom = compiles(withRanking(top, { way: 'bottom', many: 5 }, 'attacks'));
    expect(bottom).toBe(`${tally}\nsort attacks\nfirst 5`);
    expect(rankingOf(bottom)).toEqual({ way: 'bottom', many: 5 });
  });

  it('a name with spaces is quoted; steps before the tally are left alone', () => {
    const text = 'from web\nsort time\nfirst 100\ntally count() as "so many" per host';
    expect(rankingOf(text)).toBeNull();
    expect(compiles(withRanking(text, { way: 'top', many: 3 }, 'so many'))).toBe(
      `${text}\nsort "so many" desc\nfirst 3`,
    );
  });
});

describe('words that are left out are steps', () => {
  it('before what counts, read again and taken away again', () => {
    const one = compiles(withoutWord(`${tally}\nfirst 5`, { field: 'user_agent', word: "it's" }));
    expect(one).toContain("where user_agent not like '%it''s%'\ntally");
    expect(leftOut(one)).toEqual([{ field: 'user_agent', word: "it's" }]);
    expect(withWordAgain(one, { field: 'user_agent', word: "it's" })).toBe(`${tally}\nfirst 5`);
    expect(withoutWord(one, { field: 'user_agent', word: "it's" })).toBe(one);
  });

  it('without a tally before what only arranges rows', () => {
    expect(compiles(withoutWord('from web\nsort time\nfirst 5', { field: 'host', word: 'x' }))).toBe(
      "from web\nwhere host not like '%x%'\nsort time\nfirst 5",
    );
    expect(compiles(onlyWithValue(tally, 'country'))).toContain('where country is not null\ntally');
  });
});
