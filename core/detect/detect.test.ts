import type { CorrelationType, CountSign, GroupField } from '../sigma/rule-model.js';
import { makeEvents } from '../wick/tests/events.js';
import { completedWindows, type Hit, type SameTime } from './windows.js';
import { groupReader, outerGroup, usualSubject } from './subject.js';

type NamedHit = Hit & { readonly eventId: string };
const hits = (...times: readonly number[]): NamedHit[] =>
  times.map((time, order) => ({ eventId: `h${order}`, time, order, referred: 0, value: null }));
const rule = {
  correlation: 'event_count' as CorrelationType,
  refers: [0],
  percentile: 50,
  timespan: 10,
  condition: [{ sign: 'gte' as CountSign, count: 3 }],
};
const windows = (
  given: readonly NamedHit[],
  more: Partial<typeof rule> = {},
  sameTime: SameTime = 'in their order',
): string[][] =>
  completedWindows(given, { ...rule, ...more }, sameTime).map((window) =>
    window.hits.map((hit) => hit.eventId),
  );

describe('event_count', () => {
  it('completes at the hit that makes the count, and spends the hits', () => {
    expect(windows(hits(0, 1, 2, 3, 4, 5, 6))).toEqual([
      ['h0', 'h1', 'h2'],
      ['h3', 'h4', 'h5'],
    ]);
  });
  it('slides over time, the span included', () => {
    expect(windows(hits(0, 8, 16, 18))).toEqual([['h1', 'h2', 'h3']]);
    expect(windows(hits(0, 5, 10))).toEqual([['h0', 'h1', 'h2']]);
    expect(windows(hits(0, 5, 11))).toEqual([]);
  });
  it('goes by event time, whatever the order of arrival', () => {
    expect(windows(hits(20, 1, 0, 2))).toEqual([['h2', 'h1', 'h3']]);
  });
  it('holds several conditions together', () => {
    const condition = [
      { sign: 'gt' as const, count: 1 },
      { sign: 'neq' as const, count: 2 },
    ];
    expect(windows(hits(0, 1, 2), { condition })).toHaveLength(1);
    expect(windows([])).toEqual([]);
  });
});

describe('values in a window', () => {
  const valued = (...values: readonly (string | null)[]): NamedHit[] =>
    values.map((value, at) => ({ eventId: `h${at}`, time: at, order: at, referred: 0, value }));
  const completes = (
    correlation: CorrelationType,
    count: number,
    given: readonly NamedHit[],
    percentile = 50,
  ) =>
    windows(given, { correlation, percentile, condition: [{ sign: 'gte', count }] }).map((one) => one.at(-1));
  it.each<[CorrelationType, number, (string | null)[], (string | undefined)[]]>([
    ['value_count', 2, ['a', 'a', null, 'b', 'b'], ['h3']],
    ['value_sum', 10, ['4', 'x', '5', '1', '3'], ['h3']],
    ['value_avg', 5, ['2', '4', '10', null], ['h2']],
    ['value_median', 5, ['1', '5', '9'], ['h2']],
    ['value_percentile', 7, ['1', '5', '8', '2'], ['h2']],
    ['value_sum', 1, [null, 'x'], []],
  ])('%s of at least %d over %j', (type, count, values, last) =>
    expect(completes(type, count, valued(...values), type === 'value_percentile' ? 90 : 50)).toEqual(last),
  );
  it('forget what falls out', () => {
    const apart = valued('6', '6').map((hit, i) => ({ ...hit, time: i * 11 }));
    expect(completes('value_sum', 10, apart)).toEqual([]);
  });
});

