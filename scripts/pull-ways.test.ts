import express from 'express';
import { createServer, type IncomingMessage, type Server, type ServerResponse } from 'node:http';
import type { AddressInfo } from 'node:net';
import { Warnings, WARNINGS_CLIENT } from '../stand-ins/services/warnings.js';
import { Caller, signInRecord, testServer, type TestServer } from '../server/tests/server.js';
import { retryAfterSeconds } from '../server/pull/fetch-page.js';
import { nextLink } from '../server/pull/next-link.js';

let server: TestServer;
let admin: Caller;
let outside: Server;
let base: string;
let warnings: Warnings;
let answer: (request: IncomingMessage, response: ServerResponse) => void;
const asked: { readonly url: string; readonly authorization: string | undefined }[] = [];

beforeAll(async () => {
  server = await testServer();
  admin = await new Caller(server).signIn('admin');
  warnings = new Warnings();
  const app = express();
  app.use((request, _response, next) => {
    asked.push({ url: request.url, authorization: request.headers.authorization });
    next();
  });
  app.use('/warnings', warnings.router);
  app.use((request, response) => answer(request, response));
  outside = createServer(app);
  await new Promise<void>((resolve) => outside.listen(0, '127.0.0.1', resolve));
  base = `http://127.0.0.1:${(outside.address() as AddressInfo).port}`;
});
afterAll(async () => {
  outside.closeAllConnections();
  outside.close();
  await server.stop();
});
beforeEach(async () => {
  asked.length = 0;
  await server.database.pool.query('DELETE FROM pulls');
});

const json = (response: ServerResponse, value: unknown, headers: Record<string, string> = {}): void => {
  response.writeHead(200, { 'Content-Type': 'application/json', ...headers });
  response.end(JSON.stringify(value));
};
const setUp = async (into: string, name: string, more: object): Promise<void> => {
  const { status, json: problem } = await admin.call('PUT', `/pulls/${into}/${name}`, {
    address: `${base}/feed`,
    everySeconds: 60,
    items: 'items',
    next: 'next',
    allowPrivate: true,
    ...more,
  });
  if (status !== 200) throw new Error(problem.detail);
};
const run = async (into: string, name: string): Promise<any> =>
  (await admin.call('POST', `/pulls/${into}/${name}/run`)).json;
const record = (eventId: string): unknown => JSON.parse(signInRecord({ eventId })) as unknown;
const storedIds = async (pattern: string): Promise<string[]> =>
  (
    await server.database.pool.query<{ id: string }>(
      `SELECT original ->> 'eventId' AS id FROM events WHERE original ->> 'eventId' LIKE $1 ORDER BY 1`,
      [pattern],
    )
  ).rows.map(({ id }) => id);

describe('pages that follow by the Link header', () => {
  const pages: Record<string, [string[], string | null]> = {
    '/feed': [['k1', 'k2'], '</feed?page=2>; rel="next"'],
    '/feed?page=2': [['k3'], `<?page=3>; rel="prev next"; title="a, b"`],
    '/feed?page=3': [['k4'], '</feed>; rel="first"'],
  };

  it('are fetched one after another, and the last one again by the next run', async () => {
    answer = (request, response) => {
      const [ids, link] = pages[request.url ?? ''] ?? [[], null];
      json(response, { items: ids.map(record) }, link === null ? {} : { Link: link });
    };
    await setUp('source', 'harbour-id', { follow: 'link' });
    expect(await run('source', 'harbour-id')).toMatchObject({ lastFetched: 4, error: null });
    expect(asked.map(({ url }) => url)).toEqual(['/feed', '/feed?page=2', '/feed?page=3']);
    pages['/feed?page=3'] = [['k4', 'k5'], null];
    await run('source', 'harbour-id');
    expect(asked.slice(3).map(({ url }) => url)).toEqual(['/feed?page=3']);
    expect(await storedIds('k%')).toEqual(['k1', 'k2', 'k3', 'k4', 'k5']);
  });

  it('are not followed to another host, which would get the token', async () => {
    answer = (_, response) =>
      json(response, { items: [record('z1')] }, { Link: '<http://10.0.0.9/feed>; rel=next' });
    await setUp('source', 'harbour-id', { follow: 'link', token: 'for this host' });
    expect((await run('source', 'harbour-id')).error).toContain('lies elsewhere, at http://10.0.0.9/feed');
  });

  it.each([
    [undefined, null],
    ['<b>; rel="next"', 'http://x.example/b'],
    ['<a>; rel=prev, </c>; rel=next', 'http://x.example/c'],
    ['<a>; rel="prev", <b?x=1,2>; foo; rel = "last NEXT"', 'http://x.example/b?x=1,2'],
    ['<a>; rel="nextish"', null],
    ['<a>; title="rel=next"', null],
    ['nonsense', null],
    [`${'<a>; '.repeat(10_000)}`, null],
  ])('%.60s leads to %s', (header, next) => expect(nextLink(header, 'http://x.example/a')).toBe(next));
});

