import fc from 'fast-check';
import { DAY, HOUR, parseInstant } from '../base/instant.js';
import { compileHunt } from '../wick/compile.js';
import { type Board, type Card, type Place, refreshOf } from './board.js';
import { addCard, freshId, inReadingOrder, overlap, putCard, removeCard, settle } from './layout.js';
import { inputsOf } from './inputs.js';
import { questionOf } from './questions.js';
import { mistakesOf, readBoard } from './read-board.js';
import { readyMade } from './ready-made/index.js';
import { dossierBoards } from './subjects/index.js';
import { readTemplate } from './sentence.js';
import { asksOf } from '../wick/compile.js';

const card = (id: string, hunt = 'from signin\ntally count() per user', more: Partial<Card> = {}): Card => ({
  id,
  title: id.toUpperCase(),
  hunt,
  picture: { kind: 'ranked' },
  ...more,
});
const board = (...cards: Card[]): Board =>
  cards.reduce<Board>((sheet, one) => addCard(sheet, one), { title: 'A board', cards: [], layout: [] });

describe('a board is read from JSON', () => {
  it('as others write it: with what is told along with it, and without places', () => {
    const { board: read } = readBoard(
      JSON.stringify({
        id: 7,
        title: 'T',
        owner: 'x',
        shared: 'me',
        version: 3,
        refresh: '5m',
        cards: [card('a'), card('b')],
      }),
    );
    expect(read).toMatchObject({ title: 'T', refresh: '5m', layout: [{ card: 'a' }, { card: 'b' }] });
    expect(read).not.toHaveProperty('owner');
    expect(refreshOf(read ?? {})).toBe(300);
  });

  const text = (of: object): string => JSON.stringify(of, null, 2);
  it.each([
    ['{"title": "T",\n "cards": [,]}', 2, 'no JSON'],
    [text({ title: 'T', cards: [], layout: [], colour: 'red' }), 5, '"colour", which is not known'],
    [
      text({ title: 'T', cards: [{ ...card('a'), picture: { kind: 'rankd' } }], layout: [] }),
      9,
      'Did you mean "ranked"?',
    ],
    [text({ title: 'T', cards: [{ id: 'a', title: 'A' }], layout: [] }), 4, 'needs a "hunt"'],
    [text({ title: 'T', cards: [card('a'), card('a')], layout: [] }), 13, 'Two cards are called "a"'],
    [
      text({ title: 'T', cards: [card('a')], layout: [{ card: 'b', x: 0, y: 0, w: 4, h: 4 }] }),
      15,
      'Did you mean "a"?',
    ],
    [
      text({ title: 'T', cards: [card('a')], layout: [{ card: 'a', x: 10, y: 0, w: 4, h: 4 }] }),
      15,
      'beyond the twelfth column',
    ],
    [
      text({ title: 'T', cards: [card('a', 'from all', { picture: { kind: 'sentences' } })], layout: [] }),
      8,
      'need a "template"',
    ],
  ])('and every mistake is told with its place: %#', (given, line, message) => {
    const { board: read, mistakes } = readBoard(given);
    expect(read).toBeNull();
    expect(mistakes[0]).toMatchObject({ line, message: expect.stringContaining(message) });
  });

  it('never more than a board may hold, and never a text without end', () => {
    expect(readBoard(' '.repeat(500_001)).mistakes[0]?.message).toContain('at most');
    const many = { title: 'T', cards: Array.from({ length: 41 }, (_, i) => card(`c${i}`)), layout: [] };
    expect(readBoard(JSON.stringify(many)).mistakes[0]?.message).toContain('40');
    const deep = `${'['.repeat(50_000)}${']'.repeat(50_000)}`;
    expect(readBoard(deep).board).toBeNull();
  });

  it('two cards that ask for the same in different ways are told', () => {
    const one = card('a', "ask who 'User' any\nfrom all\nwhere user = $who");
    const other = card('b', "ask who 'Somebody' any\nfrom all\nwhere user = $who");
    expect(mistakesOf(board(one, other))[0]?.message).toContain('"who" in different ways');
    expect(mistakesOf(board(one, { ...one, id: 'b' }))).toEqual([]);
    const { inputs } = inputsOf(
      [one, other].map(({ id, hunt }) => ({ card: id, asks: asksOf(hunt as string) })),
    );
    expect(inputs.map(({ label }) => label)).toEqual(['User']);
  });
});

