import { Caller, send, signInRecord, testServer, type TestServer } from '../tests/server.js';

let server: TestServer;
let analyst: Caller;
let reader: Caller;
beforeAll(async () => {
  server = await testServer();
  analyst = await new Caller(server).signIn('analyst');
  reader = await new Caller(server).signIn('reader');
  const at = (hour: number): string => new Date(Date.UTC(2026, 10, 13, hour)).toISOString();
  await send(
    server,
    'harbour-id',
    [
      signInRecord({ at: at(8), user: 'teo.marrash' }),
      signInRecord({ at: at(9), user: 'runa.keel' }),
      signInRecord({ at: at(20), user: '=cmd()' }),
    ].join('\n'),
  );
});
afterAll(() => server.stop());

const window = { from: '2026-11-13T00:00:00Z', to: '2026-11-14T00:00:00Z' };
const ask = (text: string, until = window.to) => ({ text, window: { ...window, to: until } });
const point = (text: string, parent?: number) => ({
  question: ask(text),
  rows: 3,
  complete: true,
  bars: [1, 0, 2],
  ...(parent !== undefined && { parent }),
});

describe('paths', () => {
  it('branch where another question is asked from a point; the same question makes none', async () => {
    const { json: root } = await analyst.call('POST', '/hunt-points', point('from signin'));
    expect(root).toMatchObject({ parent: null, path: root.id, name: '', bars: [1, 0, 2] });
    const { json: first } = await analyst.call('POST', '/hunt-points', point('from all', root.id));
    const { json: second } = await analyst.call('POST', '/hunt-points', point('from rights', root.id));
    expect([first.path, second.path, second.parent]).toEqual([root.id, root.id, root.id]);
    const again = await analyst.call('POST', '/hunt-points', { ...point('from all', root.id), rows: 9 });
    expect(again.json).toMatchObject({ id: first.id, rows: 9 });
    const same = await analyst.call('POST', '/hunt-points', point('from all', first.id));
    expect(same.json.id).toBe(first.id);
    const { json: path } = await analyst.call('GET', `/hunt-points/${second.id}/path`);
    expect(path.points.map(({ id }: { id: number }) => id)).toEqual([root.id, first.id, second.id]);
    const { json: all } = await analyst.call('GET', '/hunt-points');
    expect(all.points.map(({ id }: { id: number }) => id)).toContain(root.id);
  });

  it('are one’s own: nobody else sees, names or goes on from them', async () => {
    const { json: root } = await analyst.call('POST', '/hunt-points', point('from cloud'));
    expect((await reader.call('GET', `/hunt-points/${root.id}/path`)).status).toBe(404);
    expect((await reader.call('POST', '/hunt-points', point('from all', root.id))).status).toBe(404);
    expect((await reader.call('PATCH', `/hunt-points/${root.id}`, { name: 'x' })).status).toBe(404);
    const named = await analyst.call('PATCH', `/hunt-points/${root.id}`, { name: 'The spike' });
    expect(named.json.name).toBe('The spike');
    expect((await reader.call('GET', '/hunt-points')).json.points).toEqual([]);
  });

  it('old ones without a name are let go', async () => {
    const ids: number[] = [];
    for (let i = 0; i < 52; i++)
      ids.push((await reader.call('POST', '/hunt-points', point(`from signin\nfirst ${i + 1}`))).json.id);
    await reader.call('PATCH', `/hunt-points/${ids[2]}`, { name: 'Kept' });
    await reader.call('POST', '/hunt-points', point('from all'));
    const status = async (id: number | undefined) =>
      (await reader.call('GET', `/hunt-points/${id}/path`)).status;
    expect([await status(ids[0]), await status(ids[2]), await status(ids[51])]).toEqual([404, 200, 200]);
  });
});

