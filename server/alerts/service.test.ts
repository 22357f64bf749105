import { addRule, Caller, send, signInRecord, testServer, type TestServer } from '../tests/server.js';

let server: TestServer;
let analyst: Caller;
beforeEach(async () => {
  server = await testServer();
  analyst = await new Caller(server).signIn('analyst');
});
afterEach(() => server.stop());

const at = (seconds: number): string =>
  new Date(Date.parse('2026-11-14T08:00:00Z') + seconds * 1000).toISOString();
const denied = (seconds: number, user: string): string =>
  signInRecord({ at: at(seconds), user, denied: 'bad_secret' });
const list = async (query = ''): Promise<any[]> => (await analyst.call('GET', `/alerts${query}`)).json.alerts;
const one = async (id: number): Promise<any> => (await analyst.call('GET', `/alerts/${id}`)).json;
const RULE =
  'title: Refused\nlevel: high\nlogsource: {product: harbour-id}\ndetection:\n  failed:\n    outcome: failure\n    result.why: [locked, bad_secret]\n  usual:\n    user: usual\n  condition: failed and not usual\n';

/** Three alerts of one rule: two matches of teo, one of ines and of runa. */
async function raiseThree(): Promise<number[]> {
  await addRule(analyst, RULE);
  await send(
    server,
    'harbour-id',
    [
      denied(0, 'teo.marrash'),
      denied(100, 'teo.marrash'),
      denied(5, 'ines.vaal'),
      denied(9, 'runa.keel'),
    ].join('\n'),
  );
  const all = await list();
  return ['teo.marrash', 'ines.vaal', 'runa.keel'].map(
    (user) => all.find(({ subject }) => subject === user).id,
  );
}

it('says why: which condition met which value, and what had to be otherwise', async () => {
  const [teo = 0] = await raiseThree();
  const { why, evidence } = await one(teo);
  const newest = evidence.at(-1).id;
  expect(why.filter(({ event }: any) => event === newest)).toEqual([
    { event: newest, document: 'Refused', field: 'outcome', value: 'failure', says: 'is "failure"' },
    { event: newest, document: 'Refused', field: 'result.why', value: 'bad_secret', says: 'is "bad_secret"' },
    { event: newest, document: 'Refused', field: 'user', value: 'teo.marrash', says: 'not: is "usual"' },
  ]);
});

it('is settled with a verdict only', async () => {
  const [teo = 0] = await raiseThree();
  expect(await analyst.call('PATCH', `/alerts/${teo}`, { state: 'settled', reason: 'no' })).toMatchObject({
    status: 422,
    json: { code: 'needs-verdict', detail: expect.stringContaining('real, harmless, wrong or unsure') },
  });
  expect(await one(teo)).toMatchObject({ state: 'unread', verdict: null });
});

it('lists what came up, grew or was worked on since a moment', async () => {
  const [, ines = 0] = await raiseThree();
  await server.database.pool.query("UPDATE alerts SET updated = now() - interval '2 hours'");
  const hourAgo = new Date(Date.now() - 3_600_000).toISOString();
  expect(await list(`?since=${hourAgo}`)).toEqual([]);
  await analyst.call('PATCH', `/alerts/${ines}`, { note: 'asked her', owner: 'analyst' });
  expect((await list(`?since=${hourAgo}`)).map(({ subject }) => subject)).toEqual(['ines.vaal']);
  expect(await analyst.call('GET', '/alerts?since=yesterday')).toMatchObject({ status: 400 });
});

it('filters by state, owner, severity, verdict and words; the queue tells when events happened', async () => {
  const [teo = 0, ines = 0] = await raiseThree();
  await analyst.call('PATCH', `/alerts/${teo}`, { state: 'looking' });
  await analyst.call('PATCH', `/alerts/${ines}`, {
    state: 'settled',
    verdict: 'harmless',
    reason: 'a new telephone',
  });
  const subjects = async (query: string): Promise<string[]> =>
    (await list(query)).map(({ subject }) => subject).sort();
  expect(await subjects('')).toEqual(['runa.keel', 'teo.marrash']);
  expect(await subjects('?state=mine')).toEqual(['teo.marrash']);
  expect(await subjects('?state=settled&verdict=harmless')).toEqual(['ines.vaal']);
  expect(await subjects('?state=settled&verdict=real')).toEqual([]);
  expect(await subjects('?state=all&level=high&find=KEEL')).toEqual(['runa.keel']);
  expect(await subjects('?level=low')).toEqual([]);
  const [row] = await list('?find=teo');
  expect([
    row.spark.length,
    row.spark[0],
    row.spark[23],
    row.spark.reduce((a: number, b: number) => a + b),
  ]).toEqual([24, 1, 1, 2]);
});

