import type { LogSourceEntry } from '../../core/detect/log-sources.js';
import { kindLogSources } from '../../core/detect/shipped-log-sources.js';
import { logSourceEntries } from '../rules/log-sources-sql.js';
import { Caller, send, signInRecord, testServer, TEST_TIME, type TestServer } from '../tests/server.js';
import { rollForward } from '../derived/roll-forward.js';
import { endLeavingSources } from './leave.js';

let server: TestServer;
let admin: Caller;
const never = new AbortController().signal;
beforeEach(async () => {
  server = await testServer();
  admin = await new Caller(server).signIn('admin');
});
afterEach(() => server.stop());

const names = async (): Promise<string[]> =>
  (await admin.call('GET', '/sources')).json.sources.map(({ name }: { name: string }) => name);
async function count(where: string): Promise<number> {
  const { json } = await admin.call('POST', '/hunts/run', {
    text: `from all\nwhere ${where}\ntally count() as n`,
    window: TEST_TIME,
  });
  return json.rows[0][0];
}
const sshd = '<86>Nov 14 08:03:12 gate-01 sshd[1]: Accepted password for dora from 198.18.40.7 port 5 ssh2';

describe('a source that is deleted', () => {
  it('takes in nothing more at once, and its events go, those of others stay', async () => {
    await send(server, 'harbour-id', [1, 2, 3].map((n) => signInRecord({ eventId: `d${n}` })).join('\n'));
    await send(server, 'harbour-id', '{"broken');
    await send(server, 'dock-auth', sshd);
    await admin.call('PUT', '/pulls/source/harbour-id', {
      address: 'http://feed.example/',
      everySeconds: 60,
    });
    await rollForward(server.database.pool, never);
    expect((await admin.call('DELETE', '/sources/harbour-id')).status).toBe(200);
    expect(await names()).toEqual(['dock-auth']);
    expect((await send(server, 'harbour-id', signInRecord({ eventId: 'd4' }))).status).toBe(401);
    // Whoever takes the name meanwhile would get events of the old one.
    const again = { name: 'harbour-id', title: 'x', recipe: 'harbour-id' };
    expect((await admin.call('POST', '/sources', again)).status).toBe(409);

    // What was under way at that moment is waited for.
    await endLeavingSources(server.database.pool, never, 60);
    expect(await count("source = 'harbour-id'")).toBe(3);
    await endLeavingSources(server.database.pool, never, 0);
    expect(await count("source = 'harbour-id'")).toBe(0);
    expect(await count("source = 'dock-auth'")).toBe(1);
    for (const table of ['events', 'event_hours', 'operation_hours', 'user_days', 'set_aside', 'batches']) {
      const { rows } = await server.database.pool.query(`SELECT 1 FROM ${table} WHERE source = 'harbour-id'`);
      expect([table, rows]).toEqual([table, []]);
    }
    // What was seen on days that are held is what others tell; that something was seen at all stays known.
    const { rows } = await server.database.pool.query<{ one: string }>(
      `SELECT DISTINCT one FROM sightings WHERE pair = 'user and address' AND day > '-infinity'`,
    );
    expect(rows.map(({ one }) => one)).toEqual(['dora']);
    expect((await admin.call('GET', '/pulls')).json.pulls).toEqual([]);
    expect((await admin.call('POST', '/sources', again)).status).toBe(200);
  });

  it('only by an admin, and only one that is there', async () => {
    const analyst = await new Caller(server).signIn('analyst');
    expect((await analyst.call('DELETE', '/sources/harbour-id')).status).toBe(403);
    expect((await admin.call('DELETE', '/sources/nobody')).status).toBe(404);
    expect((await admin.call('POST', '/sources/nobody/rename', { name: 'x' })).status).toBe(404);
  });
});

