import { layPath } from './lanes.js';
import { turnWords } from './turn-words.js';

describe('lanes', () => {
  it('goes straight on, and turns off where another turn was taken before', () => {
    // 1 → 2 → 3, then back to 1 → 4 → 5, then back to 2 → 6
    const laid = layPath([
      { id: 1, parent: null },
      { id: 2, parent: 1 },
      { id: 3, parent: 2 },
      { id: 4, parent: 1 },
      { id: 5, parent: 4 },
      { id: 6, parent: 2 },
    ]);
    expect(laid.map(({ lane, from }) => [lane, from])).toEqual([
      [0, null],
      [0, 0],
      [0, 0],
      [1, 0],
      [1, 1],
      [2, 0],
    ]);
    // The lane to 4 passes 2 and 3, the one to 6 passes 3, 4 and 5.
    expect(laid.map(({ passing }) => passing)).toEqual([[], [1], [1, 2], [2], [2], []]);
    expect(laid.map(({ goesOn, turnsOff }) => [goesOn, turnsOff])).toEqual([
      [true, [1]],
      [true, [2]],
      [false, []],
      [true, []],
      [false, []],
      [false, []],
    ]);
  });
  it('of one point, and of none', () => {
    expect(layPath([{ id: 7, parent: null }])).toEqual([
      { id: 7, lane: 0, from: null, passing: [], goesOn: false, turnsOff: [] },
    ]);
    expect(layPath([])).toEqual([]);
  });
});

describe('what a turn asked otherwise', () => {
  const window = { from: '2026-11-13T00:00:00Z', to: '2026-11-14T00:00:00Z' };
  const before = { text: 'from signin\nsort user', window };
  it.each([
    [{ ...before, text: "from signin\nwhere user = 'x'\nsort user" }, "+ where user = 'x'"],
    [{ ...before, text: 'from signin' }, '− sort user'],
    [{ ...before, window: { ...window, from: '2026-11-13T22:00:00Z' } }, 'Beam: 13 Nov 22:00 – 14 Nov 00:00'],
    [{ ...before, last: '24h' }, 'Beam: last 24h'],
    [{ ...before, parameters: { who: 'teo' } }, 'who: teo'],
    [{ ...before, carried: ["user = 'x'"] }, "carries user = 'x'"],
    [{ ...before, text: 'sort user\nfrom signin' }, 'steps in another order'],
    [before, 'asked again'],
  ])('%j', (question, words) => expect(turnWords(question, before, 'UTC')).toBe(words));
  it('the first says its last step', () => expect(turnWords(before, null, 'UTC')).toBe('sort user'));
});
