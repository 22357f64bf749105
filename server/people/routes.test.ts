import { Caller, PASSWORD, testServer, type TestServer } from '../tests/server.js';

let server: TestServer;
let admin: Caller;
beforeEach(async () => {
  server = await testServer();
  admin = await new Caller(server).signIn('admin');
});
afterEach(() => server.stop());

const ines = { name: 'ines.vahl', displayName: 'Ines Vahl', role: 'analyst', password: 'a first password' };
const signIn = async (name: string, password: string): Promise<{ caller: Caller; status: number }> => {
  const caller = new Caller(server);
  return { caller, status: (await caller.call('POST', '/session', { name, password })).status };
};
const whoIs = async (caller: Caller, token?: string): Promise<number> =>
  (
    await caller.call('GET', '/session', undefined, {
      ...(token !== undefined && { Authorization: `Bearer ${token}` }),
    })
  ).status;
const changes = async (kind: string, name: string): Promise<[string, string][]> =>
  (await admin.call('GET', `/changes?kind=${kind}&name=${name}`)).json.changes.map(
    ({ who, what }: { who: string; what: string }) => [who, what],
  );

it('an administrator adds people, gives a role and disables: sessions and tokens end at once', async () => {
  expect((await admin.call('POST', '/people', ines)).status).toBe(200);
  expect((await admin.call('POST', '/people', ines)).status).toBe(409);
  const { caller } = await signIn(ines.name, ines.password);
  const { token } = (await caller.call('POST', '/tokens', { label: 'nightly' })).json;
  expect([await whoIs(caller), await whoIs(new Caller(server), token)]).toEqual([200, 200]);

  await admin.call('PATCH', '/people/ines.vahl', { role: 'reader' });
  expect([await whoIs(caller), await whoIs(new Caller(server), token)]).toEqual([401, 401]);
  const again = (await signIn(ines.name, ines.password)).caller;
  expect((await again.call('GET', '/session')).json.role).toBe('reader');

  await admin.call('PATCH', '/people/ines.vahl', { disabled: true });
  expect(await whoIs(again)).toBe(401);
  expect((await signIn(ines.name, ines.password)).status).toBe(401);
  const { people } = (await admin.call('GET', '/people')).json;
  expect(people.find(({ name }: { name: string }) => name === ines.name)).toMatchObject({
    disabled: true,
    tokens: 0,
  });
  expect(await changes('person', ines.name)).toEqual([
    ['admin', 'disabled'],
    ['admin', 'role analyst → reader'],
    ['admin', expect.stringContaining('added')],
  ]);
  expect((await again.call('GET', '/changes?kind=person')).status).toBe(401);
});

it('who goes on at the first byte of the answer is signed in: the session is kept before', async () => {
  const caller = new Caller(server);
  // The head of the answer is here; its body is not read.
  const answer = await caller.fetch('POST', '/session', { name: 'analyst', password: PASSWORD });
  const { rows } = await server.database.pool.query('SELECT sess FROM sessions');
  expect(rows).toHaveLength(2);
  expect(await whoIs(caller)).toBe(200);
  await answer.text();
});

it('the last administrator stays one', async () => {
  for (const change of [{ role: 'analyst' }, { disabled: true }]) {
    const { status, json } = await admin.call('PATCH', '/people/admin', change);
    expect([status, json.code]).toEqual([409, 'last-admin']);
  }
  expect(await whoIs(admin)).toBe(200);
});

it('a changed password ends all other sessions and tokens, not the one that changed it', async () => {
  const mine = await new Caller(server).signIn('analyst');
  const other = await new Caller(server).signIn('analyst');
  const { token } = (await mine.call('POST', '/tokens', { label: 'x' })).json;
  const change = (present: string, next: string): Promise<{ status: number; json: any }> =>
    mine.call('PUT', '/session/password', { present, next });
  expect((await change('wrong', 'another long one')).json.code).toBe('wrong-password');
  expect((await change(PASSWORD, 'short')).status).toBe(400);
  expect((await change(PASSWORD, 'another long one')).status).toBe(200);
  expect([await whoIs(mine), await whoIs(other), await whoIs(new Caller(server), token)]).toEqual([
    200, 401, 401,
  ]);
  expect((await signIn('analyst', PASSWORD)).status).toBe(401);
  expect((await signIn('analyst', 'another long one')).status).toBe(200);
});

it('tokens are listed and revoked, have an end, and cannot make tokens or set passwords', async () => {
  const mine = await new Caller(server).signIn('analyst');
  const made = (await mine.call('POST', '/tokens', { label: 'for curl', days: 7 })).json;
  expect(Date.parse(made.expires) - Date.now()).toBeGreaterThan(6 * 86_400_000);
  const byToken = (method: string, path: string, body?: unknown): Promise<{ status: number; json: any }> =>
    new Caller(server).call(method, path, body, { Authorization: `Bearer ${made.token}` });
  expect((await byToken('POST', '/tokens', { label: 'more' })).json.code).toBe('token');
  expect(
    (await byToken('PUT', '/session/password', { present: PASSWORD, next: 'another long one' })).json.code,
  ).toBe('token');
  const { tokens } = (await mine.call('GET', '/tokens')).json;
  expect(tokens).toEqual([expect.objectContaining({ label: 'for curl', expires: made.expires })]);
  // Nobody revokes those of others.
  expect((await admin.call('DELETE', `/tokens/${tokens[0].id}`)).status).toBe(404);
  expect((await mine.call('DELETE', `/tokens/${tokens[0].id}`)).status).toBe(200);
  expect((await byToken('GET', '/session')).status).toBe(401);

  const late = (await mine.call('POST', '/tokens', { label: 'late' })).json;
  await server.database.pool.query(`UPDATE api_tokens SET expires = now() - interval '1 second'`);
  expect(await whoIs(new Caller(server), late.token)).toBe(401);
  expect((await mine.call('POST', '/tokens', { label: 'x', days: 366 })).status).toBe(400);
});

it('sign-in is limited per account, whatever the others do', async () => {
  const tries = [];
  for (let i = 0; i < 11; i++) tries.push((await signIn('analyst', `wrong ${i}`)).status);
  expect(tries).toEqual([...Array<number>(10).fill(401), 429]);
  expect((await signIn(' ANALYST ', PASSWORD)).status).toBe(429);
  expect((await signIn('reader', PASSWORD)).status).toBe(200);
});

it('who changed a list, a source, a log source or a rule is written down and shown', async () => {
  await admin.call('POST', '/sources/harbour-id/key');
  expect(await changes('source', 'harbour-id')).toContainEqual(['admin', expect.stringContaining('key')]);
  await admin.call('POST', '/people', ines);
  const reader = await new Caller(server).signIn('reader');
  expect((await reader.call('GET', '/changes?kind=person')).json.code).toBe('role');
  expect((await reader.call('GET', '/changes?kind=source')).json.changes.length).toBeGreaterThan(0);
});