describe('a source that is renamed', () => {
  it('has the new name wherever it stands, and knows its records again', async () => {
    const body = [1, 2].map((n) => signInRecord({ eventId: `n${n}` })).join('\n');
    await send(server, 'harbour-id', body);
    await send(server, 'harbour-id', '{"broken');
    expect((await admin.call('POST', '/sources/harbour-id/rename', { name: 'harbour-two' })).status).toBe(
      200,
    );
    expect(await names()).toEqual(['dock-auth', 'harbour-two']);
    expect(await count("source = 'harbour-two'")).toBe(2);
    expect(await count("source = 'harbour-id'")).toBe(0);
    expect((await admin.call('GET', '/sources/harbour-two/set-aside')).json.total).toBe(1);
    const key = server.keys['harbour-id'] ?? '';
    const to = { ...server, keys: { 'harbour-two': key } };
    expect((await send(to, 'harbour-two', body)).json).toMatchObject({ stored: 0, known: 2 });
    expect((await send(server, 'harbour-id', body)).status).toBe(401);
    // One that takes the old name up derives other ids: the same record is an event of its own.
    const { json } = await admin.call('POST', '/sources', {
      name: 'harbour-id',
      title: 'x',
      recipe: 'harbour-id',
    });
    const anew = { ...server, keys: { 'harbour-id': json.key as string } };
    expect((await send(anew, 'harbour-id', body)).json).toMatchObject({ stored: 2, known: 0 });
    expect(await count("source = 'harbour-two'")).toBe(2);
  });

  it('not to a name that is taken, and not where very many events bear it', async () => {
    expect((await admin.call('POST', '/sources/harbour-id/rename', { name: 'dock-auth' })).status).toBe(409);
    expect((await admin.call('POST', '/sources/harbour-id/rename', { name: 'Not one' })).status).toBe(400);
    await server.database.pool.query(
      `INSERT INTO event_hours (hour, source, kind, events) VALUES (now(), 'harbour-id', 'signin', 600000)`,
    );
    const { status, json } = await admin.call('POST', '/sources/harbour-id/rename', { name: 'other' });
    expect([status, json.detail]).toEqual([409, expect.stringContaining('600,000 events')]);
    expect(await names()).toContain('harbour-id');
  });
});

describe('recipes', () => {
  it('are renamed in all their versions, and for the sources that read by them', async () => {
    expect((await admin.call('POST', '/recipes/harbour-id/rename', { name: 'id-two' })).status).toBe(200);
    const { json } = await admin.call('GET', '/recipes/id-two');
    expect(json.recipe.name).toBe('id-two');
    expect(json.usedBy).toEqual(['harbour-id']);
    expect((await send(server, 'harbour-id', signInRecord({ eventId: 'x1' }))).json).toMatchObject({
      stored: 1,
    });
    expect((await admin.call('POST', '/recipes/id-two/rename', { name: 'dock-auth' })).status).toBe(409);
    expect((await admin.call('POST', '/recipes/id-two/rename', { name: 'ocsf' })).status).toBe(409);
  });

  it('are deleted where nothing reads by them', async () => {
    const { status, json } = await admin.call('DELETE', '/recipes/harbour-id');
    expect([status, json.detail]).toEqual([409, expect.stringContaining('the source harbour-id')]);
    const { recipe } = (await admin.call('GET', '/recipes/harbour-id')).json;
    await admin.call('PUT', '/recipes', { ...recipe, name: 'spare' });
    expect((await admin.call('DELETE', '/recipes/spare')).status).toBe(200);
    expect((await admin.call('GET', '/recipes/spare')).status).toBe(404);
    expect((await admin.call('DELETE', '/recipes/spare')).status).toBe(404);
  });
});

it('what the command line knows of kinds is what the table holds at first', async () => {
  const entries = await logSourceEntries(server.database.pool);
  const table = entries.slice(-kindLogSources.length);
  const sorted = (all: readonly LogSourceEntry[]): LogSourceEntry[] =>
    [...all].sort((a, b) => ((a.logsource.category ?? '') < (b.logsource.category ?? '') ? -1 : 1));
  expect(sorted(table)).toEqual(sorted(kindLogSources));
});