it('a feed that fills in late is asked for a stretch of time again', async () => {
  const held = ['s1'];
  answer = (_, response) => json(response, { items: held.map(record) });
  await setUp('source', 'harbour-id', { sinceParameter: 'since', overlapSeconds: 3600, next: '' });
  await run('source', 'harbour-id');
  // The second run asks for an hour before the first one began.
  held.push('s2');
  await run('source', 'harbour-id');
  expect(asked.map(({ url }) => url)).toEqual(['/feed', '/feed?since=2026-11-14T11%3A00%3A00Z']);
  expect(await storedIds('s%')).toEqual(['s1', 's2']);
  // A run that fails covers nothing.
  server.clock.now += 600_000_000;
  answer = (_, response) => void response.writeHead(500).end();
  await run('source', 'harbour-id');
  answer = (_, response) => json(response, { items: [] });
  await run('source', 'harbour-id');
  expect(asked.at(-1)?.url).toBe('/feed?since=2026-11-14T11%3A00%3A00Z');
});

it.each([
  ['120', 120],
  ['Sat, 14 Nov 2026 12:05:00 GMT', 300],
  ['999999', 3600],
  ['Sat, 14 Nov 2026 11:00:00 GMT', null],
  ['soon', null],
  [undefined, null],
])('Retry-After %s is %s seconds', (header, seconds) =>
  expect(retryAfterSeconds(header, Date.parse('2026-11-14T12:00:00Z'))).toBe(seconds),
);

describe('client credentials', () => {
  const oauth = (): object => ({
    tokenAddress: `${base}/warnings/token`,
    clientId: WARNINGS_CLIENT.id,
    token: WARNINGS_CLIENT.secret,
    next: '',
  });

  it('give a token, which is used until it is refused', async () => {
    const shown: (string | undefined)[] = [];
    let known: string | undefined;
    answer = (request, response) => {
      const { authorization } = request.headers;
      shown.push(authorization);
      known ??= authorization;
      if (authorization === known) json(response, { items: [record(`o${shown.length}`)] });
      else response.writeHead(401).end();
    };
    await setUp('source', 'harbour-id', oauth());
    expect((await run('source', 'harbour-id')).error).toBeNull();
    expect((await run('source', 'harbour-id')).error).toBeNull();
    expect(asked.filter(({ url }) => url === '/warnings/token')).toHaveLength(1);
    expect(shown[0]).toMatch(/^Bearer \S{20,}$/);
    expect(shown[1]).toBe(shown[0]);
    // Refused once, a new one is asked for, and the page with it.
    answer = (request, response) => {
      if (request.headers.authorization === known) response.writeHead(401).end();
      else json(response, { items: [record('o9')] });
    };
    expect((await run('source', 'harbour-id')).error).toBeNull();
    expect(asked.filter(({ url }) => url === '/warnings/token')).toHaveLength(2);
    // The secret itself goes nowhere else.
    expect(
      asked
        .filter(({ url }) => url !== '/warnings/token')
        .every(({ authorization }) => authorization?.startsWith('Bearer ')),
    ).toBe(true);
  });

  it('that are wrong are told, and are kept for one host', async () => {
    answer = (_, response) => json(response, { items: [] });
    await setUp('source', 'harbour-id', { ...oauth(), token: 'wrong' });
    expect((await run('source', 'harbour-id')).error).toMatch(
      /No access token: .* answers 401, "invalid_client"/,
    );
    const before = await admin.call('GET', '/pulls/source/harbour-id');
    expect(JSON.stringify(before.json)).not.toContain('wrong');
    const { token: _, ...without } = oauth() as { token: string };
    await setUp('source', 'harbour-id', { ...without, tokenAddress: 'http://elsewhere.example/token' });
    expect((await admin.call('GET', '/pulls/source/harbour-id')).json.pull.hasToken).toBe(false);
  });
});

