import { readFileSync } from 'node:fs';
import { recipeExample } from '../../core/wire/examples.js';
import type { Recipe } from '../../core/recipes/recipe-schema.js';
import { Caller, send, signInRecord, testServer, type TestServer } from '../tests/server.js';

let server: TestServer;
let admin: Caller;
let analyst: Caller;
beforeAll(async () => {
  server = await testServer();
  admin = await new Caller(server).signIn('admin');
  analyst = await new Caller(server).signIn('analyst');
});
afterAll(() => server.stop());

const shipped = JSON.parse(readFileSync('demo/recipes/harbour-id.json', 'utf8')) as Recipe;
const attempt = async (sample: string, recipe?: object): Promise<any> => {
  const { status, json } = await analyst.call('POST', '/recipes/try', { sample, ...(recipe && { recipe }) });
  expect(status).toBe(200);
  return json;
};

it('makes a first draft for records nobody has a recipe for, with what names and shapes suggest applied', async () => {
  const tried = await attempt(
    'when;client_ip;login;result;colour\n2026-11-14T08:00:00Z;192.0.2.7;teo.marrash;denied;red\n2026-11-14T08:00:09Z;192.0.2.8;runa.keel;ok;blue\n',
  );
  expect(tried.recognised).toMatchObject({ format: 'csv', delimiter: ';' });
  expect(tried.recipe).toMatchObject({
    format: 'csv',
    columns: ['when', 'client_ip', 'login', 'result', 'colour'],
    time: { from: 'when', as: 'iso' },
  });
  expect(tried.records.map((record: { became: string }) => record.became)).toEqual([
    'discarded',
    'event',
    'event',
  ]);
  expect(tried.fitting).toEqual([]);
  expect(tried.suggestions).toEqual([]);
  expect(tried.records[1].event).toMatchObject({
    src_ip: '192.0.2.7',
    user: 'teo.marrash',
    outcome: 'blocked',
  });
  expect(
    tried.coverage
      .filter(({ used }: { used: boolean }) => !used)
      .map(({ field }: { field: string }) => field),
  ).toEqual(['colour']);
});

it('finds recipes that ship for a sample; one is kept with its first use', async () => {
  const sample = readFileSync('core/recipes/shipped/fixtures/nginx-error.log', 'utf8');
  expect((await attempt(sample)).fitting[0]).toMatchObject({
    name: 'nginx-error',
    title: 'Error log of nginx',
  });
  const listed = async (): Promise<string[]> =>
    (await admin.call('GET', '/recipes')).json.recipes.map(({ name }: { name: string }) => name);
  expect(await listed()).toContain('nginx-error');
  const made = await admin.call('POST', '/sources', { name: 'edge', title: 'Edge', recipe: 'nginx-error' });
  expect(made.status).toBe(200);
  expect((await listed()).filter((name) => name === 'nginx-error')).toHaveLength(1);
  expect((await admin.call('GET', '/recipes/nginx-error')).json.usedBy).toEqual(['edge']);
  expect((await admin.call('GET', '/recipes/unbound')).json.recipe.name).toBe('unbound');
  const kind = { ...recipeExample, constants: { kind: 'sigin' } };
  expect((await admin.call('PUT', '/recipes', kind)).json.detail).toContain('Did you mean "signin"?');
});

it.each([
  ['{"ts":1794643200123,"who":"teo"}', { from: 'ts', as: 'epoch-milliseconds' }],
  ['{"eventTime":"1794643200","who":"teo"}', { from: 'eventTime', as: 'epoch-seconds' }],
  ['<13>Nov 14 08:03:12 gate-01 sshd[7]: hello', { from: 'timestamp', as: 'syslog' }],
])('finds the time of %s', async (sample, time) => expect((await attempt(sample)).recipe.time).toEqual(time));

it('shows each record beside its event, with what could not be read and what is left', async () => {
  const good = signInRecord({ denied: 'locked' });
  const odd = good.replace('10.20.4.11', 'nowhere').replace('"actor":{', '"actor":{"shoe":"41",');
  const tried = await attempt([good, odd, 'no json'].join('\n'), shipped);
  expect(tried.mistake).toBeNull();
  expect(tried.records).toMatchObject([
    {
      became: 'event',
      event: { user: 'teo.marrash', outcome: 'failure', time: '2026-11-14T08:00:00Z' },
      unread: [],
      fields: { actor: { login: 'teo.marrash' } },
    },
    { became: 'event', unread: ['src_ip'] },
    { became: 'set-aside', reason: expect.stringContaining('not JSON'), event: null, fields: null },
  ]);
  const left = tried.coverage
    .filter(({ used }: { used: boolean }) => !used)
    .map(({ field }: { field: string }) => field);
  expect(left).toEqual(['actor.shoe']);
});

it.each<[object, string]>([
  [{ ...shipped, format: 'morse' }, 'format'],
  [{ ...shipped, map: { usr: 'x' } }, 'a name that is not known: "usr". Did you mean "user"?'],
  [{ ...shipped, format: 'csv' }, 'CSV does not name its columns'],
  [{ ...shipped, messages: [{ in: 'x', read: '<usr> said' }] }, '"usr" is no column. Did you mean "user"?'],
])('tells why %# is no recipe', async (recipe, words) => {
  const tried = await attempt(signInRecord(), recipe);
  expect(tried.mistake).toContain(words);
  expect(tried.records).toEqual([]);
});

it('keeps versions: each save is the next, and every one can be read again', async () => {
  const saved = await admin.call('POST', '/recipes', { ...shipped, title: 'Changed' });
  expect([saved.status, saved.json]).toEqual([200, { version: 2 }]);
  expect((await analyst.call('POST', '/recipes', shipped)).status).toBe(403);
  const newest = (await analyst.call('GET', '/recipes/harbour-id')).json;
  expect(newest).toMatchObject({
    recipe: { title: 'Changed', version: 2 },
    versions: [{ version: 2 }, { version: 1 }],
    usedBy: ['harbour-id'],
  });
  expect((await analyst.call('GET', '/recipes/harbour-id?version=1')).json.recipe).toEqual(shipped);
  expect((await analyst.call('GET', '/recipes/harbour-id?version=9')).status).toBe(404);
});

it('gives records of a source to try on, those set aside first', async () => {
  const record = signInRecord();
  await send(server, 'harbour-id', [record, 'no json'].join('\n'));
  expect((await analyst.call('GET', '/sources/harbour-id/sample')).json.sample).toBe(`no json\n${record}\n`);
});