describe('cards lie where they are put, and none over another', () => {
  const places = fc.array(
    fc.record({
      x: fc.integer({ min: -3, max: 14 }),
      y: fc.integer({ min: 0, max: 30 }),
      w: fc.integer({ min: 0, max: 14 }),
      h: fc.integer({ min: 0, max: 12 }),
    }),
    { minLength: 1, maxLength: 10 },
  );
  const sound = (layout: readonly Place[]): boolean =>
    layout.every(
      (one) =>
        one.x >= 0 && one.x + one.w <= 12 && one.y >= 0 && !layout.some((other) => overlap(one, other)),
    );

  it('whatever is moved, made larger or taken away', () => {
    fc.assert(
      fc.property(places, fc.integer({ min: 0, max: 9 }), (moves, out) => {
        let now = board(...moves.map((_, i) => card(`c${i}`)));
        expect(sound(now.layout)).toBe(true);
        for (const [i, move] of moves.entries()) {
          now = putCard(now, `c${i}`, move);
          expect(sound(now.layout)).toBe(true);
        }
        const left = removeCard(now, `c${out}`);
        expect(sound(left.layout)).toBe(true);
        expect(left.layout).toHaveLength(left.cards.length);
      }),
    );
  });

  it('a card that is put somewhere stays there; those in its way go down', () => {
    const now = putCard(board(card('a'), card('b'), card('c')), 'c', { x: 0, y: 0 });
    expect(now.layout.find((one) => one.card === 'c')).toMatchObject({ x: 0, y: 0 });
    expect(now.layout.find((one) => one.card === 'a')).toMatchObject({ x: 0, y: 5 });
    expect(inReadingOrder(now.layout).map((one) => one.card)).toEqual(['c', 'b', 'a']);
  });

  it('no row stays empty above', () => {
    expect(settle([{ card: 'a', x: 0, y: 9, w: 4, h: 2 }])).toEqual([{ card: 'a', x: 0, y: 0, w: 4, h: 2 }]);
  });

  it('new cards have names of their own', () => {
    expect([
      freshId(board(), 'Wie viele? Ä'),
      freshId(board(card('top')), 'Top'),
      freshId(board(), '☂'),
    ]).toEqual(['wie-viele-a', 'top-2', 'card']);
  });
});

describe('what a card asks under a Beam', () => {
  const to = parseInstant('2026-11-29T18:30:00Z') ?? 0;
  const view = { window: { from: to - 3 * HOUR, to }, zone: 'Europe/Lisbon', carried: [], inputs: {} };
  const hunt = "ask gate 'Gate' any\nfrom web\nwhere host = $gate\ntally count() as n per finding";
  const ask = (of: Card, more: object = {}) =>
    questionOf(of, of.hunt as string, { ...view, ...more }, parseInstant);

  it('only the inputs it names; its own window ends with the Beam', () => {
    const asked = ask(card('a', hunt, { window: { last: '30d' } }), {
      inputs: { GATE: 'gate-01', other: 'x' },
    });
    expect(asked.parameters).toEqual({ GATE: 'gate-01' });
    expect(asked.window).toEqual({ from: to - 30 * DAY, to });
    expect(ask(card('a', hunt)).window).toEqual(view.window);
  });

  it('"day" is the calendar day of the zone, the Beam’s end in it', () => {
    const day = (zone: string, end: string) => {
      const at = parseInstant(end) ?? 0;
      return ask(card('a', hunt, { window: { last: 'day' } }), { zone, window: { from: at - HOUR, to: at } })
        .window;
    };
    expect(day('Europe/Lisbon', '2026-07-03T22:30:00Z')).toEqual({
      from: parseInstant('2026-07-02T23:00:00Z'),
      to: parseInstant('2026-07-03T23:00:00Z'),
    });
    // The night in which the clock goes back is an hour longer.
    const long = day('Europe/Lisbon', '2026-10-25T12:00:00Z');
    expect(long.to - long.from).toBe(25 * HOUR);
    // Midnight belongs to the day that ends.
    expect(day('UTC', '2026-07-03T00:00:00Z').from).toBe(parseInstant('2026-07-02T00:00:00Z'));
  });

  it('a value that is carried and counted by is marked, and takes nothing away; others narrow', () => {
    const carried = ["finding = 'it''s'", "user != 'svc'"];
    expect(ask(card('a', hunt), { carried })).toMatchObject({
      carried: ["user != 'svc'"],
      marked: [{ field: 'finding', value: "it's" }],
    });
    const single = card('b', 'from web\nsort time');
    expect(ask(single, { carried })).toMatchObject({ carried, marked: [] });
    // A hunt that cannot be read is narrowed; its mistake is told when it is asked.
    expect(ask(card('c', 'from web\nwhere nothing'), { carried }).carried).toEqual(carried);
  });
});

it('a sentence is words and columns; braces that close nothing are words', () => {
  expect(readTemplate('{user} gave *{what}* to {x')).toEqual([
    { text: '', column: 'user', strong: false },
    { text: ' gave ', column: null, strong: false },
    { text: '', column: 'what', strong: true },
    { text: ' to {x', column: null, strong: false },
  ]);
});

describe('the boards that ship', () => {
  it.each(Object.entries({ ...readyMade, ...dossierBoards }))(
    '%s can be shown, and each of its hunts runs',
    (_, shipped) => {
      expect(mistakesOf(shipped)).toEqual([]);
      const window = { from: 100 * DAY, to: 101 * DAY };
      const view = { window, zone: 'UTC', carried: [], inputs: {} };
      for (const one of shipped.cards) {
        if (typeof one.hunt !== 'string') continue;
        const asked = questionOf(one, one.hunt, view, parseInstant);
        const parameters =
          shipped.for === undefined || shipped.for === 'desk' ? {} : { subject: '192.0.2.1' };
        expect(() =>
          compileHunt(asked.text, { window: asked.window, now: window.to, parameters }),
        ).not.toThrow();
      }
    },
  );
});
