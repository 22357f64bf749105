import { execFile } from 'node:child_process';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join, resolve } from 'node:path';
import { gzipSync } from 'node:zlib';
import { signInRecord, testServer, type TestServer } from '../server/tests/server.js';

// `lamp import` against a server that runs.

let server: TestServer;
const folder = mkdtempSync(join(tmpdir(), 'under-lamp-import-'));
beforeAll(async () => {
  server = await testServer();
});
afterAll(async () => {
  await server.stop();
  rmSync(folder, { recursive: true, force: true });
});

function lamp(
  source: string,
  key: string | undefined,
  ...files: string[]
): Promise<{ code: number; out: string; err: string }> {
  const at = server.base.replace('/api/v1', '');
  return new Promise((done) => {
    execFile(
      process.execPath,
      [
        resolve('cli/bin/lamp.mjs'),
        'import',
        '--server',
        at,
        '--source',
        source,
        ...(key === undefined ? [] : ['--key', key]),
        ...files,
      ],
      (error, out, err) => done({ code: typeof error?.code === 'number' ? error.code : 0, out, err }),
    );
  });
}
function file(name: string, content: string | Buffer): string {
  writeFileSync(join(folder, name), content);
  return join(folder, name);
}

it('sends files, plain and gzipped, lines and arrays, and doubles nothing', async () => {
  const records = Array.from({ length: 12_000 }, () => signInRecord());
  const lines = file('a.jsonl', records.slice(0, 7000).join('\n'));
  const packed = file(
    'b.json.gz',
    gzipSync(
      `[${records
        .slice(7000)
        .map((one) => one.replace('{', '{\n'))
        .join(',\n')}]`,
    ),
  );
  const first = await lamp('harbour-id', server.keys['harbour-id'], lines, packed);
  expect(first).toEqual({
    code: 0,
    out: '12,000 records: 12,000 stored, 0 already known, 0 left out, 0 set aside\n',
    err: '',
  });
  const again = await lamp('harbour-id', server.keys['harbour-id'], lines, packed);
  expect(again.out).toBe('12,000 records: 0 stored, 12,000 already known, 0 left out, 0 set aside\n');
});

it('identical lines of a file are events each, over pieces too; a longer copy adds only what is new', async () => {
  const key = server.keys['dock-auth'];
  const line =
    'Nov 14 08:00:00 quay-gw sshd[7]: Failed password for teo.marrash from 198.18.40.9 port 4 ssh2';
  const copy = (times: number): string => `${Array<string>(times).fill(line).join('\n')}\n`;
  const stored = async (): Promise<number> =>
    (
      await server.database.pool.query<{ n: number }>(
        `SELECT count(*)::int AS n FROM events WHERE "user" = 'teo.marrash' AND src_ip = '198.18.40.9'`,
      )
    ).rows[0]?.n ?? 0;
  // More than one request takes.
  expect((await lamp('dock-auth', key, file('same.log', copy(12_000)))).code).toBe(0);
  expect(await stored()).toBe(12_000);
  expect((await lamp('dock-auth', key, file('longer.log', copy(12_003)))).out).toMatch(/3 stored.*12,000/);
  expect(await stored()).toBe(12_003);
});

it('takes what a real sshd wrote, and sets aside what cannot be read', async () => {
  const odd = file('odd.log', 'no syslog at all\n');
  const done = await lamp('dock-auth', server.keys['dock-auth'], resolve('demo/fixtures/dock-auth.log'), odd);
  expect(done.out).toBe('77 records: 76 stored, 0 already known, 0 left out, 1 set aside\n');
});

it('says so when a packed file breaks off; what came before is stored, and is known when it is whole', async () => {
  const records = Array.from({ length: 6000 }, () => signInRecord());
  const whole = gzipSync(records.join('\n'));
  const cut = await lamp(
    'harbour-id',
    server.keys['harbour-id'],
    file('cut.gz', whole.subarray(0, whole.length - 400)),
  );
  expect(cut.code).toBe(1);
  expect(cut.err).toContain('unexpected end of file');
  const done = await lamp('harbour-id', server.keys['harbour-id'], file('whole.gz', whole));
  const told = /^6,000 records: ([\d,]+) stored, ([\d,]+) already known, 0 left out, 0 set aside\n$/.exec(
    done.out,
  );
  const [stored, known] = [told?.[1], told?.[2]].map((text) => Number(text?.replace(',', '')));
  expect([Number(stored) + Number(known), Number(known) >= 5000, Number(stored) > 0]).toEqual([
    6000,
    true,
    true,
  ]);
});

it.each<[string, () => Promise<{ code: number; err: string }>, number, string]>([
  ['a wrong key', () => lamp('dock-auth', 'ul_wrong', 'x'), 1, 'The key does not open this source'],
  ['no key', () => lamp('dock-auth', undefined, 'x'), 2, '--key KEY is missing'],
  ['no file', () => lamp('dock-auth', 'k'), 2, 'Which files?'],
  [
    'a file that is not there',
    () => lamp('dock-auth', server.keys['dock-auth'], join(folder, 'none')),
    1,
    'none cannot be read',
  ],
])('says what is wrong: %s', async (_, run, code, words) => {
  const { err, ...done } = await run();
  expect(done.code).toBe(code);
  expect(err).toContain(words);
});

it('warns of a file that is written otherwise, and reads it as it is told to', async () => {
  const path = file(
    'other.csv',
    [
      'at,who,what',
      ...Array.from({ length: 6 }, (_, i) => `2026-11-14T08:0${i}:00Z,teo.marrash,session.start`),
    ].join('\n'),
  );
  const wrong = await lamp('harbour-id', server.keys['harbour-id'], path);
  expect(wrong.err).toContain('other.csv looks like CSV');
  expect(wrong.err).toContain('--format csv');
  expect(wrong.out).toContain('7 set aside');
  await server.database.pool.query(
    `INSERT INTO recipes (name, version, document) VALUES ('desk-table', 1, $1)`,
    [
      JSON.stringify({
        name: 'desk-table',
        title: 'Desk table',
        version: 1,
        format: 'csv',
        columns: ['at', 'who', 'what'],
        time: { from: 'at', as: 'iso' },
        constants: { kind: 'signin' },
        map: { user: 'who', operation: 'what' },
      }),
    ],
  );
  const right = await lamp('harbour-id', server.keys['harbour-id'], '--recipe', 'desk-table', path);
  expect(right).toMatchObject({ code: 0, err: '' });
  expect(right.out).toContain('6 stored');
  const { rows } = await server.database.pool.query(
    `SELECT DISTINCT recipe_version, "user" FROM events WHERE raw LIKE '2026-11-14T08:0%'`,
  );
  expect(rows).toEqual([{ recipe_version: 0, user: 'teo.marrash' }]);
  const unknown = await lamp('harbour-id', server.keys['harbour-id'], '--format', 'jsson', path);
  expect(unknown.err).toContain('Did you mean json');
});
