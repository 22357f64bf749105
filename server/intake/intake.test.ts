import { readFileSync } from 'node:fs';
import { gzipSync } from 'node:zlib';
import { Caller, send, signInRecord, testServer, type TestServer } from '../tests/server.js';

let server: TestServer;
let analyst: Caller;
beforeAll(async () => {
  server = await testServer();
  analyst = await new Caller(server).signIn('analyst');
});
afterAll(() => server.stop());
afterEach(() => server.database.pool.query('TRUNCATE events, set_aside'));

async function stored(): Promise<number> {
  const { rows } = await server.database.pool.query<{ n: number }>('SELECT count(*) AS n FROM events');
  return rows[0]?.n ?? -1;
}

describe('pushing records', () => {
  it('takes JSON lines, an array, and gzip, and answers for each record', async () => {
    const [a, b, c] = [signInRecord(), signInRecord({ denied: 'bad_secret' }), signInRecord()];
    const lines = await send(server, 'harbour-id', `${a}\n${b}\n`);
    expect(lines).toMatchObject({
      status: 200,
      json: { records: 2, stored: 2, known: 0, setAside: 0, discarded: 0 },
    });
    expect(lines.json.outcomes).toEqual([
      { record: 1, outcome: 'stored', id: expect.stringMatching(/^[0-9a-f]{32}$/) },
      { record: 2, outcome: 'stored', id: expect.stringMatching(/^[0-9a-f]{32}$/) },
    ]);
    const array = await send(server, 'harbour-id', gzipSync(`[${b}, ${c}]`), { 'Content-Encoding': 'gzip' });
    expect(array.json).toMatchObject({ records: 2, stored: 1, known: 1 });
    expect(await stored()).toBe(3);
  });

  it('stores a record once, sent again, within one request, or by many senders at a time', async () => {
    const record = signInRecord();
    const others = Array.from({ length: 40 }, () => signInRecord());
    const body = [record, record, ...others].join('\n');
    const answers = await Promise.all(Array.from({ length: 4 }, () => send(server, 'harbour-id', body)));
    expect(answers.map((answer) => answer.status)).toEqual([200, 200, 200, 200]);
    expect(answers.reduce((sum, answer) => sum + answer.json.stored, 0)).toBe(41);
    expect(answers.reduce((sum, answer) => sum + answer.json.known, 0)).toBe(4 * 42 - 41);
    expect(await stored()).toBe(41);
  });

  it('reads text lines by the recipe and keeps fields and record as they came', async () => {
    const line =
      "<86>Nov 14 08:03:12 gate-01 sshd[7]: Failed password for invalid user O'Hara;-- from 203.0.113.9 port 4242 ssh2";
    const { json } = await send(server, 'dock-auth', line);
    const { json: event } = await analyst.call('GET', `/events/${json.outcomes[0].id}`);
    expect(event).toMatchObject({
      source: 'dock-auth',
      kind: 'signin',
      outcome: 'failure',
      user: "o'hara;--",
      src_ip: '203.0.113.9',
      src_port: 4242,
      host: 'gate-01',
      time: '2026-11-14T08:03:12Z',
      raw: line,
      original: { program: 'sshd', pid: '7' },
    });
  });

  it('sets aside what cannot be read, with the reason, once, and goes on with the rest', async () => {
    const body = [
      signInRecord(),
      'no json',
      signInRecord({ at: 'noon' }),
      signInRecord({ at: '0001-01-01T00:00:00Z' }),
      signInRecord({ at: '9999-12-31T00:00:00Z' }),
      '{"a":',
    ].join('\n');
    const { json } = await send(server, 'harbour-id', body);
    expect(json).toMatchObject({ records: 6, stored: 1, setAside: 5 });
    expect(json.outcomes.map((outcome: { code?: string }) => outcome.code)).toEqual([
      undefined,
      'not-json',
      'no-time',
      'unbelievable-time',
      'unbelievable-time',
      'not-json',
    ]);
    await send(server, 'harbour-id', 'no json');
    const { json: aside } = await analyst.call('GET', '/sources/harbour-id/set-aside');
    expect(aside.total).toBe(5);
    expect(
      aside.groups.find(({ examples }: { examples: string[] }) => examples.includes('no json')),
    ).toMatchObject({
      code: 'not-json',
      reason: expect.stringContaining('not JSON'),
    });
  });

  it('survives signs that PostgreSQL cannot keep, in every place', async () => {
    const nasty = JSON.stringify({
      eventId: 'x\0y',
      at: '2026-11-14T08:00:00Z',
      action: 'a\0b',
      actor: { login: 'q\\\t\n\u2028' },
      'key\0': ['\ud800', '\\u0000', '\0', '\\ud800'],
      n: 'LARGE',
    }).replace('"LARGE"', '12345678901234567890,"__proto__":{"polluted":true}');
    const { json } = await send(server, 'harbour-id', nasty);
    expect(json.outcomes).toEqual([{ record: 1, outcome: 'stored', id: expect.any(String) }]);
    const { json: event } = await analyst.call('GET', `/events/${json.outcomes[0].id}`);
    expect(event.operation).toBe('a\ufffdb');
    expect(event.original['key\ufffd']).toEqual(['\ufffd', '\\u0000', '\ufffd', '\\ud800']);
    expect(event.original.n).toBe('12345678901234567890');
    expect(({} as { polluted?: boolean }).polluted).toBeUndefined();
  });

  it('refuses what is too large, wrongly packed, or cut off, and says the limits', async () => {
    const bomb = gzipSync(Buffer.alloc(40 * 1024 * 1024, 'x'));
    expect(await send(server, 'harbour-id', bomb, { 'Content-Encoding': 'gzip' })).toMatchObject({
      status: 413,
      json: { code: 'too-large', detail: expect.stringContaining('16,777,216 bytes') },
    });
    expect(await send(server, 'harbour-id', '{}\n'.repeat(50_001))).toMatchObject({
      status: 413,
      json: { detail: expect.stringContaining('50,000 records') },
    });
    expect(await send(server, 'harbour-id', 'x', { 'Content-Encoding': 'br' })).toMatchObject({
      status: 415,
      json: { code: 'unknown-encoding' },
    });
    expect(
      await send(server, 'harbour-id', gzipSync('hello world').subarray(0, 20), {
        'Content-Encoding': 'gzip',
      }),
    ).toMatchObject({ status: 400, json: { code: 'broken-body' } });
    expect(await send(server, 'harbour-id', '')).toMatchObject({
      status: 200,
      json: { records: 0, outcomes: [] },
    });
  });

  it('opens a source by its own key only, and tells nothing of others', async () => {
    const tries = [
      await send(server, 'harbour-id', signInRecord(), {
        Authorization: `Bearer ${server.keys['dock-auth']}`,
      }),
      await send(server, 'harbour-id', signInRecord(), { Authorization: '' }),
      await send(server, 'nowhere', signInRecord(), { Authorization: `Bearer ${server.keys['harbour-id']}` }),
    ];
    expect(tries.map((answer) => [answer.status, answer.json.code, answer.json.detail])).toEqual(
      Array(3).fill([401, 'wrong-key', tries[0]?.json.detail]),
    );
    expect(await stored()).toBe(0);
  });

  it('a rotated key opens, the old one no longer does', async () => {
    const admin = await new Caller(server).signIn('admin');
    const { json: added } = await admin.call('POST', '/sources', {
      name: 'second',
      title: 'Second',
      recipe: 'harbour-id',
    });
    const with_ = (key: string) => send(server, 'second', signInRecord(), { Authorization: `Bearer ${key}` });
    expect((await with_(added.key)).status).toBe(200);
    const { json: rotated } = await admin.call('POST', '/sources/second/key');
    expect([(await with_(added.key)).status, (await with_(rotated.key)).status]).toEqual([401, 200]);
    expect(
      await admin.call('POST', '/sources', { name: 'second', title: 'Again', recipe: 'harbour-id' }),
    ).toMatchObject({ status: 409, json: { code: 'name-taken' } });
    expect(
      await admin.call('POST', '/sources', { name: 'third', title: 'Third', recipe: 'none' }),
    ).toMatchObject({ status: 422, json: { code: 'unknown-recipe' } });
  });
});