describe('several rules in a window', () => {
  const of = (...referred: readonly number[]): NamedHit[] =>
    referred.map((one, at) => ({ eventId: `h${at}`, time: at, order: at, referred: one, value: null }));
  const temporal = (
    correlation: 'temporal' | 'temporal_ordered',
    given: readonly NamedHit[],
    sameTime?: SameTime,
  ) => windows(given, { correlation, refers: [3, 5, 7], condition: [] }, sameTime);
  it('are all there, in any order', () => {
    expect(temporal('temporal', of(5, 3, 3, 7))).toEqual([['h0', 'h1', 'h2', 'h3']]);
    expect(temporal('temporal', of(5, 5, 3))).toEqual([]);
  });
  it('or follow each other as they are named', () => {
    expect(temporal('temporal_ordered', of(5, 3, 7, 5))).toEqual([]);
    expect(temporal('temporal_ordered', of(5, 3, 7, 5, 7))).toEqual([['h0', 'h1', 'h2', 'h3', 'h4']]);
  });
  it('of the same time, as records stand in a file, or in any order where that is not known', () => {
    const together = of(7, 5, 3).map((hit) => ({ ...hit, time: 1 }));
    expect(temporal('temporal_ordered', together)).toEqual([]);
    expect(temporal('temporal_ordered', together, 'in any order')).toEqual([['h0', 'h1', 'h2']]);
    const half = of(5, 3, 7).map((hit, at) => ({ ...hit, time: Math.min(at, 1) }));
    expect(temporal('temporal_ordered', half, 'in any order')).toEqual([]);
    const mixed = of(3, 7, 5).map((hit, at) => ({ ...hit, time: Math.min(at, 1) }));
    expect(temporal('temporal_ordered', mixed)).toEqual([]);
    expect(temporal('temporal_ordered', mixed, 'in any order')).toEqual([['h0', 'h1', 'h2']]);
  });
  it('and one that is named twice has to match twice', () => {
    const again = (given: readonly NamedHit[], sameTime?: SameTime): string[][] =>
      windows(given, { correlation: 'temporal_ordered', refers: [3, 5, 3], condition: [] }, sameTime);
    expect(again(of(3, 5))).toEqual([]);
    expect(again(of(3, 3, 5, 3))).toEqual([['h0', 'h1', 'h2', 'h3']]);
    expect(
      again(
        of(3, 5).map((hit) => ({ ...hit, time: 1 })),
        'in any order',
      ),
    ).toEqual([]);
  });
  it('within the span', () => {
    const late = of(3, 5, 7).map((hit, i) => ({ ...hit, time: i * 6 }));
    expect(temporal('temporal', late)).toEqual([]);
  });
});

describe('subjects', () => {
  const [withUser, withHost, bare] = makeEvents([
    { time: '2026-11-14', user: 'a', src_ip: '10.0.0.1', original: { dept: 'quay', list: [1, 2] } },
    { time: '2026-11-14', host: 'h', source: null },
    { time: '2026-11-14', source: null },
  ]);
  it('are the user before the address before the host', () => {
    expect(
      [withUser, withHost, bare].map((event) => (event === undefined ? '' : usualSubject(event).text)),
    ).toEqual(['a', 'h', '']);
  });
  it('are the group, where every field is there', () => {
    if (withUser === undefined) throw new Error('There is an event.');
    const group = (...names: string[]): GroupField[] => names.map((name) => ({ name, per: new Map() }));
    expect(groupReader(group('dept', 'user'), 0)(withUser)).toEqual({
      fields: { dept: 'quay', user: 'a' },
      text: 'quay, a',
    });
    expect(groupReader(group('user', 'city'), 0)(withUser)).toBeNull();
    expect(groupReader(group(), 0)(withUser)).toEqual({ fields: {}, text: '' });
    // An alias is read as each rule calls it.
    const alias: GroupField[] = [{ name: 'who', per: new Map([[1, 'user']]) }];
    expect(groupReader(alias, 1)(withUser)?.fields).toEqual({ who: 'a' });
    expect(groupReader(alias, 0)(withUser)).toBeNull();
    expect(outerGroup({ fields: { user: 'a' }, text: 'a' }, alias, 1)?.fields).toEqual({ who: 'a' });
    expect(outerGroup({ fields: { host: 'a' }, text: 'a' }, alias, 1)).toBeNull();
  });
});
