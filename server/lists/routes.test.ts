import { Caller, send, signInRecord, testServer, type TestServer } from '../tests/server.js';

let server: TestServer;
let admin: Caller;
let analyst: Caller;
beforeEach(async () => {
  server = await testServer();
  admin = await new Caller(server).signIn('admin');
  analyst = await new Caller(server).signIn('analyst');
});
afterEach(() => server.stop());

const put = (name: string, content: object): Promise<{ status: number; json: any }> =>
  analyst.call('PUT', `/lists/${name}`, content);
const page = async (name: string, query = ''): Promise<any> =>
  (await analyst.call('GET', `/lists/${name}${query}`)).json;
const keysOf = async (name: string): Promise<unknown[]> =>
  (await page(name)).rows.map((row: { cells: { user: string } }) => row.cells.user);

it('shows a list by pieces, searched, its key first', async () => {
  const rows = Array.from({ length: 450 }, (_, i) => ({ note: `n${i}`, user: `user-${i}` }));
  await put('people', { match: 'exact', key: 'user', description: 'who is who', rows });
  const first = await page('people');
  expect(first).toMatchObject({
    list: { rows: 450, expired: 0, match: 'exact', key: 'user', description: 'who is who', usedBy: [] },
    columns: ['user', 'note'],
    found: 450,
  });
  expect(first.rows).toHaveLength(200);
  expect((await page('people', '?from=400')).rows).toHaveLength(50);
  const searched = await page('people', '?search=USER-44');
  expect(searched.found).toBe(11);
  expect((await analyst.call('GET', '/lists/nobody')).status).toBe(404);
});

it('adds rows in place of those with the same key, and takes rows out', async () => {
  await put('people', { match: 'exact', key: 'user', rows: [{ user: 'teo' }, { user: 'runa' }] });
  expect(
    (
      await analyst.call('PATCH', '/lists/people/rows', {
        add: [{ user: ' TEO ', left: true }, { user: 'ines' }],
      })
    ).status,
  ).toBe(200);
  expect(await keysOf('people')).toEqual(['runa', ' TEO ', 'ines']);
  await analyst.call('PATCH', '/lists/people/rows', { remove: [(await page('people')).rows[0].position] });
  expect(await keysOf('people')).toEqual([' TEO ', 'ines']);
  expect((await analyst.call('PATCH', '/lists/people/rows', { add: [{ name: 'x' }] })).json.detail).toBe(
    'Row 1 has no "user".',
  );
});

it('previews and imports what people have, and tells what cannot be read', async () => {
  const text = 'network,harbour\n10.0.0.0/8,inside\n192.0.2.0/24,outside\n';
  const preview = (await analyst.call('POST', '/lists/preview', { text })).json;
  expect(preview).toMatchObject({ shape: 'csv', total: 2, key: 'network', match: 'network', mistakes: [] });
  const { key, match } = preview;
  expect(
    (await analyst.call('POST', '/lists/nets/import', { text, key, match, how: 'replace' })).json,
  ).toEqual({ rows: 2, mistakes: [], lists: ['nets'] });
  const more = 'network,harbour\n10.0.0.0/8,changed\n198.51.100.0/24,new\n';
  expect(
    (await analyst.call('POST', '/lists/nets/import', { text: more, key, match, how: 'add' })).json,
  ).toEqual({ rows: 3, mistakes: [], lists: ['nets'] });
  expect((await page('nets')).rows.map((row: { cells: { harbour: string } }) => row.cells.harbour)).toEqual([
    'outside',
    'changed',
    'new',
  ]);
  const wrong = await analyst.call('POST', '/lists/nets/import', {
    text: 'network\nnowhere\n',
    key,
    match,
    how: 'replace',
  });
  expect([wrong.status, wrong.json.detail]).toEqual([
    422,
    'Row 1: "nowhere" is no network such as 10.0.0.0/8.',
  ]);
  expect((await page('nets')).found).toBe(3);
  expect((await analyst.call('POST', '/lists/preview', { text: '[' })).status).toBe(422);
});

