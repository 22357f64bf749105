import { DAY, HOUR } from '../base/instant.js';
import { compileHunt } from './compile.js';
import { explainPlan } from './explain.js';
import { slicesOf, withWindow } from './slices.js';

const to = 1000 * DAY + 5 * HOUR;
const plan = (text: string, days = 30) =>
  compileHunt(text, { window: { from: to - days * DAY, to }, now: to });

it('goes from the newest day back where each event is judged by itself', () => {
  const slices = slicesOf(plan("from signin\nwhere user = 'a'\nset x = lower(user)\nshow time, x"));
  expect(slices.map(({ from, to: end }) => (end - from) / DAY)).toEqual([1, 4, 16, 9]);
  expect(slices[0]?.to).toBe(to);
  expect(slices.at(-1)?.from).toBe(to - 30 * DAY);
  for (const [i, { from }] of slices.entries())
    if (i + 1 < slices.length) expect(slices[i + 1]?.to).toBe(from);
});

it.each(['sort user', 'first 3', 'tally count()', 'once per user', "read user matching '(?<a>x)'"])(
  'reads the whole window at once for: %s',
  (step) => {
    expect(slicesOf(plan(`from all\n${step}`))).toHaveLength(1);
  },
);

it('puts another window in place of the first', () => {
  const window = { from: 1, to: 2 };
  expect(withWindow(plan('from all'), window).steps[0]).toMatchObject({ step: 'from', window });
});

describe('explains in words', () => {
  it.each([
    ['from all\ntally count() per outcome', 'counts kept by the hour of source, kind, outcome'],
    ['from all\ntally count() per user, every 1d', 'counts kept by the day of source, user'],
    ['from all\ntally count() per user, every 1h', 'counted from events'],
    ['from all\ntally sum(bytes_out) per outcome', 'counted from events'],
    ['from all\nwhere bytes_out > 3\ntally count()', 'counted from events'],
    ["from all\nwhere user = 'a' and outcome = 'x'", 'by the index of user'],
    ["from all\nwhere src_ip in ('10.0.0.1', '10.0.0.2')", 'by the index of src_ip'],
    ["from all\nwhere user = 'a' or host = 'b'", 'newest day back'],
    ["from all\nwhere not has 'x'", 'Searches text'],
    ['from all', 'Reads events of 31 days'],
    ['from all\nshapes of message', 'streamed in the order they happened'],
    ["from all\nread message matching '(?<a>x)'", 'outside of the database'],
    ['from all\njoin ( from rights ) as r on user within 1h', 'only rows near each other meet'],
    ['from all\ntally count() per user\nback to all per user', 'read again for the keys found'],
  ])('%s', (text, words) => {
    expect(explainPlan(plan(text), 1).join('\n')).toContain(words);
  });

  it('stretches are told only where they are taken, and an index only where there is one', () => {
    const text = "from all\nwhere dst_ip = '10.0.0.1'\ntally count() per outcome, operation";
    expect(explainPlan(plan(text), 1).join('\n')).not.toMatch(/stretches|index/);
    expect(explainPlan(plan(text), 5).join('\n')).toContain('adds up 5 stretches');
  });
});
