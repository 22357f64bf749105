import { DAY, HOUR } from '../../base/instant.js';
import { compileHunt } from '../compile.js';
import { chooseWay } from './index.js';
import { slicesOf } from './newest-first.js';
import { withWindow } from './with-window.js';

const to = 1000 * DAY + 5 * HOUR;
const plan = (text: string, days = 30) =>
  compileHunt(text, { window: { from: to - days * DAY, to }, now: to });
const choose = (text: string, { days = 30, events = 10_000_000 } = {}) =>
  chooseWay(plan(text, days), { events });

it('slices reach further and further back, without a gap, to where the window begins', () => {
  const slices = slicesOf({ from: to - 30 * DAY, to });
  expect(slices.map(({ from, to: end }) => (end - from) / DAY)).toEqual([1, 4, 16, 9]);
  expect(slices[0]?.to).toBe(to);
  expect(slices.at(-1)?.from).toBe(to - 30 * DAY);
  for (const [i, { from }] of slices.entries())
    if (i + 1 < slices.length) expect(slices[i + 1]?.to).toBe(from);
});

it('puts another window in place of the first', () => {
  const window = { from: 1, to: 2 };
  expect(withWindow(plan('from all'), window).steps[0]).toMatchObject({ step: 'from', window });
});

describe('the first way that applies is taken', () => {
  it.each([
    ['counts kept beside the events', 'from all\ntally count() per outcome'],
    [
      'counts kept beside the events',
      "from all\nwhere source = 'harbour-id'\ntally count() per user, every 1d\nsort count",
    ],
    ['sightings by day', 'from all\ndebut src_ip per user in last 1d'],
    ['newest day first', "from signin\nwhere user = 'a'\nset x = lower(user)\nshow time, x"],
    ['newest day first', "from all\nread message as 'from <who>'"],
    ['growing tally', 'from all\ntally count() per src_ip'],
    ['growing tally', "from all\nwhere has 'x'\ntally sum(bytes_out) per outcome\nfirst 3"],
    ['one statement', 'from all\nsort user'],
    ['one statement', 'from all\nfirst 3'],
    ['one statement', 'from all\nonce per user'],
    ['one statement', "from all\nread user matching '(?<a>x)'"],
    ['one statement', 'from all\ntally median(bytes_out)'],
  ])('%s: %s', (way, text) => expect(choose(text).way).toBe(way));

  it('sightings stand for all events only', () =>
    expect(choose('from signin\ndebut src_ip per user in last 1d').way).toBe('one statement'));

  it('few events, or a short window, are counted in one statement', () => {
    expect(choose('from all\ntally count() per src_ip', { events: 500_000 }).way).toBe('one statement');
    expect(choose('from all\ntally count() per src_ip', { days: 2 }).way).toBe('one statement');
    expect(choose('from all', { days: 1 }).way).toBe('one statement');
  });

  it('a way that could not hold it all is passed over, and that is told', () => {
    const again = chooseWay(
      plan('from all\ntally count() per src_ip'),
      { events: 1e7 },
      new Set(['growing tally']),
    );
    expect(again.way).toBe('one statement');
    expect(again.passedOver.at(-1)).toEqual({
      way: 'growing tally',
      because: 'it was tried, and would have had to hold too much',
    });
  });
});

it('says why the ways before it do not do', () => {
  expect(
    Object.fromEntries(choose('from all\nsort user').passedOver.map(({ way, because }) => [way, because])),
  ).toEqual({
    'counts kept beside the events': 'no tally stands first whose columns are all among the counts',
    'sightings by day': 'no "debut" of a pair whose sightings are kept stands first over all events',
    'newest day first': '"sort" on line 2 needs rows of all days',
    'growing tally': 'no tally stands behind steps that judge each event by itself',
  });
  expect(choose('from all\ntally count() per outcome').passedOver).toEqual([]);
});

describe('says in words how a hunt is answered', () => {
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
  ])('%s', (text, words) => expect(choose(text).words.join('\n')).toContain(words));

  it('stretches are told only where they are taken, and an index only where there is one', () => {
    const text = "from all\nwhere dst_ip = '10.0.0.1'\ntally count() per outcome, operation";
    expect(choose(text, { events: 10 }).words.join('\n')).not.toMatch(/stretches|index/);
    expect(choose(text).words.join('\n')).toContain('adds up 5 stretches');
  });

  it('a tally that counts stand for is not said to be counted from events', () => {
    expect(choose('from all\ntally count() per outcome\nsort count desc').words.join('\n')).not.toContain(
      'counted from events',
    );
  });
});

it('the other side of a join is answered by counts where they stand for it', () => {
  const [part] = choose('from all\njoin (\n  from all\n  tally count() as n per user\n) as t on user').parts;
  expect([...(part?.substitutes.values() ?? [])].map(({ by }) => by)).toEqual(['counts']);
});

it('every part carries the substitutes of its own plan', () => {
  const { parts } = choose('from all\ntally count() per src_ip');
  expect(parts.length).toBeGreaterThan(2);
  expect(parts.map(({ plan: { window }, window: covered }) => window.from === covered.from)).not.toContain(
    false,
  );
});
