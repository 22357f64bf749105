import { compileFollowable } from '../../core/wick/followable.js';
import { noLists } from '../../core/wick/in-memory/environment.js';
import { Caller, send, signInRecord, testServer, type TestServer } from '../tests/server.js';
import { Follower } from './follow.js';

let server: TestServer;
let reader: Caller;
beforeAll(async () => {
  server = await testServer();
  reader = await new Caller(server).signIn('reader');
  await new Caller(server)
    .signIn('analyst')
    .then((analyst) =>
      analyst.call('PUT', '/lists/watched', { match: 'exact', key: 'user', rows: [{ user: 'Runa.Keel' }] }),
    );
});
afterAll(() => server.stop());

/** Reads server-sent events off an open answer until one fits. */
class Stream {
  private rest = '';
  readonly heard: { event: string; data: any }[] = [];
  private readonly reader: ReadableStreamDefaultReader<Uint8Array>;

  constructor(response: Response) {
    if (response.body === null) throw new Error('no body');
    this.reader = response.body.getReader();
  }

  async until(fits: (event: string, data: any) => boolean): Promise<any> {
    for (;;) {
      const { value, done } = await this.reader.read();
      if (done) throw new Error('the stream ended');
      this.rest += new TextDecoder().decode(value);
      const blocks = this.rest.split('\n\n');
      this.rest = blocks.pop() ?? '';
      for (const block of blocks) {
        const [, event = '', data = 'null'] = /^event: (.*)\ndata: (.*)$/s.exec(block) ?? [];
        this.heard.push({ event, data: JSON.parse(data) });
        if (fits(event, JSON.parse(data))) return JSON.parse(data);
      }
    }
  }

  stop(): Promise<void> {
    return this.reader.cancel();
  }
}

const follow = async (text: string): Promise<Stream> =>
  new Stream(await reader.fetch('GET', `/hunts/follow?text=${encodeURIComponent(text)}`));
const withRows = (event: string, data: any): boolean => event === 'news' && data.rows.length > 0;

it('what comes in and fits is told, late events and lists included, and nothing else', async () => {
  const stream = await follow('from signin\nwhere user in list watched\nshow user, outcome');
  const { columns } = await stream.until((event) => event === 'columns');
  expect(columns.map(({ name }: { name: string }) => name)).toEqual(['user', 'outcome']);
  await send(
    server,
    'harbour-id',
    [
      signInRecord({ user: 'teo.marrash' }),
      signInRecord({ user: 'runa.keel', at: '2026-10-01T00:00:00Z' }),
      signInRecord({ user: 'runa.keel', denied: 'bad_password' }),
    ].join('\n'),
  );
  const news = await stream.until(withRows);
  expect(news.rows).toEqual([
    ['runa.keel', 'failure'],
    ['runa.keel', 'success'],
  ]);
  expect(news).toMatchObject({ read: 3, matched: 2, passedOver: 0 });
  expect(news.events[0].id).toMatch(/^[0-9a-f]{32}$/);
  await stream.stop();
});

it('says where a hunt that makes a table is followed only in part', async () => {
  const stream = await follow('from signin\ntally count() per user');
  const { notes } = await stream.until((event) => event === 'columns');
  expect(notes).toEqual([expect.stringContaining('Line 2 (tally) needs all rows')]);
  await stream.stop();
});

it('records that are known already are not told again', async () => {
  const stream = await follow('from signin\nshow user');
  await stream.until((event) => event === 'columns');
  const known = signInRecord({ user: 'ines.vaal' });
  await send(server, 'harbour-id', known);
  await stream.until(withRows);
  await send(server, 'harbour-id', known);
  await send(server, 'harbour-id', signInRecord({ user: 'dov.aster' }));
  expect((await stream.until(withRows)).rows).toEqual([['dov.aster']]);
  await stream.stop();
});

it('a mistake is told like any other, and strangers hear nothing', async () => {
  const wrong = await reader.call(
    'GET',
    `/hunts/follow?text=${encodeURIComponent('from signin\nwhere usr = 1')}`,
  );
  expect([wrong.status, wrong.json.place.line]).toEqual([422, 2]);
  expect((await new Caller(server).call('GET', '/hunts/follow?text=from%20all')).status).toBe(401);
});

it('what waits for a slow reader is bounded, and what is dropped is counted', () => {
  const { plan } = compileFollowable('from all\nshow user', { window: { from: 0, to: 1e9 }, now: 1e9 });
  const follower = new Follower(plan, noLists);
  for (let batch = 0; batch < 3; batch++)
    follower.look(
      Array.from({ length: 1000 }, (_, i) => ({
        id: `${batch}-${i}`,
        time: batch * 1000 + i,
        user: `u${batch}`,
      })),
    );
  follower.passOver(7);
  const news = follower.take();
  expect(news.rows).toHaveLength(2000);
  expect(news.rows[0]).toEqual(['u2']);
  expect(news).toMatchObject({ read: 3000, matched: 3000, passedOver: 1007 });
  expect(follower.take()).toEqual({ rows: [], events: [], read: 0, matched: 0, passedOver: 0 });
});
