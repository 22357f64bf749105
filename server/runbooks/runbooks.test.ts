import type { Pool } from 'pg';
import { shippedRunbooks } from '../../core/runbooks/shipped.js';
import { Responses } from '../deliver/responses.js';
import { endResponse } from '../deliver/respond.js';
import { Failure } from '../failure.js';
import { HuntPlanner } from '../hunts/planner.js';
import { HuntRunner } from '../hunts/runner.js';
import { onePool } from '../db/pools.js';
import { Identities } from '../subjects/identities.js';
import { addRule, Caller, send, signInRecord, testServer, type TestServer } from '../tests/server.js';
import { dyingPool } from '../tests/dying-pool.js';
import { carryAllOn, carryOn, type RunnerParts } from './runner.js';

// Runbooks: kept, tried, started on an alert, answered, stopped; killed at any step they go on and do nothing twice.

let server: TestServer;
let analyst: Caller;
let admin: Caller;
let reader: Caller;
let alert: number;
let parts: RunnerParts;
let pool: Pool;
const never = new AbortController().signal;

beforeAll(async () => {
  server = await testServer();
  pool = server.database.pool;
  [analyst, admin, reader] = await Promise.all([
    new Caller(server).signIn('analyst'),
    new Caller(server).signIn('admin'),
    new Caller(server).signIn('reader'),
  ]);
  await addRule(
    analyst,
    'title: Refused\nlevel: high\nlogsource: {product: harbour-id}\ndetection: {failed: {outcome: failure}, condition: failed}\nlamp: {subject: user}\n',
  );
  const records = ['08:00:00', '08:10:00'].map((time) =>
    signInRecord({ at: `2026-11-14T${time}Z`, user: 'teo.marrash', address: '198.18.40.77' }),
  );
  records.push(
    signInRecord({
      at: '2026-11-14T08:20:00Z',
      user: 'teo.marrash',
      address: '198.18.40.77',
      denied: 'bad_secret',
    }),
  );
  await send(server, 'harbour-id', records.join('\n'));
  alert = (await analyst.call('GET', '/alerts')).json.alerts[0].id;
  const now = (): number => server.clock.now;
  parts = {
    pool,
    now,
    planner: new HuntPlanner(pool, now, new Identities(pool, now)),
    runner: new HuntRunner(onePool(pool)),
    responses: new Responses(pool),
  };
});
afterAll(() => server.stop());
beforeEach(async () => {
  await pool.query('TRUNCATE runbook_runs, runbooks, responses, deliveries, alert_changes CASCADE');
});

const keep = (name: string, document: object, extra: object = {}) =>
  analyst.call('PUT', `/runbooks/${name}`, { text: JSON.stringify(document), ...extra });
const start = async (runbook: string): Promise<any> =>
  (await analyst.call('POST', '/runbook-runs', { runbook, alert })).json;
const run = async (id: number): Promise<any> => (await reader.call('GET', `/runbook-runs/${id}`)).json;
const stands = async (id: number): Promise<string[]> =>
  (await run(id)).steps.map(({ stands: how }: { stands: string }) => how);
const message = (id: string, rest: object = {}) => ({
  id,
  title: id,
  do: 'message',
  text: `said ${id}`,
  ...rest,
});
const lines = async (): Promise<string[]> =>
  (await analyst.call('GET', `/alerts/${alert}`)).json.changes.map(({ what }: { what: string }) => what);
/** Another approves what is asked for, and it is carried out. */
async function approveAndDo(done = true): Promise<void> {
  const { responses } = (await analyst.call('GET', `/alerts/${alert}`)).json;
  const { id, does, subject } = responses.at(-1);
  await pool.query("UPDATE responses SET state = 'approved', decided_by = 'admin' WHERE id = $1", [id]);
  const action = { do: 'respond', to: 'x', response: id, does, subject } as const;
  await endResponse(pool, alert, action, { done, said: done ? `${does} done by x` : 'it did not answer' });
}