describe('uploading a file', () => {
  async function upload(source: string, file: Buffer): Promise<{ status: number; json: any }> {
    const response = await analyst.fetch('GET', '/session');
    expect(response.status).toBe(200);
    const cookie = (analyst as unknown as { cookie: string }).cookie;
    const sent = await fetch(`${server.base}/sources/${source}/upload`, {
      method: 'POST',
      headers: { Cookie: cookie, 'Content-Type': 'application/octet-stream' },
      body: file,
    });
    return { status: sent.status, json: await sent.json() };
  }

  it('reads what a real sshd wrote, plain or gzipped, and doubles nothing', async () => {
    server.clock.now = Date.parse('2026-11-23T16:00:00Z') * 1000;
    const file = readFileSync('demo/fixtures/dock-auth.log');
    expect(await upload('dock-auth', file)).toEqual({
      status: 200,
      json: { records: 76, stored: 76, known: 0, setAside: 0, discarded: 0 },
    });
    expect(await upload('dock-auth', gzipSync(file))).toMatchObject({
      json: { records: 76, stored: 0, known: 76 },
    });
    server.clock.now = Date.parse('2026-11-14T12:00:00Z') * 1000;
  });

  it('reads more than one batch, and lines that fall between two pieces', async () => {
    const lines = Array.from(
      { length: 6000 },
      (_, i) =>
        `Nov 14 08:${String(Math.floor(i / 60) % 60).padStart(2, '0')}:${String(i % 60).padStart(2, '0')} gate-01 sshd[${i}]: Accepted password for teo from 10.0.0.5 port ${1024 + i} ssh2`,
    );
    expect(await upload('dock-auth', Buffer.from(lines.join('\n')))).toMatchObject({
      json: { records: 6000, stored: 6000 },
    });
  });

  it('tells a broken archive and a source that is not there', async () => {
    expect(
      await upload('dock-auth', gzipSync('Nov 14 08:00:00 h a: b\n'.repeat(100)).subarray(0, 30)),
    ).toMatchObject({ status: 400, json: { code: 'broken-file' } });
    expect(await upload('nowhere', Buffer.from('x'))).toMatchObject({ status: 404 });
  });
});

