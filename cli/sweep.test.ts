import { execFile } from 'node:child_process';
import { mkdirSync, mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join, resolve } from 'node:path';
import { gzipSync } from 'node:zlib';

const folder = mkdtempSync(join(tmpdir(), 'lamp-sweep-'));
afterAll(() => rmSync(folder, { recursive: true, force: true }));

function file(name: string, content: string | Buffer): string {
  const path = join(folder, name);
  writeFileSync(path, content);
  return path;
}

interface Ran {
  readonly code: number;
  readonly lines: readonly Record<string, unknown>[];
  readonly out: string;
  readonly err: string;
}

function sweep(...args: string[]): Promise<Ran> {
  return new Promise((done) => {
    execFile(
      process.execPath,
      [resolve('cli/bin/lamp.mjs'), 'sweep', ...args],
      { maxBuffer: 1 << 26 },
      (error, out, err) => {
        const json = out.startsWith('{') ? out.trimEnd().split('\n') : [];
        done({
          code: typeof error?.code === 'number' ? error.code : 0,
          lines: json.map((line) => JSON.parse(line) as Record<string, unknown>),
          out,
          err,
        });
      },
    );
  });
}

const id = (n: number): string => `0f3c9a52-7f5d-4e0e-9d56-0a8f1f6b000${n}`;
const encoded = `title: Encoded script\nid: ${id(1)}\nlevel: high\nlogsource: {product: windows}\ndetection: {s: {CommandLine|windash|contains: ' -enc '}, condition: s}\n`;
const failed = `title: A failure\nname: failed\nlogsource: {}\ndetection: {s: {event: fail}, condition: s}\n`;
const many = `title: Many failures\nid: ${id(2)}\nlevel: medium\ncorrelation: {type: event_count, rules: [failed], group-by: [user], timespan: 5m, condition: {gte: 3}}\n`;
const rules = file('rules.yml', [encoded, failed, many].join('---\n'));
const broken = file(
  'broken.yml',
  'title: Broken\nlevel: huge\nlogsource: {}\ndetection: {s: {a: 1}, condition: s}\n',
);

const at = (seconds: number): string =>
  new Date(Date.UTC(2026, 10, 14, 8) + seconds * 1000).toISOString().replace('.000', '');
const failure = (seconds: number, user: string): string =>
  JSON.stringify({ '@timestamp': at(seconds), event: 'fail', user });
const events = file(
  'events.jsonl',
  [
    `{"time":"${at(0)}","CommandLine":"shell /enc abc"}`,
    failure(1, 'a'),
    failure(60, 'a'),
    'not json',
    failure(90, 'b'),
    '',
    failure(120, 'a'),
  ].join('\n'),
);

it('prints a line a match, then what correlations complete, and nothing else', async () => {
  const { code, lines, err } = await sweep('--rules', rules, '--events', events, '--logsource', 'any');
  expect(code).toBe(0);
  expect(lines).toEqual([
    {
      rule: id(1),
      title: 'Encoded script',
      level: 'high',
      file: events,
      line: 1,
      time: at(0),
      event: { time: at(0), CommandLine: 'shell /enc abc' },
    },
    {
      rule: id(2),
      title: 'Many failures',
      level: 'medium',
      kind: 'correlation',
      group: { user: 'a' },
      time: at(120),
      completedBy: { file: events, line: 6 },
      lines: [2, 3, 6],
    },
  ]);
  expect(err).toBe(
    '1 files, 6 records, 1 unreadable\n3 rules loaded, 0 refused\nmatches: medium 1, high 1\n',
  );
});

it('a rule applies where its log source fits what the records are said to be', async () => {
  const titles = async (...more: string[]): Promise<unknown[]> =>
    (await sweep('--rules', rules, '--events', events, ...more)).lines.map(({ title }) => title);
  expect(await titles()).toEqual(['Many failures']);
  expect(await titles('--logsource', 'product=windows,service=security')).toEqual([
    'Encoded script',
    'Many failures',
  ]);
  expect(await titles('--logsource', 'product=linux')).toEqual(['Many failures']);
  // Nothing is left out in silence.
  const summary = join(folder, 'left-out.json');
  const { err } = await sweep('--rules', rules, '--events', events, '--summary', summary);
  expect(err).toMatch(/1 rules? (was|were)? ?.*log ?source/i);
  expect(JSON.parse(readFileSync(summary, 'utf8')).rules).toMatchObject({ skipped: 1 });
  expect(await titles('--logsource', 'any', '--level', 'high')).toEqual(['Encoded script']);
});

it('a refused rule is told, the others go on, and the exit code says so', async () => {
  const summary = join(folder, 'summary.json');
  const ran = await sweep(
    '--rules',
    broken,
    rules,
    '--events',
    events,
    '--logsource',
    'any',
    '--summary',
    summary,
  );
  expect([ran.code, ran.lines.length]).toEqual([3, 2]);
  expect(ran.err).toContain(`${broken}, line 2, "Broken": "huge" is no level`);
  expect(JSON.parse(readFileSync(summary, 'utf8'))).toEqual({
    files: 1,
    records: 6,
    unreadable: 1,
    rules: {
      loaded: 3,
      refused: [expect.objectContaining({ file: broken, rule: 'Broken', line: 2 })],
      skipped: 0,
    },
    matches: { informational: 0, low: 0, medium: 1, high: 1, critical: 0 },
    read: [{ file: events, as: 'json', records: 6, unreadable: 1, matches: 1 }],
  });
});