it('indicators of several kinds become a list each', async () => {
  const text = 'value,why\n198[.]18.40.7,spray\n*.elsewhere.example,page\n';
  const { json: preview } = await analyst.call('POST', '/lists/preview', { text });
  expect(preview).toMatchObject({
    mixed: 'value',
    headed: true,
    kinds: [
      { kind: 'addresses', match: 'network', rows: 1 },
      { kind: 'domains', match: 'wildcard', rows: 1 },
    ],
  });
  const taken = await analyst.call('POST', '/lists/warned/import', {
    text,
    key: 'value',
    match: 'exact',
    how: 'replace',
    split: true,
  });
  expect(taken.json).toEqual({ rows: 2, mistakes: [], lists: ['warned-addresses', 'warned-domains'] });
  expect((await page('warned-addresses')).list).toMatchObject({ match: 'network', key: 'value' });
  expect((await page('warned-domains')).rows[0].cells).toMatchObject({ value: '*.elsewhere.example' });
});

it('knows what rests on a list, and keeps it while something does', async () => {
  await put('networks', {
    match: 'network',
    key: 'network',
    rows: [{ network: '10.20.4.0/24', country: 'Norway' }],
  });
  const recipe = {
    name: 'plain',
    title: 'Plain',
    version: 1,
    format: 'text',
    time: { from: 'message', as: 'iso' },
    lookups: [{ list: 'networks', by: 'src_ip', set: { country: 'country' } }],
  };
  expect((await admin.call('PUT', '/recipes', recipe)).status).toBe(200);
  expect((await page('networks')).list.usedBy).toEqual([{ what: 'recipe', name: 'plain' }]);
  const kept = await admin.call('DELETE', '/lists/networks');
  expect([kept.status, kept.json.detail]).toEqual([
    409,
    '"networks" is used by the recipe "plain". Change that first.',
  ]);
  const { lookups: _none, ...without } = recipe;
  await admin.call('PUT', '/recipes', { ...without, version: 2 });
  expect((await analyst.call('DELETE', '/lists/networks')).status).toBe(403);
  expect((await admin.call('DELETE', '/lists/networks')).status).toBe(200);
  expect((await analyst.call('GET', '/lists/networks')).status).toBe(404);
});

it('fills columns in at intake from the list as it stands, and no longer from rows that have expired', async () => {
  const document = (await analyst.call('GET', '/recipes/harbour-id')).json.recipe;
  const { country: _own, ...map } = document.map;
  const lookups = [{ list: 'networks', by: 'src_ip', set: { country: 'country' } }];
  await admin.call('PUT', '/recipes', { ...document, version: 2, map, lookups });
  const countryOf = async (): Promise<unknown> => {
    const { json } = await send(server, 'harbour-id', signInRecord());
    return (await analyst.call('GET', `/events/${json.outcomes[0].id}`)).json.country ?? null;
  };
  expect(await countryOf()).toBeNull();
  await put('networks', {
    match: 'network',
    key: 'network',
    rows: [{ network: '10.20.0.0/16', country: 'Norway' }],
  });
  expect(await countryOf()).toBe('Norway');
  const rows = [
    { network: '10.20.0.0/16', country: 'Norway' },
    { network: '10.20.4.0/24', country: 'Denmark', expires: '2001-01-01' },
  ];
  await put('networks', { match: 'network', key: 'network', rows });
  expect(await countryOf()).toBe('Norway');
  expect((await page('networks')).list.expired).toBe(1);
  await put('networks', {
    match: 'network',
    key: 'network',
    rows: rows.map((row) => ({ ...row, expires: '2200-01-01' })),
  });
  expect(await countryOf()).toBe('Denmark');
  const refused = await put('networks', {
    match: 'network',
    key: 'network',
    rows: [{ network: '::/0', expires: 'soon' }],
  });
  expect(refused.json.detail).toContain('Row 1: "expires" is no time');
});
