import { execFile } from 'node:child_process';
import { mkdirSync, mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join, resolve } from 'node:path';
import { gzipSync } from 'node:zlib';
import { mastOsRecords } from '../demo/evtx/mast-os-file.js';
import { writeEvtx } from '../demo/evtx/write-evtx.js';

// Somebody else's machine: a folder of 311 files of all kinds, gone through at once.

const folder = mkdtempSync(join(tmpdir(), 'lamp-triage-'));
const machine = join(folder, 'machine');
const rules = join(folder, 'rules');
afterAll(() => rmSync(folder, { recursive: true, force: true }));

const clock = (second: number): string =>
  new Date(Date.UTC(2026, 10, 14, 8) + second * 1000).toISOString().slice(11, 19);
const os = (
  second: number,
  code: number,
  data: Readonly<Record<string, string>>,
  channel = 'Security',
): string =>
  `<Event><System><Provider Name="Maker"/><EventID>${code}</EventID><TimeCreated SystemTime="2026-11-14T${clock(second)}Z"/><EventRecordID>${second + 1}</EventRecordID><Channel>${channel}</Channel><Computer>HOLD-FS-01.mast.skerry-line.example</Computer></System><EventData>${Object.entries(
    data,
  )
    .map(([name, value]) => `<Data Name="${name}">${value}</Data>`)
    .join('')}</EventData></Event>`;
const signIn = (second: number, code: 4624 | 4625, user: string, address: string): string =>
  os(second, code, { TargetUserName: user, IpAddress: address, LogonType: '3', SubStatus: '0xC000006A' });
const sshd = (second: number, text: string): string => `Nov 14 ${clock(second)} gate-01 sshd[77]: ${text}`;
const web = (second: number, path: string): string =>
  `198.18.40.77 - - [14/Nov/2026:${clock(second)} +0000] "GET ${path} HTTP/1.1" 404 153 "-" "Mozilla/5.0"`;

/** What happened there: guesses at one account until one is right, then a group and the log. */
const story = [
  ...Array.from({ length: 8 }, (_, i) => signIn(i * 10, 4625, 'teo.marrash', '198.18.40.77')),
  signIn(90, 4624, 'teo.marrash', '198.18.40.77'),
  os(120, 4732, { SubjectUserName: 'teo.marrash', MemberName: 'x', TargetUserName: 'Administrators' }),
  os(150, 1102, { SubjectUserName: 'teo.marrash' }),
];

beforeAll(() => {
  for (const name of [
    machine,
    join(machine, 'events'),
    join(machine, 'var', 'log'),
    join(machine, 'pictures'),
    rules,
  ])
    mkdirSync(name, { recursive: true });
  const put = (name: string, content: string | Uint8Array): void =>
    writeFileSync(join(machine, name), content);
  put('events/story.evtx', writeEvtx(mastOsRecords(story)));
  for (let i = 0; i < 60; i++)
    put(
      `events/quiet-${i}.evtx`,
      writeEvtx(mastOsRecords([signIn(i, 4624, `user${i}`, `10.20.4.${i + 1}`)])),
    );
  for (let i = 0; i < 60; i++)
    put(`events/day-${i}.xml`, `${signIn(i, 4624, `user${i}`, `10.20.5.${i + 1}`)}\n`);
  for (let i = 0; i < 60; i++) {
    const text = [
      sshd(i, `Accepted password for user${i} from 10.20.6.${i + 1} port 5 ssh2`),
      sshd(i + 1, `Failed password for invalid user root from 198.18.40.9 port ${i} ssh2`),
    ].join('\n');
    put(`var/log/auth-${i}.log${i % 2 === 0 ? '' : '.gz'}`, i % 2 === 0 ? text : gzipSync(text));
  }
  for (let i = 0; i < 60; i++)
    put(`var/log/access-${i}.log`, [web(i, '/'), web(i + 1, '/a?f=../../etc/passwd')].join('\n'));
  for (let i = 0; i < 40; i++)
    put(`var/log/app-${i}.jsonl`, `{"time":"2026-11-14T${clock(i)}Z","step":${i}}\n`);
  // No logs: pictures, programs, and nothing at all; and one that broke off in the middle.
  for (let i = 0; i < 20; i++)
    put(
      `pictures/p${i}.png`,
      Uint8Array.from({ length: 3000 }, (_, at) => (at * 7919 + i * 31 + ((at * at) % 251)) & 255),
    );
  for (let i = 0; i < 9; i++) put(`pictures/empty-${i}`, '');
  put('events/torn.evtx', writeEvtx(mastOsRecords(story)).subarray(0, 4096 + 512 + 3000));

  const rule = (name: string, level: string, source: string, selection: string): void =>
    writeFileSync(
      join(rules, `${name}.yml`),
      `title: ${name}\nlevel: ${level}\nlogsource: {${source}}\ndetection: {s: ${selection}, condition: s}\n`,
    );
  rule('Log cleared', 'high', 'product: windows, service: security', '{EventID: 1102}');
  rule('Way out of a folder', 'medium', 'category: webserver', "{cs-uri-query|contains: '../'}");
  rule('Root tried', 'low', 'product: linux, service: sshd', "{message|contains: 'invalid user root'}");
  rule('Registry', 'high', 'product: windows, category: registry_set', "{TargetObject|contains: 'Run'}");
  writeFileSync(
    join(rules, 'bad.yml'),
    'title: Bad\nlevel: huge\nlogsource: {}\ndetection: {s: {a: 1}, condition: s}\n',
  );
});

