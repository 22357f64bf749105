import { DAY, parseInstant } from '../../base/instant.js';
import { compileHunt } from '../compile.js';
import { growingTally, stretchesOf } from './growing-plan.js';
import { TallyMerger } from './merge-tally.js';
import { isNo } from './way.js';

const at = (text: string): number => parseInstant(text) ?? 0;
const to = at('2026-11-14T12:00:00Z');
const plan = (text: string, days = 30) =>
  compileHunt(text, { window: { from: to - days * DAY, to }, now: to });

describe('stretches', () => {
  it('begin with the newest day, at midnight, and grow; together they are the window', () => {
    const stretches = stretchesOf({ from: to - 30 * DAY, to });
    expect(stretches[0]).toEqual({ from: at('2026-11-14T00:00:00Z'), to });
    expect(stretches.map(({ from, to: end }) => Math.round((end - from) / DAY))).toEqual([1, 2, 4, 8, 16]);
    expect(stretches.at(-1)?.from).toBe(to - 30 * DAY);
    for (const [i, stretch] of stretches.slice(1).entries()) expect(stretch.to).toBe(stretches[i]?.from);
  });
  it('a short window is one', () =>
    expect(stretchesOf({ from: to - DAY / 2, to })).toEqual([{ from: to - DAY / 2, to }]));
});

describe('which tallies grow', () => {
  it.each([
    'from all\ntally count() per src_ip',
    "from signin\nwhere outcome = 'failure' and has 'x'\ntally count(distinct user), count() per src_ip, every 1d\nsort count desc\nfirst 5",
    'from all\ntally sum(bytes_out), avg(bytes_in), min(time), max(user) per host\nwhere sum_bytes_out > 3',
    'from all\ntally count() per src_ip\ntally count()',
    'from all over last 20d\ntally count() per src_ip',
  ])('%s', (text) => expect(isNo(growingTally(plan(text)))).toBe(false));
  it.each([
    ['a median needs all values', 'from all\ntally median(bytes_out) per host'],
    ['decimals would add up otherwise', 'from all\ntally sum(duration_ms) per host'],
    ['two sets of distinct values multiply', 'from all\ntally count(distinct user), count(distinct host)'],
    ['rows that are cut first', 'from all\nfirst 10\ntally count() per src_ip'],
    [
      'steps in order of time',
      'from all\ntally count() per src_ip, every 1h\nswing sum(count) as n every 1h against 7d',
    ],
  ])('not where %s', (_why, text) => expect(isNo(growingTally(plan(text)))).toBe(true));
});

describe('adding up', () => {
  const merge = (text: string, rows: readonly Record<string, string | number | null>[]) => {
    const growing = growingTally(plan(text));
    if (isNo(growing)) throw new Error('It should grow.');
    const merger = new TallyMerger(growing);
    const [keys, parts] = [
      growing.keys.map(({ slot }) => slot),
      growing.figures.flatMap((figure) => figure.parts.map(({ slot }) => slot)),
    ];
    for (const row of rows)
      merger.add(Object.fromEntries([...keys, ...parts].map((slot, i) => [slot, row[String(i)] ?? null])));
    return merger.rows();
  };
  it('counts, extremes, averages and distinct values of the same key', () => {
    const { rows } = merge(
      'from all\ntally count() as n, avg(bytes_in) as a, min(host) as h, count(distinct user) as u per src_ip',
      [
        { 0: '10.0.0.1', 1: 2, 2: 30, 3: 2, 4: 'b', 5: 'teo' },
        { 0: '10.0.0.1', 1: 1, 2: null, 3: 0, 4: 'a', 5: 'runa' },
        { 0: '10.0.0.1', 1: 1, 2: 3, 3: 1, 4: null, 5: 'teo' },
        { 0: null, 1: 1, 2: null, 3: 0, 4: null, 5: null },
      ],
    );
    expect(rows).toEqual([
      ['10.0.0.1', 4, 11, 'a', 2],
      [null, 1, null, null, 0],
    ]);
  });
  it('nothing at all is one row without keys, none with', () => {
    expect(merge('from all\ntally count(), sum(bytes_in)', []).rows).toEqual([[0, null]]);
    expect(merge('from all\ntally count() per src_ip', [])).toEqual({ rows: [], steps: [0] });
  });
});