it('counts lines over pieces that several threads sweep, plain and gzipped, in order', async () => {
  const filler = 'x'.repeat(300);
  const records = Array.from({ length: 30_000 }, (_, i) =>
    i % 7000 === 6999 ? failure(i * 1000, `u${i}`) : JSON.stringify({ ts: 1_700_000_000 + i, filler, i }),
  ).join('\n');
  const reporting = file('failed.yml', failed);
  const plain = file('large.jsonl', records);
  const packed = file('large.jsonl.gz', gzipSync(records));
  const { lines } = await sweep('--rules', reporting, '--events', plain, packed);
  expect(lines.map(({ file: of, line }) => [of, line])).toEqual(
    [plain, packed].flatMap((of) => [7000, 14_000, 21_000, 28_000].map((line) => [of, line])),
  );
}, 60_000);

it('reads records by a recipe that ships, and CSV by its heading', async () => {
  const rule = file(
    'sudo.yml',
    'title: Failed at the dock\nlogsource: {product: linux}\ndetection: {s: {outcome: failure}, condition: s}\n',
  );
  const log = file(
    'auth.log',
    [
      '<86>Nov 14 08:03:12 gate-01 sshd[77]: Accepted password for runa.keel from 10.20.4.61 port 5 ssh2',
      '<86>Nov 14 08:03:13 gate-01 sshd[77]: Failed password for root from 198.18.40.7 port 5 ssh2',
    ].join('\n'),
  );
  const swept = await sweep('--rules', rule, '--events', log, '--recipe', 'dock-auth');
  expect(swept.lines.map(({ line, title }) => [line, title])).toEqual([[2, 'Failed at the dock']]);
  const csv = file('table.csv', 'time,user,event\n2026-11-14T08:00:00Z,a,ok\n2026-11-14T08:00:01Z,b,fail\n');
  const { lines } = await sweep('--rules', file('only.yml', failed), '--events', csv);
  expect(lines).toEqual([
    expect.objectContaining({
      line: 2,
      time: '2026-11-14T08:00:01Z',
      event: expect.objectContaining({ user: 'b' }),
    }),
  ]);
});

it('writes CSV that is safe, a file for each rule, and tables that do not touch the terminal', async () => {
  const hostile = file('hostile.jsonl', '{"event":"fail","user":"=1+1","note":"\\u001b[31mred"}\n');
  const reporting = file('hostile.yml', failed.replace('A failure', '=cmd'));
  const out = join(folder, 'out');
  mkdirSync(out, { recursive: true });
  const csv = await sweep('--rules', reporting, '--events', hostile, '--format', 'csv', '--out', out);
  expect(csv.out.split('\r\n')[1]).toMatch(/^,'=cmd,medium,match,/);
  expect(readdirSync(out)).toEqual(['cmd-1.csv']);
  expect(readFileSync(join(out, 'cmd-1.csv'), 'utf8').split('\r\n')).toHaveLength(3);
  const table = await sweep('--rules', reporting, '--events', hostile, '--format', 'table');
  expect(table.out).not.toContain('\u001b');
});

it('searches without rules', async () => {
  const titles = async (...more: string[]): Promise<unknown[]> =>
    (await sweep('--events', events, ...more)).lines.map(
      ({ title, line }) => `${String(title)} ${String(line)}`,
    );
  expect(await titles('--find', '/ENC a')).toEqual(['find: /ENC a 1']);
  expect(await titles('--matching', 'shell .enc')).toEqual(['matching: shell .enc 1']);
  // The record as it stands in the file, which rules do not look at.
  expect(await titles('--matching', '"CommandLine": ?"shell')).toEqual([
    'matching: "CommandLine": ?"shell 1',
  ]);
  const coded = file('coded.jsonl', '{"EventID":4104}\n{"EventID":"4104"}\n{"EventID":41040}\n');
  expect((await sweep('--events', coded, '--code', '4104')).lines.map(({ line }) => line)).toEqual([1, 2]);
});

it.each([
  [[], '--rules PATH… is missing'],
  [['--rules', 'nowhere'], '--events FILE… or a folder is missing'],
  [['--rules', 'nowhere', '--events', 'there'], 'There is nothing at nowhere'],
  [['--find', 'x', '--events', 'there', '--format', 'xml'], '--format: "xml"'],
  [['--find', 'x', '--events', 'there', '--level', 'huge'], '--level: "huge"'],
  [['--find', 'x', '--events', 'there', '--logsource', 'windows'], '--logsource: "windows"'],
  [['--matching', '(?=x)', '--events', '.'], '--matching:'],
  [['--find', 'x', '--events', '.', '--recipe', 'none'], 'nor a shipped recipe "none"'],
])('wrong use %j is told', async (args, part) => {
  const { code, err } = await sweep(...args);
  expect([code, err]).toEqual([2, expect.stringContaining(part)]);
});