it('is settled with a reason, which later ones of its sort see; handed over, noted, put back', async () => {
  const [teo = 0, ines = 0] = await raiseThree();
  await analyst.call('PATCH', `/alerts/${ines}`, {
    state: 'settled',
    verdict: 'wrong',
    reason: 'the rule misread',
  });
  expect((await one(teo)).similar).toEqual([
    expect.objectContaining({ id: ines, verdict: 'wrong', reason: 'the rule misread', subject: 'ines.vaal' }),
  ]);
  await analyst.call('PATCH', `/alerts/${teo}`, { owner: 'admin', note: 'asked him' });
  expect(await one(teo)).toMatchObject({ state: 'looking', owner: 'admin' });
  expect((await analyst.call('PATCH', `/alerts/${teo}`, { owner: 'reader' })).json.code).toBe(
    'unknown-person',
  );
  await analyst.call('PATCH', `/alerts/${teo}`, { state: 'unread' });
  const { changes, owner } = await one(teo);
  expect([owner, changes.map(({ what }: any) => what)]).toEqual([
    null,
    ['handed to admin', 'noted: asked him', 'put back'],
  ]);
});

it('many are changed alike; those that cannot be are told', async () => {
  const ids = await raiseThree();
  const { json } = await analyst.call('PATCH', '/alerts', {
    ids: [...ids, 999],
    change: { state: 'settled', verdict: 'harmless' },
  });
  expect([json.changed.sort(), json.refused.map(({ id }: any) => id)]).toEqual([[...ids].sort(), [999]]);
  expect(await list()).toEqual([]);
});

it('takes others up: their matches and events go over, and they leave the queue', async () => {
  const [teo = 0, ines = 0, runa = 0] = await raiseThree();
  const merged = await analyst.call('POST', '/alerts/merge', { ids: [ines, runa], into: teo });
  expect(merged.json).toMatchObject({ id: teo, matches: 4 });
  expect((await list('?state=all')).map(({ id }) => id)).toEqual([teo]);
  expect((await one(teo)).evidenceTotal).toBe(4);
  expect(await one(ines)).toMatchObject({ state: 'settled', mergedInto: teo });
  expect((await analyst.call('PATCH', `/alerts/${ines}`, { state: 'looking' })).status).toBe(404);
  expect((await analyst.call('POST', '/alerts/merge', { ids: [teo], into: teo })).json.code).toBe(
    'into-itself',
  );
  expect((await analyst.call('POST', '/alerts/merge', { ids: [999], into: teo })).status).toBe(404);
});

it('a response is asked for and refused; an unknown one, or one that nobody can carry out, is told', async () => {
  const [teo = 0] = await raiseThree();
  const ask = (does: string) =>
    analyst.call('POST', `/alerts/${teo}/responses`, { does, subject: 'teo.marrash' });
  expect((await ask('shout')).json.code).toBe('unknown-response');
  await ask('revoke-sessions');
  const [response] = (await one(teo)).responses;
  const decide = (approve: boolean, who = analyst, reason?: string) =>
    who.call('POST', `/alerts/${teo}/responses/${response.id}`, { approve, ...(reason && { reason }) });
  expect((await decide(true)).json.code).toBe('own-request');
  const admin = await new Caller(server).signIn('admin');
  expect((await decide(true, admin)).json.code).toBe('no-directory');
  expect((await decide(false)).status).toBe(200);
  expect((await one(teo)).responses[0]).toMatchObject({ state: 'refused', decidedBy: 'analyst' });
});
