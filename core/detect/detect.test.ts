import { makeEvents } from '../wick/tests/events.js';
import { completedWindows, type Hit } from './event-count.js';
import { groupSubject, usualSubject } from './subject.js';

const hits = (...times: readonly number[]): Hit[] =>
  times.map((time, seq) => ({ eventId: `h${seq}`, time, seq }));
const rule = { timespan: 10, condition: [{ sign: 'gte' as const, count: 3 }] };
const windows = (given: readonly Hit[]): string[][] =>
  completedWindows(given, rule).map((window) => window.hits.map((hit) => hit.eventId));

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
    expect(completedWindows(hits(0, 1, 2), { timespan: 10, condition })).toHaveLength(1);
    expect(completedWindows([], rule)).toEqual([]);
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
    expect(groupSubject(withUser, ['dept', 'user'])).toEqual({
      fields: { dept: 'quay', user: 'a' },
      text: 'quay, a',
    });
    expect(groupSubject(withUser, ['user', 'city'])).toBeNull();
    expect(groupSubject(withUser, [])).toEqual({ fields: {}, text: '' });
  });
});