describe('keeping them', () => {
  it('ships four; what is changed here is a version, and removing it brings back what came', async () => {
    const { runbooks } = (await reader.call('GET', '/runbooks')).json;
    expect(runbooks).toHaveLength(4);
    const changed = { title: 'Ours', steps: [message('a')] };
    expect((await keep('stolen-password', changed, { basedOn: 0 })).json).toMatchObject({
      version: 1,
      ships: true,
    });
    expect((await keep('stolen-password', changed, { basedOn: 0 })).status).toBe(409);
    expect((await keep('stolen-password', { ...changed, title: 'Still ours' })).json).toMatchObject({
      version: 2,
      title: 'Still ours',
      versions: [{ version: 2 }, { version: 1, changedBy: 'analyst' }],
    });
    expect((await analyst.call('DELETE', '/runbooks/stolen-password')).status).toBe(200);
    expect((await reader.call('GET', '/runbooks/stolen-password')).json).toMatchObject({
      version: 0,
      title: 'Stolen password',
    });
    expect((await analyst.call('DELETE', '/runbooks/stolen-password')).status).toBe(400);
    const said = (await admin.call('GET', '/changes?kind=runbook&name=stolen-password')).json.changes;
    expect(said.map(({ what }: { what: string }) => what)).toEqual([
      'removed',
      'kept as version 2',
      'kept as version 1',
    ]);
  });

  it('refuses one with mistakes, with their places, and whoever may not', async () => {
    const text =
      '{"title": "x",\n"steps": [{"id": "a", "title": "A", "do": "hunt", "hunt": "from all\\nwher x"}]}';
    expect((await reader.call('POST', '/runbooks/check', { text })).json.mistakes).toEqual([
      { line: 2, column: expect.any(Number), message: expect.stringMatching(/Line 2 of the hunt.*"wher"/) },
    ]);
    expect((await analyst.call('PUT', '/runbooks/x', { text })).json.detail).toMatch(/^Line 2, column/);
    expect((await reader.call('PUT', '/runbooks/x', { text })).status).toBe(403);
    expect((await reader.call('POST', '/runbook-runs', { runbook: 'stolen-password', alert })).status).toBe(
      403,
    );
    expect((await analyst.call('POST', '/runbook-runs', { runbook: 'nothing', alert })).status).toBe(404);
  });
});

it('is tried first: hunts are asked, every step says what it would do, and nothing is', async () => {
  const text = JSON.stringify(shippedRunbooks['stolen-password']);
  const { status, json } = await analyst.call('POST', '/runbooks/try', { text, alert });
  expect(status).toBe(200);
  const steps = json.steps as { id: string; on: boolean; says: string; found: { rows: string[][] } | null }[];
  expect(steps.find(({ id }) => id === 'signed-in')).toMatchObject({
    on: true,
    says: '1 row found',
    found: { columns: ['user', 'sign_ins', 'addresses'], rows: [['teo.marrash', '2', expect.any(String)]] },
  });
  expect(steps.find(({ id }) => id === 'own')?.says).toContain('would ask: Ask teo.marrash by telephone');
  expect(steps.find(({ id }) => id === 'sessions')).toMatchObject({
    on: false,
    says: expect.stringContaining('Revoke all sessions of teo.marrash; once another approves it'),
  });
  expect((await reader.call('GET', '/runbook-runs')).json.runs).toEqual([]);
  expect((await analyst.call('GET', `/alerts/${alert}`)).json.responses).toEqual([]);
});

it('is refused on an alert that does not name what it needs, and twice at once on the same', async () => {
  const { status, json } = await analyst.call('POST', '/runbook-runs', { runbook: 'data-leaves', alert });
  expect([status, json.detail]).toEqual([400, expect.stringContaining('needs dst_ip, flow')]);
  await start('stolen-password');
  const again = await analyst.call('POST', '/runbook-runs', { runbook: 'stolen-password', alert });
  expect([again.status, again.json.code]).toEqual([409, 'runs-already']);
});