describe('indicators over TAXII', () => {
  const values = async (name: string): Promise<string[]> =>
    (await admin.call('GET', `/lists/${name}`)).json.rows
      .map((row: { cells: { value: string } }) => row.cells.value)
      .sort();
  const collection = (kind: string | null): object => ({
    address: base + Warnings.path,
    speaks: 'taxii',
    kind,
    tokenAddress: `${base}/warnings/token`,
    clientId: WARNINGS_CLIENT.id,
    token: WARNINGS_CLIENT.secret,
  });

  it('fill lists by their kind; what is added comes, what is withdrawn goes', async () => {
    for (const [name, match] of [
      ['warned-networks', 'network'],
      ['warned-domains', 'wildcard'],
    ])
      await admin.call('PUT', `/lists/${name}`, {
        match,
        key: 'value',
        rows: [{ value: match === 'network' ? '192.0.2.0/24' : 'x.example' }],
      });
    await setUp('list', 'warned-networks', collection('networks'));
    await setUp('list', 'warned-domains', collection('domains'));
    expect(await run('list', 'warned-networks')).toMatchObject({ error: null, lastFetched: 6 });
    await run('list', 'warned-domains');
    expect(await values('warned-networks')).toEqual(['198.18.40.0/24']);
    expect(await values('warned-domains')).toEqual(['quay-times.elsewhere.example']);

    const added = warnings.add("[domain-name:value = 'new.elsewhere.example']", 'New');
    expect(await run('list', 'warned-domains')).toMatchObject({ lastFetched: 1 });
    expect(await values('warned-domains')).toEqual(['new.elsewhere.example', 'quay-times.elsewhere.example']);
    // Only what was added since is asked for.
    expect(asked.at(-1)?.url).toContain('added_after=');

    warnings.withdraw(added);
    await run('list', 'warned-domains');
    expect(await values('warned-domains')).toEqual(['quay-times.elsewhere.example']);
    expect(await run('list', 'warned-domains')).toMatchObject({ lastFetched: 0, error: null });
    expect(await values('warned-domains')).toEqual(['quay-times.elsewhere.example']);
  });

  it('come page by page, whole or not at all, and a token that is lost is had again', async () => {
    await admin.call('PUT', '/lists/many', { match: 'exact', key: 'value', rows: [{ value: 'x' }] });
    for (let n = 0; n < 1100; n++) warnings.add(`[domain-name:value = 'd${n}.many.example']`, `Many ${n}`);
    await setUp('list', 'many', collection(null));
    expect((await run('list', 'many')).error).toBeNull();
    const { found } = (await admin.call('GET', '/lists/many')).json;
    expect(found).toBeGreaterThan(1100);
    expect(asked.filter(({ url }) => url.includes('next='))).toHaveLength(2);
    warnings.forgetTokens();
    warnings.add("[domain-name:value = 'after.many.example']", 'After');
    expect(await run('list', 'many')).toMatchObject({ error: null, lastFetched: 1 });
    expect((await admin.call('GET', '/lists/many')).json.found).toBe(found + 1);
  });

  it('a server that dies between writing indicators down and making the list makes it the next time', async () => {
    await admin.call('PUT', '/lists/late', { match: 'exact', key: 'value', rows: [{ value: 'x' }] });
    await setUp('list', 'late', collection('mail'));
    await run('list', 'late');
    const { pool } = server.database;
    await pool.query(
      `INSERT INTO pulled_indicators VALUES ('late', 'indicator--z', '2026-11-14', '[{"value":"late@elsewhere.example"}]')`,
    );
    // As it stands after a stop in between: the place has moved on, and nothing says that the list is up to date.
    await pool.query(`UPDATE pulls SET etag = NULL WHERE name = 'late'`);
    expect((await run('list', 'late')).error).toBeNull();
    expect(await values('late')).toEqual(['harbour.office@elsewhere.example', 'late@elsewhere.example']);
  });

  it('are no records of a source, and an address that is no collection is told', async () => {
    const refused = await admin.call('PUT', '/pulls/source/harbour-id', {
      address: base,
      everySeconds: 60,
      speaks: 'taxii',
    });
    expect(refused.status).toBe(422);
    answer = (_, response) => json(response, [1]);
    await admin.call('PUT', '/lists/none', { match: 'exact', key: 'value', rows: [{ value: 'x' }] });
    await setUp('list', 'none', { speaks: 'taxii' });
    expect((await run('list', 'none')).error).toContain('no TAXII envelope');
    expect(await values('none')).toEqual(['x']);
  });
});
