import { followStep, MAX_LIVE_ROWS, notFollowed, paceOf, type Followed } from './use-follow.js';
import { withLive } from './with-live.js';
import type { HuntRun } from '../../results/use-hunt-run.js';

const columns = [{ name: 'user', type: 'text' as const, field: 'user' }];
const rowsOf = (...ids: string[]) => ({
  rows: ids.map((id) => [`user of ${id}`]),
  events: ids.map((id) => ({ id, time: '2026-11-14T08:00:00Z' })),
});
const news = (followed: Followed, ...ids: string[]): Followed =>
  followStep(followed, {
    change: 'news',
    news: { ...rowsOf(...ids), read: 4, matched: ids.length, passedOver: 0 },
  });
const open = followStep(notFollowed, { change: 'columns', columns, notes: ['a note'] });
const ids = (rows: { events: Followed['events'] }): (string | undefined)[] =>
  rows.events.map((event) => event?.id);

describe('what comes in', () => {
  it('stands on top of what came before', () => {
    expect(ids(news(news(open, 'a'), 'c', 'b'))).toEqual(['c', 'b', 'a']);
  });

  it('waits while it is held, and is shown in order when one goes on', () => {
    const held = news(followStep(news(open, 'a'), { change: 'pause', paused: true }), 'b');
    expect([ids(held), ids(held.waiting)]).toEqual([['a'], ['b']]);
    const on = followStep(news(held, 'c'), { change: 'pause', paused: false });
    expect([ids(on), ids(on.waiting)]).toEqual([['c', 'b', 'a'], []]);
  });

  it('waits under the pointer, and the pointer never undoes a hold', () => {
    const over = news(followStep(open, { change: 'point', over: true }), 'a');
    expect([ids(over), ids(over.waiting)]).toEqual([[], ['a']]);
    expect(ids(followStep(over, { change: 'point', over: false }))).toEqual(['a']);
    const held = followStep(over, { change: 'pause', paused: true });
    expect(ids(followStep(held, { change: 'point', over: false }))).toEqual([]);
  });

  it('is bounded, shown or waiting', () => {
    const many = Array.from({ length: MAX_LIVE_ROWS }, (_, i) => `m${i}`);
    expect(news(news(open, 'a'), ...many).rows).toHaveLength(MAX_LIVE_ROWS);
    const held = followStep(open, { change: 'pause', paused: true });
    expect(news(news(held, 'a'), ...many).waiting.rows).toHaveLength(MAX_LIVE_ROWS);
  });

  it('is counted, and its pace is reckoned over the last moments', () => {
    const followed = news(news(open, 'a'), 'b', 'c');
    expect(followed.matched).toBe(3);
    expect(paceOf(followed)).toEqual({ read: 8, matched: 3 });
    expect(paceOf(notFollowed)).toEqual({ read: 0, matched: 0 });
  });

  it('survives a break of the connection, and goes when the hunt changes', () => {
    const lost = followStep(news(open, 'a'), { change: 'lost', forGood: false });
    expect([lost.status, ids(lost)]).toEqual(['lost', ['a']]);
    expect(ids(followStep(lost, { change: 'columns', columns, notes: [] }))).toEqual(['a']);
    expect(followStep(lost, { change: 'lost', forGood: true }).status).toBe('refused');
    expect(ids(followStep(lost, { change: 'begun' }))).toEqual([]);
  });
});

describe('with what the run found', () => {
  const run = { columns, ...rowsOf('b', 'a') } as unknown as HuntRun;

  it('no row stands twice', () => {
    expect(ids(withLive(run, news(open, 'c', 'b')))).toEqual(['c', 'b', 'a']);
  });

  it('rows of a table give way to the events that are followed', () => {
    const table = { ...run, columns: [{ name: 'count', type: 'number', field: null }] } as unknown as HuntRun;
    const shown = withLive(table, news(open, 'c'));
    expect([ids(shown), shown.columns]).toEqual([['c'], columns]);
  });

  it('a run stays as it is until following has begun', () => {
    expect(withLive(run, notFollowed)).toBe(run);
  });
});