it('goes its way: a hunt decides, a person answers, another approves, and it all stands on the alert', async () => {
  const { id } = await start('stolen-password');
  await carryAllOn(parts, never);
  expect(await run(id)).toMatchObject({ state: 'running', at: 'Was it the person?', waits: 'answer' });
  expect((await analyst.call('POST', `/runbook-runs/${id}/answer`, { step: 'own', answer: 9 })).status).toBe(
    400,
  );
  expect((await analyst.call('POST', `/runbook-runs/${id}/answer`, { step: 'own', answer: 5 })).status).toBe(
    400,
  );
  expect((await analyst.call('POST', `/runbook-runs/${id}/answer`, { step: 'own', answer: 1 })).status).toBe(
    200,
  );
  expect((await analyst.call('POST', `/runbook-runs/${id}/answer`, { step: 'own', answer: 1 })).status).toBe(
    409,
  );
  await carryAllOn(parts, never);
  const [asked] = (await analyst.call('GET', `/alerts/${alert}`)).json.responses;
  expect(asked).toMatchObject({
    does: 'revoke-sessions',
    subject: 'teo.marrash',
    askedBy: 'analyst',
    state: 'asked',
  });
  const own = await analyst.call('POST', `/alerts/${alert}/responses/${asked.id}`, { approve: true });
  expect(own.status).toBe(403);
  expect(await run(id)).toMatchObject({ waits: 'response' });
  await approveAndDo();
  await carryAllOn(parts, never);
  await approveAndDo(false);
  await carryAllOn(parts, never);
  expect(await run(id)).toMatchObject({ state: 'done', at: null });
  expect(await stands(id)).toEqual([
    'done',
    'done',
    'done',
    'done',
    'passed',
    'passed',
    'done',
    'passed',
    'passed',
    'passed',
  ]);
  expect((await run(id)).steps.find(({ id: one }: { id: string }) => one === 'password').said).toBe(
    'it did not answer',
  );
  expect((await lines()).filter((line) => line.includes('runbook') || line.includes('Stolen'))).toEqual([
    'started the runbook "Stolen password"',
    expect.stringContaining('Stolen password of teo.marrash: sessions'),
    'runbook "Stolen password" came to its end',
  ]);
});

it('waits as long as it is said to, and goes on with the text that it began with', async () => {
  const steps = [{ id: 'w', title: 'w', do: 'wait', minutes: 5 }, message('old')];
  await keep('patient', { title: 'Patient', steps });
  const { id } = await start('patient');
  await keep('patient', { title: 'Patient', steps: [message('new')] });
  await carryAllOn(parts, never);
  expect(await run(id)).toMatchObject({ waits: 'time', at: 'w', wake: expect.any(String) });
  await pool.query("UPDATE runbook_runs SET wake = wake - interval '10 minutes'");
  await carryAllOn(parts, never);
  expect((await run(id)).state).toBe('done');
  expect(await lines()).toContain('said old');
  expect(await lines()).not.toContain('said new');
});

it('is stopped with a reason; what it did stays done, and it does no more', async () => {
  await keep('two', { title: 'Two', steps: [message('one'), message('two')] });
  const { id } = await start('two');
  await carryOn(parts, never);
  const stopped = await analyst.call('POST', `/runbook-runs/${id}/stop`, { reason: 'a test' });
  expect(stopped.json).toMatchObject({ state: 'stopped', said: 'a test', endedBy: 'analyst' });
  expect((await analyst.call('POST', `/runbook-runs/${id}/stop`, {})).status).toBe(409);
  await carryAllOn(parts, never);
  expect(await lines()).toContain('said one');
  expect(await lines()).not.toContain('said two');
});

it('ends where a step cannot be done, and says why', async () => {
  await keep('nowhere', { title: 'Nowhere', steps: [message('x', { to: 'no-such-room' }), message('y')] });
  const { id } = await start('nowhere');
  await carryAllOn(parts, never);
  expect(await run(id)).toMatchObject({
    state: 'failed',
    said: expect.stringContaining('"no-such-room" is no room'),
  });
  expect((await pool.query('SELECT FROM deliveries')).rowCount).toBe(0);
});