it('a source counts what it stored, when, and stands as waiting, flowing or quiet', async () => {
  const states = async (): Promise<Record<string, string>> => {
    const { json } = await analyst.call('GET', '/sources');
    return Object.fromEntries(
      json.sources.map((source: { name: string; state: string }) => [source.name, source.state]),
    );
  };
  const admin = await new Caller(server).signIn('admin');
  const { json: added } = await admin.call('POST', '/sources', {
    name: 'fresh',
    title: 'Fresh',
    recipe: 'harbour-id',
  });
  expect((await states())['fresh']).toBe('waiting');
  await send(server, 'fresh', signInRecord({ at: '2026-11-14T11:59:00Z' }), {
    Authorization: `Bearer ${added.key}`,
  });
  expect((await states())['fresh']).toBe('flowing');
  server.clock.now += 3 * 3_600_000_000;
  expect((await states())['fresh']).toBe('quiet');
  const { json } = await analyst.call('GET', '/sources');
  expect(json.sources.find((source: { name: string }) => source.name === 'fresh')).toMatchObject({
    stored: 1,
    lastEvent: '2026-11-14T11:59:00Z',
    keyEnding: added.key.slice(-4),
  });
  server.clock.now -= 3 * 3_600_000_000;
});

it('tells a sender with the key how its records are written, and nobody else', async () => {
  const ask = async (source: string, key: string | undefined): Promise<unknown> => {
    const response = await fetch(`${server.base}/intake/${source}`, {
      headers: { Authorization: `Bearer ${key}` },
    });
    return [response.status, ((await response.json()) as { format?: string }).format];
  };
  expect(await ask('dock-auth', server.keys['dock-auth'])).toEqual([200, 'syslog']);
  expect(await ask('dock-auth', server.keys['harbour-id'])).toEqual([401, undefined]);
  expect(await ask('nobody', 'ul_x')).toEqual([401, undefined]);
});
