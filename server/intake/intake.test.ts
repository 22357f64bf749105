import { readFileSync } from 'node:fs';
import { gzipSync } from 'node:zlib';
import { anySyslog } from '../sources/any-syslog.js';
import { rollForward } from '../derived/roll-forward.js';
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

  it('stores a record with an id of its own once, sent again, within one request, or by many senders at a time', async () => {
    const record = signInRecord();
    const others = Array.from({ length: 40 }, () => signInRecord());
    const body = [record, record, ...others].join('\n');
    const answers = await Promise.all(Array.from({ length: 4 }, () => send(server, 'harbour-id', body)));
    expect(answers.map((answer) => answer.status)).toEqual([200, 200, 200, 200]);
    expect(answers.reduce((sum, answer) => sum + answer.json.stored, 0)).toBe(41);
    expect(answers.reduce((sum, answer) => sum + answer.json.known, 0)).toBe(4 * 42 - 41);
    expect(await stored()).toBe(41);
  });

  it('knows a record by an id of its own, also where it comes again with another time of the day', async () => {
    const record = JSON.parse(signInRecord()) as { at: string };
    const day = record.at.slice(0, 10);
    const at = (time: string): string => JSON.stringify({ ...record, at: `${day}T${time}Z` });
    expect((await send(server, 'harbour-id', at('08:00:00'))).json).toMatchObject({ stored: 1 });
    const again = await send(
      server,
      'harbour-id',
      [at('08:00:00'), at('21:00:00'), at('00:00:00')].join('\n'),
    );
    expect(again.json).toMatchObject({ stored: 0, known: 3, setAside: 0 });
    expect(await stored()).toBe(1);
  });

  it('counts identical records of one delivery, and knows the delivery again', async () => {
    const line =
      '<86>Nov 14 08:03:12 gate-01 sshd[7]: Failed password for root from 203.0.113.9 port 4242 ssh2';
    const forty = Array.from({ length: 40 }, () => line).join('\n');
    expect((await send(server, 'dock-auth', forty)).json).toMatchObject({
      records: 40,
      stored: 40,
      known: 0,
    });
    // A sender that got no answer sends the same again.
    expect((await send(server, 'dock-auth', forty)).json).toMatchObject({ stored: 0, known: 40 });
    // A longer copy adds what is new.
    expect((await send(server, 'dock-auth', `${forty}\n${line}`)).json).toMatchObject({
      stored: 1,
      known: 40,
    });
    // Who names deliveries has two of the same text told apart, and one sent again recognised.
    const named = (id: string) => send(server, 'dock-auth', `${line}\n${line}`, { 'Delivery-Id': id });
    expect((await named('d-1')).json).toMatchObject({ stored: 2, known: 0 });
    expect((await named('d-1')).json).toMatchObject({ stored: 0, known: 2 });
    expect((await named('d-2')).json).toMatchObject({ stored: 2, known: 0 });
    // A part says how many came in those before it.
    const part = await send(server, 'dock-auth', `${line}\n${line}`, { 'Earlier-Copies': '1=41,2=42' });
    expect(part.json).toMatchObject({ stored: 2, known: 0 });
    expect(await stored()).toBe(47);
    const { json: sources } = await analyst.call('GET', '/sources');
    expect(
      sources.sources.find(({ name }: { name: string }) => name === 'dock-auth').known,
    ).toBeGreaterThanOrEqual(82);
  });

  it.each([
    ['Delivery-Id', 'a b'],
    ['Delivery-Id', 'x'.repeat(201)],
    ['Earlier-Copies', '1'],
  ])('refuses a head %s: %s', async (name, value) => {
    expect(await send(server, 'dock-auth', 'x', { [name]: value })).toMatchObject({
      status: 400,
      json: { detail: expect.stringContaining(name) },
    });
  });

  it('counts identical records that were set aside when they can be read at last', async () => {
    const line = 'no syslog line at all';
    const { json } = await send(server, 'dock-auth', [line, line, line].join('\n'));
    expect(json).toMatchObject({ setAside: 3 });
    await send(server, 'dock-auth', [line, line, line].join('\n'));
    const { json: aside } = await analyst.call('GET', '/sources/dock-auth/set-aside');
    expect(aside.total).toBe(3);
    // The recipe learns to read such lines; each counts.
    const { pool } = server.database;
    const lenient = {
      ...anySyslog,
      name: 'dock-auth',
      version: 2,
      format: 'text' as const,
      map: { message: 'message' },
    };
    await pool.query('INSERT INTO recipes (name, version, document) VALUES ($1, 2, $2)', [
      'dock-auth',
      JSON.stringify({ ...lenient, time: { from: 'message', as: 'iso' } }),
    ]);
    await pool.query(`UPDATE set_aside SET raw = '2026-11-14T08:00:00Z'`);
    await pool.query(`UPDATE config_versions SET version = version + 1 WHERE name = 'sources'`);
    const { json: retried } = await analyst.call('POST', '/sources/dock-auth/set-aside/retry', {});
    expect(retried).toMatchObject({ tried: 3, stored: 3, known: 0 });
    await pool.query(`DELETE FROM recipes WHERE name = 'dock-auth' AND version = 2`);
    await pool.query(`UPDATE config_versions SET version = version + 1 WHERE name = 'sources'`);
  });

  it('keeps the beginning of a value that no index takes, says so, and keeps the whole in the original', async () => {
    const long = 'x'.repeat(20_000);
    const record = JSON.stringify({
      eventId: 'long-1',
      at: '2026-11-14T08:00:00Z',
      action: 'session.start',
      actor: { login: long },
      application: { name: long },
      client: { address: '10.0.0.1' },
    });
    const { json } = await send(server, 'harbour-id', `${record}\n${signInRecord()}`);
    expect(json).toMatchObject({ stored: 2 });
    const { json: event } = await analyst.call('GET', `/events/${json.outcomes[0].id}`);
    expect(event.user).toBe(`${'x'.repeat(997)}…`);
    expect(event.tags).toEqual(['shortened']);
    expect(event.original.actor.login).toBe(long);
    // The roll-forward, whose table has both of a pair in one index row, takes it too.
    await rollForward(server.database.pool, new AbortController().signal);
    const { rows } = await server.database.pool.query('SELECT 1 FROM batches WHERE NOT rolled');
    expect(rows).toEqual([]);
  });

  it('sets a record that the database refuses aside alone, with its reason', async () => {
    const { pool } = server.database;
    await pool.query(
      `ALTER TABLE events ADD CONSTRAINT test_refuses CHECK (operation <> 'refused') NOT VALID`,
    );
    try {
      const records = Array.from({ length: 300 }, (_, i) =>
        signInRecord({ action: i === 17 || i === 230 ? 'refused' : 'session.start' }),
      );
      const { json } = await send(server, 'harbour-id', records.join('\n'));
      expect(json).toMatchObject({ records: 300, stored: 298, setAside: 2 });
      expect(json.outcomes[17]).toMatchObject({
        record: 18,
        outcome: 'set aside',
        code: 'refused',
        reason: expect.stringContaining('test_refuses'),
      });
      expect(await stored()).toBe(298);
    } finally {
      await pool.query('ALTER TABLE events DROP CONSTRAINT test_refuses');
    }
  });

  it('sets aside what lies before the retention or too far ahead, and makes no day for it', async () => {
    const days = Array.from({ length: 3000 }, (_, i) =>
      signInRecord({ at: new Date(Date.parse('2014-01-01T00:00:00Z') + i * 86_400_000).toISOString() }),
    );
    const ahead = signInRecord({ at: '2026-11-16T12:00:01Z' });
    const { json } = await send(server, 'harbour-id', [...days, ahead, signInRecord()].join('\n'));
    expect(json).toMatchObject({ stored: 1, setAside: 3001 });
    expect(json.outcomes[0]).toMatchObject({
      code: 'time-not-kept',
      reason: expect.stringContaining('1100 days back'),
    });
    expect(json.outcomes[3000]).toMatchObject({
      reason: expect.stringContaining('more than two days ahead'),
    });
    const { rows } = await server.database.pool.query<{ n: number }>(
      `SELECT count(*) AS n FROM pg_inherits WHERE inhparent = 'events'::regclass`,
    );
    expect(rows[0]?.n).toBeLessThanOrEqual(3);
  });

  it('stores many days of one request, few in each transaction', async () => {
    const days = Array.from({ length: 80 }, (_, i) =>
      signInRecord({ at: new Date(Date.parse('2026-08-20T00:00:00Z') + i * 86_400_000).toISOString() }),
    );
    const { json } = await send(server, 'harbour-id', days.reverse().join('\n'));
    expect(json).toMatchObject({ stored: 80 });
    const { rows } = await server.database.pool.query<{ days: number }>(
      `SELECT count(DISTINCT ("time" AT TIME ZONE 'UTC')::date) AS days FROM events GROUP BY batch`,
    );
    expect(Math.max(...rows.map(({ days: found }) => found))).toBeLessThanOrEqual(32);
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

  it('survives characters that PostgreSQL cannot keep, in every place', async () => {
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
