import { Caller, send, signInRecord, testServer, type TestServer } from '../tests/server.js';

// What somebody found by hunting becomes an alert, and is answered as every other.

let server: TestServer;
let analyst: Caller;
let reader: Caller;

const found = {
  kind: 'user',
  name: 'teo.marrash',
  title: 'Signs in from a hotel',
  level: 'high',
  window: { from: '2026-11-14T00:00:00Z', to: '2026-11-15T00:00:00Z' },
} as const;
const raise = (body: object = found, who = analyst) => who.call('POST', '/alerts', body);
const at = (seconds: number): string =>
  new Date(Date.parse('2026-11-14T08:00:00Z') + seconds * 1000).toISOString().replace('.000', '');

beforeAll(async () => {
  server = await testServer();
  analyst = await new Caller(server).signIn('analyst');
  reader = await new Caller(server).signIn('reader');
  const records = [0, 60, 120].map((seconds) =>
    signInRecord({ at: at(seconds), user: 'teo.marrash', address: '198.18.40.77' }),
  );
  records.push(signInRecord({ at: at(200), user: 'mira.holm', address: '198.18.40.78' }));
  records.push(signInRecord({ at: at(-2 * 86_400), user: 'teo.marrash', address: '198.18.40.77' }));
  await send(server, 'harbour-id', records.join('\n'));
});
afterAll(() => server.stop());
beforeEach(() => server.database.pool.query('TRUNCATE alerts CASCADE'));

it('rests on the events of the window that name the subject, and belongs to whoever raised it', async () => {
  const { status, json } = await raise();
  expect(status).toBe(200);
  expect(json).toMatchObject({
    rule: null,
    title: 'Signs in from a hotel',
    level: 'high',
    subject: 'teo.marrash',
    subjectFields: { user: 'teo.marrash' },
    state: 'looking',
    owner: 'analyst',
    matches: 3,
    firstEvent: at(0),
    lastEvent: at(120),
    why: [],
  });
  expect(json.evidence.map((event: { user: string }) => event.user)).toEqual(Array(3).fill('teo.marrash'));
  expect(json.changes.map((change: { what: string }) => change.what)).toEqual(['raised by hand']);
  const queue = await analyst.call('GET', '/alerts');
  expect(queue.json.alerts.map((one: { id: number }) => one.id)).toEqual([json.id]);
});

it('about an address it names the side its newest event has it on', async () => {
  const { json } = await raise({ ...found, kind: 'address', name: '198.18.40.78' });
  expect(json.subjectFields).toEqual({ src_ip: '198.18.40.78' });
  expect(json.matches).toBe(1);
});

it('is answered as every other: a response, a runbook, a verdict, and a case keeps it', async () => {
  const { id } = (await raise()).json;
  const asked = await analyst.call('POST', `/alerts/${id}/responses`, {
    does: 'revoke-sessions',
    subject: 'teo.marrash',
  });
  expect(asked.status).toBe(200);
  const run = await analyst.call('POST', '/runbook-runs', { runbook: 'stolen-password', alert: id });
  expect(run.json).toMatchObject({ alert: id, subject: 'teo.marrash' });
  const { json: kept } = await analyst.call('POST', '/cases', {
    title: 'The hotel',
    pins: [{ kind: 'alert', ref: String(id), title: 'Signs in from a hotel' }],
  });
  const pin = await analyst.call('GET', `/cases/${kept.id}/pins/${kept.pinned[0].id}`);
  expect(JSON.stringify(pin.json)).toContain('none: raised by hand');
  const settled = await analyst.call('PATCH', `/alerts/${id}`, { state: 'settled', verdict: 'real' });
  expect(settled.json).toMatchObject({ state: 'settled', verdict: 'real', rule: null });
});

it('one that is open about the same is enough; once it is settled another may be raised, and it stays settled', async () => {
  const { id } = (await raise()).json;
  const again = await raise();
  expect(again.status).toBe(409);
  expect(again.json.detail).toContain(`Alert ${id}, raised by hand about teo.marrash, is open.`);
  await analyst.call('PATCH', `/alerts/${id}`, { state: 'settled', verdict: 'harmless' });
  expect((await raise()).status).toBe(200);
  const reopened = await analyst.call('PATCH', `/alerts/${id}`, { state: 'unread' });
  expect(reopened.json.code).toBe('open-already');
});

it('somebody nobody saw may be raised too; hostile names are texts; readers raise nothing', async () => {
  const hostile = `'; DROP TABLE alerts; -- <img src=x onerror=alert(1)> ${'x'.repeat(240)}`;
  const { status, json } = await raise({ ...found, name: hostile });
  expect(status).toBe(200);
  expect(json).toMatchObject({ subject: hostile, matches: 0, evidence: [] });
  expect((await raise(found, reader)).status).toBe(403);
  for (const wrong of [
    { ...found, kind: 'ship' },
    { ...found, title: '   ' },
    { ...found, name: 'x'.repeat(501) },
    { ...found, window: { from: 'yesterday', to: 'today' } },
  ])
    expect((await raise(wrong)).status).toBeGreaterThanOrEqual(400);
});
