import { DAY, HOUR, MINUTE } from '../../base/instant.js';
import { isKind } from '../../events/kinds.js';
import { namedBy, subjectKinds } from '../../subjects/kinds.js';
import { compileHunt } from '../../wick/compile.js';
import { runInMemory } from '../../wick/in-memory/run.js';
import { makeEvents } from '../../wick/tests/events.js';
import { smallestOf } from '../layout.js';
import { dossierBoards, subjectBoards } from './index.js';
import { inColumns, lanesHunt, markMinutes, MARKS, usualLanesHunt } from './subject-board.js';

const from = Date.parse('2026-11-14T00:00:00Z') * 1000;
const window = { from, to: from + DAY };

describe.each(subjectKinds)('the dossier of a %s', (kind) => {
  const of = subjectBoards[kind];

  it('has lanes of kinds of events that there are, none of which stands on two', () => {
    const kinds = of.lanes.flatMap((lane) => lane.kinds);
    expect(kinds.every(isKind)).toBe(true);
    expect(new Set(kinds).size).toBe(kinds.length);
    expect(new Set(of.lanes.map(({ name }) => name)).size).toBe(of.lanes.length);
  });

  it('asks every hunt about the subject alone, over its lanes and their past as well', () => {
    const parameters = { subject: '192.0.2.1' };
    for (const hunt of [lanesHunt(of, 5), usualLanesHunt(of), ...of.board.cards.map((card) => card.hunt)]) {
      if (typeof hunt !== 'string') continue;
      expect(hunt).toContain(`about ${kind} $subject`);
      const month = { from: window.to - 30 * DAY, to: window.to };
      expect(() => compileHunt(hunt, { window: month, now: window.to, parameters })).not.toThrow();
    }
  });

  it('places each card once, no smaller than it may be, and says what is new, near and alerted', () => {
    const { cards, layout } = of.board;
    expect(layout.map(({ card }) => card).sort()).toEqual(cards.map(({ id }) => id).sort());
    for (const card of cards) {
      const place = layout.find((one) => one.card === card.id);
      const least = smallestOf(card);
      expect([card.id, (place?.w ?? 0) >= least.w, (place?.h ?? 0) >= least.h]).toEqual([
        card.id,
        true,
        true,
      ]);
    }
    expect(cards.flatMap(({ shows }) => shows ?? [])).toEqual(
      expect.arrayContaining(['firsts', 'alerts-about', 'neighbours']),
    );
    expect(of.board.for).toBe(kind);
    expect(dossierBoards[`dossier-${kind}`]).toBe(of.board);
    expect(namedBy[kind].names).toContain(namedBy[kind].chief);
  });
});

it('lanes tell what got through, what did not, and how many records, stretch by stretch', () => {
  const events = makeEvents([
    { time: '2026-11-14T01:00:00Z', kind: 'signin', user: 'teo', outcome: 'failure' },
    { time: '2026-11-14T01:10:00Z', kind: 'signin', user: 'teo', outcome: 'failure' },
    { time: '2026-11-14T01:20:00Z', kind: 'signin', user: 'teo', outcome: 'success' },
    { time: '2026-11-14T02:00:00Z', kind: 'query', user: 'teo', outcome: 'success', records: 184_000 },
    { time: '2026-11-14T02:00:00Z', kind: 'finding', user: 'teo' },
    { time: '2026-11-14T02:00:00Z', kind: 'query', user: 'runa', outcome: 'success', records: 5 },
  ]);
  const parameters = { subject: 'teo' };
  const plan = compileHunt(lanesHunt(subjectBoards.user, 30), { window, now: window.to, parameters });
  const names = plan.columns.map(({ name }) => name);
  const at = (name: string): number => names.indexOf(name);
  const rows = runInMemory(plan, events).rows.map((row) =>
    ['lane', 'outcome', 'events', 'records'].map((name) => row[at(name)]),
  );
  expect(rows).toHaveLength(3);
  expect(rows).toEqual(
    expect.arrayContaining([
      ['sign-in', 'failure', 2, null],
      ['sign-in', 'success', 1, null],
      ['data', 'success', 1, 184_000],
    ]),
  );
});

it.each([
  [HOUR, 1],
  [6 * HOUR, 5],
  [DAY, 30],
  [7 * DAY, 180],
  [30 * DAY, 720],
])('a window of %d microseconds has marks of %d minutes', (length, minutes) => {
  expect(markMinutes({ from, to: from + length })).toBe(minutes);
  expect(length / (minutes * MINUTE)).toBeLessThanOrEqual(MARKS);
});

it('columns stand beside each other, their cards below each other', () => {
  expect(
    inColumns(
      [4, 5, 3],
      [
        [
          ['a', 2],
          ['b', 3],
        ],
        [['c', 4]],
        [],
      ],
    ),
  ).toEqual([
    { card: 'a', x: 0, y: 0, w: 4, h: 2 },
    { card: 'b', x: 0, y: 2, w: 4, h: 3 },
    { card: 'c', x: 4, y: 0, w: 5, h: 4 },
  ]);
});