describe('two points compared', () => {
  it('tells which rows are new, changed and gone', async () => {
    const tally = 'from signin\ntally count() per user';
    const { json } = await analyst.call('POST', '/hunts/compare', {
      before: ask(tally, '2026-11-13T09:30:00Z'),
      after: ask(`${tally}\nwhere user != 'teo.marrash'`),
    });
    expect(json).toMatchObject({ added: [['=cmd()', 1]], changed: [], same: 1, complete: true });
    expect(json.gone).toEqual([['teo.marrash', 1]]);
  });
  it('says which hunt is wrong', async () => {
    const { status, json } = await analyst.call('POST', '/hunts/compare', {
      before: ask('from signin'),
      after: ask('from sgnin'),
    });
    expect([status, json.detail]).toEqual([422, expect.stringContaining('sgnin')]);
  });
});

describe('snapshots', () => {
  it('keep rows as they were while more come in; everyone reads them, their owner removes them', async () => {
    const { json: made } = await analyst.call('POST', '/snapshots', {
      name: 'Who signed in',
      question: ask('from signin\nshow time, user'),
    });
    expect(made).toMatchObject({ owner: 'analyst', count: 3, complete: true });
    await send(server, 'harbour-id', signInRecord({ at: '2026-11-13T21:00:00Z', user: 'dov.aster' }));
    const { json: kept } = await reader.call('GET', `/snapshots/${made.id}`);
    expect(kept.rows).toEqual([
      ['2026-11-13T20:00:00Z', '=cmd()'],
      ['2026-11-13T09:00:00Z', 'runa.keel'],
      ['2026-11-13T08:00:00Z', 'teo.marrash'],
    ]);
    expect(kept.events[0]).toMatchObject({ time: '2026-11-13T20:00:00Z' });
    expect(kept.question).toEqual(ask('from signin\nshow time, user'));
    const csv = await (await reader.fetch('GET', `/snapshots/${made.id}/export?format=csv`)).text();
    expect(csv).toBe(
      "time,user\r\n2026-11-13T20:00:00Z,'=cmd()\r\n2026-11-13T09:00:00Z,runa.keel\r\n2026-11-13T08:00:00Z,teo.marrash\r\n",
    );
    expect((await reader.call('DELETE', `/snapshots/${made.id}`)).status).toBe(403);
    expect((await analyst.call('DELETE', `/snapshots/${made.id}`)).status).toBe(200);
    expect((await reader.call('GET', `/snapshots/${made.id}`)).status).toBe(404);
  });
  it('a hunt that is wrong is told, not kept', async () => {
    const { status, json } = await analyst.call('POST', '/snapshots', {
      name: 'x',
      question: ask('frm all'),
    });
    expect([status, json.place]).toEqual([422, expect.objectContaining({ line: 1 })]);
    expect((await analyst.call('GET', '/snapshots')).json.snapshots).toEqual([]);
  });
});

it('what the Beam carries narrows rows, timelines and files alike', async () => {
  const carried = ["user = 'teo.marrash'"];
  const { json } = await analyst.call('POST', '/hunts/run', { ...ask('from signin\nshow user'), carried });
  expect(json.rows).toEqual([['teo.marrash']]);
  expect(json.steps.map(({ keyword, rows }: { keyword: string; rows: number }) => [keyword, rows])).toEqual([
    ['from', 4],
    ['carried', 1],
    ['show', 1],
  ]);
  const { json: line } = await analyst.call('POST', '/hunts/timeline', { ...ask('from signin'), carried });
  expect(line.bars.map(({ count }: { count: number }) => count)).toEqual([1]);
  const address = new URLSearchParams({
    format: 'csv',
    text: 'from signin\nshow user',
    ...window,
    carried: JSON.stringify(carried),
  });
  expect(await (await analyst.fetch('GET', `/hunts/export?${address.toString()}`)).text()).toBe(
    'user\r\nteo.marrash\r\n',
  );
  address.set('carried', '{}');
  expect((await analyst.call('GET', `/hunts/export?${address.toString()}`)).status).toBe(400);
});
