import { execFile } from 'node:child_process';
import { join } from 'node:path';
import { promisify } from 'node:util';
import { gzipSync } from 'node:zlib';
import { Caller, testServer, TEST_TIME, type TestServer } from '../tests/server.js';

let server: TestServer;
let admin: Caller;
let key: string;
beforeAll(async () => {
  server = await testServer();
  admin = await new Caller(server).signIn('admin');
  const made = await admin.call('POST', '/sources', {
    name: 'services',
    title: 'Services',
    recipe: 'otlp-logs',
  });
  key = made.json.key;
});
afterAll(() => server.stop());

const url = (source = 'services'): string => `${server.base}/otlp/${source}/v1/logs`;
async function rows(where: string): Promise<Record<string, unknown>[]> {
  const { json } = await admin.call('POST', '/hunts/run', {
    text: `from all\nwhere ${where}\nshow kind, operation, outcome, user, src_ip, host, application, severity, message, original.trace_id as trace, original."span_id" as span`,
    window: TEST_TIME,
  });
  return json.rows.map((row: unknown[]) =>
    Object.fromEntries(json.columns.map(({ name }: { name: string }, i: number) => [name, row[i]])),
  );
}
const post = (body: Buffer | string, headers: Record<string, string>, source?: string): Promise<Response> =>
  fetch(url(source), {
    method: 'POST',
    headers: { Authorization: `Bearer ${key}`, ...headers },
    body: typeof body === 'string' ? body : new Uint8Array(body),
  });

it.each([
  ['protobuf, gzipped', 'proto'],
  ['JSON', 'json'],
])('the official exporter of %s is understood', async (_, mark) => {
  await promisify(execFile)(process.execPath, [
    '--import',
    'tsx',
    join(__dirname, 'tests', 'send-logs.ts'),
    url(),
    key,
    mark,
  ]);
  expect(await rows(`user = 'teo-${mark}'`)).toMatchObject([
    {
      kind: 'web',
      operation: 'web.request',
      outcome: 'failure',
      src_ip: '198.18.40.77',
      host: 'quay-app-02',
      application: `booking-${mark}`,
      severity: 'medium',
      message: 'seat cannot be booked',
    },
  ]);
  expect(await rows(`user = 'runa-${mark}'`)).toMatchObject([{ message: '{"step":"paid"}' }]);
});

const jsonBody = (...logRecords: object[]): string =>
  JSON.stringify({ resourceLogs: [{ scopeLogs: [{ logRecords }] }] });
const at = '1794643200123456789';

it('ids of traces are kept as they are written', async () => {
  const record = {
    timeUnixNano: at,
    body: { stringValue: 'traced' },
    traceId: '5B8EFFF798038103D269B633813FC60C',
    spanId: 'EEE19B7EC3C1B174',
  };
  const response = await post(jsonBody(record), { 'Content-Type': 'application/json' });
  expect([response.status, await response.json()]).toEqual([200, {}]);
  expect(await rows("message = 'traced'")).toMatchObject([
    { trace: '5b8efff798038103d269b633813fc60c', span: 'eee19b7ec3c1b174' },
  ]);
});

it('what is not taken of a request is told as a partial success', async () => {
  const body = jsonBody(
    { timeUnixNano: at, body: { stringValue: 'good one' } },
    { timeUnixNano: at, attributes: 'none' },
  );
  const response = await post(gzipSync(body), {
    'Content-Type': 'application/json',
    'Content-Encoding': 'gzip',
  });
  expect(await response.json()).toEqual({
    partialSuccess: {
      rejectedLogRecords: 1,
      errorMessage: expect.stringContaining('1 log records were not taken'),
    },
  });
  // Kept and unread is no rejection, but worth knowing.
  const unread = await post(jsonBody({ body: { stringValue: 'no time' } }), {
    'Content-Type': 'application/json',
  });
  expect(await unread.json()).toEqual({
    partialSuccess: { rejectedLogRecords: 0, errorMessage: expect.stringContaining('cannot read them') },
  });
});

it.each([
  ['a wrong key', '{}', { Authorization: 'Bearer x', 'Content-Type': 'application/json' }, 401],
  ['another type', '{}', { 'Content-Type': 'text/plain' }, 415],
  ['no JSON', '{', { 'Content-Type': 'application/json' }, 400],
  ['no request', '[]', { 'Content-Type': 'application/json' }, 400],
  ['no message', '\xff\xff\xff\xff', { 'Content-Type': 'application/x-protobuf' }, 400],
  ['no gzip', 'x', { 'Content-Type': 'application/json', 'Content-Encoding': 'gzip' }, 400],
])('%s is refused', async (_, body, headers, status) => {
  const response = await post(body, headers);
  expect(response.status).toBe(status);
  if (headers['Content-Type'] === 'application/x-protobuf')
    expect(response.headers.get('content-type')).toContain('application/x-protobuf');
});

it('a message that is deep, or swells, is bounded', async () => {
  // Lists within lists, some ten thousand deep: each level is a field of a few bytes.
  const field = (tag: number, inner: Uint8Array): Buffer => {
    const length: number[] = [];
    for (let n = inner.length; ; n >>>= 7) {
      length.push(n > 127 ? (n & 127) | 128 : n);
      if (n <= 127) break;
    }
    return Buffer.concat([Buffer.from([tag, ...length]), inner]);
  };
  let value = Buffer.from([0x0a, 0x01, 0x78]);
  while (value.length < 100_000) value = Buffer.from(field(0x2a, field(0x0a, value)));
  const message = field(0x0a, field(0x12, field(0x12, field(0x2a, value))));
  const deep = await post(message, { 'Content-Type': 'application/x-protobuf' });
  expect([200, 400]).toContain(deep.status);
  const swollen = await post(gzipSync(Buffer.alloc(40_000_000, 32)), {
    'Content-Type': 'application/json',
    'Content-Encoding': 'gzip',
  });
  expect(swollen.status).toBe(413);
  const many = jsonBody(...Array.from({ length: 50_001 }, () => ({ body: { stringValue: 'x' } })));
  expect((await post(many, { 'Content-Type': 'application/json' })).status).toBe(413);
  // Nobody else noticed.
  expect((await admin.call('GET', '/sources')).status).toBe(200);
}, 60_000);
