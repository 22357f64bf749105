import { Caller, testServer, type TestServer } from '../tests/server.js';

let server: TestServer;
let analyst: Caller;
let reader: Caller;
beforeAll(async () => {
  server = await testServer();
  analyst = await new Caller(server).signIn('analyst');
  reader = await new Caller(server).signIn('reader');
});
afterAll(() => server.stop());

const hunt = { name: 'Spray', text: 'from signin', folder: 'Sign-ins', tags: ['access'], shared: false };
const names = async (caller: Caller): Promise<string[]> =>
  (await caller.call('GET', '/saved-hunts')).json.hunts.map(({ name }: { name: string }) => name);

it('are one’s own until they are shared; a name is used once by each', async () => {
  const { status, json } = await analyst.call('POST', '/saved-hunts', hunt);
  expect([status, json]).toEqual([
    200,
    {
      id: expect.any(Number),
      ...hunt,
      description: '',
      owner: 'analyst',
      version: 1,
      changed: expect.any(String),
    },
  ]);
  expect(await names(reader)).toEqual([]);
  expect(await analyst.call('POST', '/saved-hunts', { ...hunt, name: 'spray' })).toMatchObject({
    status: 409,
    json: { code: 'same-name', detail: expect.stringContaining('"spray"') },
  });
  expect((await reader.call('POST', '/saved-hunts', hunt)).status).toBe(200);
  await analyst.call('PATCH', `/saved-hunts/${json.id}`, { shared: true });
  expect(await names(reader)).toEqual(['Spray', 'Spray']);
});

it('keep every text they had; what changed meanwhile is not written over', async () => {
  const { json } = await analyst.call('POST', '/saved-hunts', { name: 'Versions', text: 'from all' });
  const path = `/saved-hunts/${json.id}`;
  const renamed = await analyst.call('PATCH', path, { name: 'Other', basedOn: 1 });
  expect(renamed.json).toMatchObject({ name: 'Other', version: 1 });
  expect((await analyst.call('PATCH', path, { text: 'from signin', basedOn: 1 })).json.version).toBe(2);
  expect(await analyst.call('PATCH', path, { text: 'from rights', basedOn: 1 })).toMatchObject({
    status: 409,
    json: { code: 'changed-meanwhile' },
  });
  const { json: kept } = await analyst.call('GET', `${path}/versions`);
  expect(
    kept.versions.map(({ version, text }: { version: number; text: string }) => [version, text]),
  ).toEqual([
    [2, 'from signin'],
    [1, 'from all'],
  ]);
  // Nobody else sees, changes or removes it.
  expect((await reader.call('GET', `${path}/versions`)).status).toBe(404);
  expect((await reader.call('PATCH', path, { name: 'Mine' })).status).toBe(404);
  expect((await reader.call('DELETE', path)).status).toBe(404);
  expect((await analyst.call('DELETE', path)).status).toBe(200);
  expect((await analyst.call('DELETE', path)).status).toBe(404);
});

it('are refused without a name or a text, and to whoever is not signed in', async () => {
  expect((await analyst.call('POST', '/saved-hunts', { name: '', text: 'from all' })).status).toBe(400);
  expect((await analyst.call('POST', '/saved-hunts', { name: 'x' })).status).toBe(400);
  expect((await analyst.call('PATCH', '/saved-hunts/x', { name: 'x' })).status).toBe(400);
  expect((await new Caller(server).call('GET', '/saved-hunts')).status).toBe(401);
});