const sweep = (...args: string[]): Promise<{ code: number; out: string; err: string }> =>
  new Promise((done) => {
    execFile(
      process.execPath,
      [resolve('cli/bin/lamp.mjs'), 'sweep', ...args],
      { maxBuffer: 1 << 27 },
      (error, out, err) => done({ code: typeof error?.code === 'number' ? error.code : 0, out, err }),
    );
  });
const jsonLines = (out: string): Record<string, unknown>[] =>
  out
    .trim()
    .split('\n')
    .map((text) => JSON.parse(text) as Record<string, unknown>);

it('each of 311 files is recognised, rules are asked of what they are meant for, and all of it is told', async () => {
  const out = join(folder, 'out');
  const summaryFile = join(folder, 'summary.json');
  const reportFile = join(folder, 'report.html');
  const {
    code,
    out: text,
    err,
  } = await sweep(
    '--rules',
    rules,
    '--events',
    machine,
    '--out',
    out,
    '--summary',
    summaryFile,
    '--report',
    reportFile,
    '--study',
    'brute-force',
    '--study',
    'lateral-movement',
    '--study',
    'timeline',
  );
  expect(code).toBe(3);
  const summary = JSON.parse(readFileSync(summaryFile, 'utf8'));
  expect(summary.files).toBe(311);
  const as: Record<string, number> = {};
  for (const { as: what } of summary.read) as[String(what)] = (as[String(what)] ?? 0) + 1;
  expect(as).toEqual({
    'os-events': 122,
    'linux-auth': 60,
    'web-access': 60,
    json: 40,
    nothing: 9,
    null: 20,
  });
  // The torn file gives what is whole of it, and says what is not.
  expect(err).toMatch(/torn\.evtx: .*/);
  expect(err).toContain('p7.png: passed over: it is no text');
  expect(summary.rules).toMatchObject({ loaded: 4, skipped: 1 });
  expect(summary.matches).toMatchObject({ high: expect.any(Number), medium: 60, low: 60 });
  expect(readdirSync(out).sort()).toEqual(
    [
      'log-cleared-1.csv',
      'root-tried-4.csv',
      'study-brute-force.csv',
      'study-lateral-movement.csv',
      'study-timeline.csv',
      'way-out-of-a-folder-3.csv',
    ].map((name) => expect.stringMatching(new RegExp(name.replace(/-\d\.csv$/, '-\\d\\.csv')))),
  );

  const lines = jsonLines(text);
  const guesses = lines.filter(({ study }) => study === 'brute-force');
  expect(guesses[0]).toMatchObject({
    user: 'teo.marrash',
    from: '198.18.40.77',
    signed_in: '2026-11-14T08:01:30Z',
  });
  expect(String(guesses[0]?.['then'])).toContain('group.add');
  expect(guesses.find(({ user }) => user === 'root')).toMatchObject({ failed: 60, from: '198.18.40.9' });
  const moves = lines.filter(({ study }) => study === 'lateral-movement');
  expect(moves).toContainEqual(
    expect.objectContaining({ from: '198.18.40.77', to: 'hold-fs-01', user: 'teo.marrash' }),
  );
  const told = lines.filter(({ study }) => study === 'timeline');
  expect(told.map(({ time }) => time)).toEqual([...told.map(({ time }) => time)].sort());
  expect(told.find(({ operation }) => operation === 'log.cleared')).toMatchObject({ rules: 'Log cleared' });

  const page = readFileSync(reportFile, 'utf8');
  for (const part of [
    'Triage of 311 files',
    'Log cleared',
    'asked of nothing: no record is of category registry_set, product windows',
    '&quot;huge&quot; is no level',
    'Guesses by account and address',
  ])
    expect([part, page.includes(part)]).toEqual([part, true]);
  expect(page.includes('<script')).toBe(false);
}, 120_000);

it('a study alone needs no rules, and is a table or CSV as well', async () => {
  const csv = await sweep(
    '--events',
    join(machine, 'events', 'story.evtx'),
    '--study',
    'brute-force',
    '--format',
    'csv',
  );
  expect(csv.code).toBe(0);
  expect(csv.out.split('\r\n')[0]).toBe(
    'user,from,failed,first,last,accounts_from_there,signed_in,failed_before,then,file,line',
  );
  const table = await sweep('--events', machine, '--study', 'lateral-movement', '--format', 'table');
  expect(table.out).toContain('Sign-ins between machines');
  expect(table.out).toMatch(/198\.18\.40\.77 +hold-fs-01 +teo\.marrash/);
  expect((await sweep('--events', machine, '--study', 'luck')).err).toContain('none of timeline');
}, 60_000);