it('messages go by the outbox, with the names of the alert for whoever sends them to fill in', async () => {
  await admin.call('PUT', '/destinations/desk', {
    kind: 'mail',
    address: 'smtp://127.0.0.1:2525',
    settings: { to: 'desk@skerry-line.example' },
    allowPrivate: true,
  });
  await keep('mail', {
    title: 'Mail',
    steps: [message('m', { to: 'desk', text: 'Look at {user}, {captain}' })],
  });
  await start('mail');
  await carryAllOn(parts, never);
  const { rows } = await pool.query<{ action: object }>('SELECT action FROM deliveries');
  expect(rows).toEqual([
    { action: { do: 'mail', to: 'desk', subject: 'Mail', text: 'Look at {event.user}, {captain}' } },
  ]);
});

it('killed after any statement it goes on, and does nothing twice', async () => {
  await keep('all', {
    title: 'All',
    steps: [
      { id: 'h', title: 'h', do: 'hunt', hunt: "ask user 'User'\nfrom signin\nwhere user = $user" },
      message('m'),
      { id: 'r', title: 'r', do: 'respond', response: 'revoke-sessions' },
      { id: 'q', title: 'q', do: 'ask', question: 'So?', answers: [{ says: 'yes' }, { says: 'no' }] },
    ],
  });
  let died = 0;
  for (let after = 1; after < 200; after++) {
    await pool.query('TRUNCATE runbook_runs, responses, deliveries, alert_changes CASCADE');
    const { id } = await start('all');
    const { pool: mortal, left } = dyingPool(pool, after);
    const first = await carryAllOn({ ...parts, pool: mortal }, never).then(
      () => 'lived',
      () => 'died',
    );
    if (first === 'died') died++;
    // Two servers go on at once.
    await Promise.all([carryAllOn(parts, never), carryAllOn(parts, never)]);
    const { responses } = (await analyst.call('GET', `/alerts/${alert}`)).json;
    expect([after, responses.length]).toEqual([after, 1]);
    expect((await lines()).filter((line) => line === 'said m')).toHaveLength(1);
    await approveAndDo();
    await Promise.all([carryAllOn(parts, never), carryAllOn(parts, never)]);
    expect(await run(id)).toMatchObject({ at: 'q', waits: 'answer' });
    if (first === 'lived' && left() > 0) break;
  }
  expect(died).toBeGreaterThan(15);
});

it('a database that goes away ends no run, and one that fails holds up no other', async () => {
  const hunt = { id: 'h', title: 'h', do: 'hunt', hunt: 'from signin', last: '7d' };
  await keep('first', { title: 'First', steps: [hunt, message('after')] });
  await keep('second', { title: 'Second', steps: [message('other')] });
  const { id: first } = await start('first');
  const { id: second } = await start('second');
  const away = {
    ...parts,
    runner: {
      table: () => Promise.reject(new Failure('database-away', 'It was restarted.')),
    } as unknown as HuntRunner,
  };
  await expect(carryOn(away, never)).rejects.toThrow('It was restarted.');
  expect(await run(first)).toMatchObject({ state: 'running', at: 'h' });
  expect(await run(second)).toMatchObject({ state: 'done' });
  await carryAllOn(parts, never);
  expect(await run(first)).toMatchObject({ state: 'done' });
});

it('runs are found by alert, by the case that holds it, and by whether they run', async () => {
  await start('stolen-password');
  const number = (
    await analyst.call('POST', '/cases', {
      title: 'x',
      pins: [{ kind: 'alert', ref: String(alert), title: 'Refused' }],
    })
  ).json.id;
  for (const query of [`alert=${alert}`, `case=${number}`, 'running=true'])
    expect([query, (await reader.call('GET', `/runbook-runs?${query}`)).json]).toMatchObject([
      query,
      { runs: [{ title: 'Stolen password', alert, subject: 'teo.marrash' }] },
    ]);
  expect((await reader.call('GET', `/runbook-runs?alert=${alert + 1}`)).json.runs).toEqual([]);
});
