import { execFile } from 'node:child_process';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join, resolve } from 'node:path';
import { gzipSync } from 'node:zlib';
import { strToU8, zipSync } from 'fflate';
import { parseInstant } from '../core/base/instant.js';
import { generateDemo } from '../demo/generate/index.js';
import { mastOsRecords } from '../demo/evtx/mast-os-file.js';
import { writeEvtx } from '../demo/evtx/write-evtx.js';

// What the product sees in files of any kind: `lamp read`, and the same files for sweep and hunt.

const folder = mkdtempSync(join(tmpdir(), 'lamp-read-'));
afterAll(() => rmSync(folder, { recursive: true, force: true }));
const file = (name: string, content: string | Uint8Array): string => {
  const path = join(folder, name);
  writeFileSync(path, content);
  return path;
};
function lamp(...args: string[]): Promise<{ code: number; out: string; err: string }> {
  return new Promise((done) => {
    execFile(
      process.execPath,
      [resolve('cli/bin/lamp.mjs'), ...args],
      { maxBuffer: 1 << 28 },
      (error, out, err) => done({ code: typeof error?.code === 'number' ? error.code : 0, out, err }),
    );
  });
}
const read = async (...args: string[]): Promise<any[]> =>
  (await lamp('read', ...args)).out
    .trim()
    .split('\n')
    .map((line) => JSON.parse(line));

const end = parseInstant('2026-11-14T08:00:00Z') ?? 0;
const xml = generateDemo({ seed: 7, end, days: 2 })
  .filter(({ source }) => source === 'mast-os')
  .map(({ raw }) => raw)
  .slice(0, 60);
const binary = writeEvtx(mastOsRecords(xml), { perChunk: 25 });
const AUDIT = 'core/recipes/shipped/fixtures/linux-audit.log';

it('prints fields of every record, whatever the file is packed in', async () => {
  const lines = '{"a":1}\n{"a":2}\n';
  const wanted = [
    { record: 1, fields: { a: 1 } },
    { record: 2, fields: { a: 2 } },
  ];
  expect(await read(file('a.jsonl', lines))).toEqual(wanted);
  expect(await read(file('a.gz', gzipSync(lines)))).toEqual(wanted);
  expect(await read(file('a.utf16', Buffer.from(`\ufeff${lines}`, 'utf16le')))).toEqual(wanted);
  const zip = zipSync({
    'a.jsonl': strToU8('{"a":1}\n'),
    'b.csv': strToU8('user,n,at\nteo,3,x\nruna,4,y\n'),
  });
  expect(await read(file('a.zip', zip))).toEqual([
    { record: 1, fields: { a: 1 } },
    { record: 2, fields: { user: 'teo', n: '3', at: 'x' } },
    { record: 3, fields: { user: 'runa', n: '4', at: 'y' } },
  ]);
});

it('binary event files give the fields that their XML gives; as events by the recipe that ships', async () => {
  const path = file('security.evtx', binary);
  const told = await read(path);
  const ofXml = await read(file('security.xml', xml.join('\n')));
  const plain = (one: any): object => ({ ...one, fields: { ...one.fields, SystemTime: null } });
  expect(told.map(plain)).toEqual(ofXml.map(plain));
  const events = await read(path, '--as', 'events');
  expect(events).toHaveLength(60);
  expect(events.some(({ event }) => event.kind === 'signin' && typeof event.user === 'string')).toBe(true);
});

it('unreadable parts never stop the rest', async () => {
  const torn = file('torn.evtx', binary.subarray(0, binary.length - 65_536 + 3000));
  const told = await read(torn);
  expect(told.filter(({ fields }) => fields !== undefined).length).toBeGreaterThan(45);
  expect(told.filter(({ error }) => error !== undefined)).toEqual([
    { record: expect.any(Number), error: expect.stringContaining('is torn') },
  ]);
  expect(
    await read(file('odd.jsonl', '{"a":1}\nno json\n{"a":2}\n{"a":3}\n{"a":4}\n{"a":5}\n')),
  ).toMatchObject([
    { fields: { a: 1 } },
    { record: 2, error: expect.stringContaining('not JSON') },
    { fields: { a: 2 } },
    { fields: { a: 3 } },
    { fields: { a: 4 } },
    { fields: { a: 5 } },
  ]);
});

it('joins records of several lines, by format or by recipe', async () => {
  expect(await read(AUDIT)).toHaveLength(41);
  const events = await read(AUDIT, '--recipe', 'linux-audit', '--as', 'events');
  expect(events).toContainEqual(
    expect.objectContaining({
      event: expect.objectContaining({ kind: 'signin', user: 'teo.marrash', outcome: 'success' }) as unknown,
    }),
  );
  expect((await read(AUDIT, '--format', 'text')).length).toBe(108);
  const own = file(
    'own.json',
    JSON.stringify({
      name: 'own',
      title: 'Own',
      version: 1,
      format: 'text',
      records: { indented: true },
      time: { from: 'message', read: '[<time>]', as: 'yyyy-MM-dd HH:mm', zone: 'Europe/Lisbon' },
    }),
  );
  const text = file('own.log', '[2026-07-14 08:00] first\n  goes on\n[2026-07-14 08:01] second\n');
  expect(await read(text, '--recipe', own, '--as', 'events')).toMatchObject([
    { event: { time: '2026-07-14T07:00:00Z' } },
    { event: { time: '2026-07-14T07:01:00Z' } },
  ]);
});

it('says what is wrong with its words', async () => {
  expect(await lamp('read')).toMatchObject({ code: 2, err: expect.stringContaining('Which files?') });
  expect((await lamp('read', AUDIT, '--format', 'jsn')).err).toContain('Did you mean json?');
  expect((await lamp('read', AUDIT, '--as', 'rows')).code).toBe(2);
  expect((await lamp('read', AUDIT, '--recipe', 'nothing')).err).toContain('linux-audit');
  expect(await lamp('read', join(folder, 'not-there'))).toMatchObject({ code: 2 });
  const odd = file('odd.txt', 'nothing that any of them reads\n');
  expect((await lamp('read', odd, '--as', 'events')).err).toContain('No recipe that ships');
});

it('sweep and hunt take binary event files and archives', async () => {
  const path = file('for-sweep.evtx', binary);
  const rule = file(
    'rule.yml',
    'title: Signed in\nlevel: low\nlogsource: {product: windows}\ndetection: {s: {EventID: 4624}, condition: s}\n',
  );
  const wanted = xml.filter((one) => one.includes('<EventID>4624<')).length;
  const swept = await lamp('sweep', '--rules', rule, '--events', path, '--logsource', 'any');
  expect(swept.out.trim().split('\n')).toHaveLength(wanted);
  const packed = file('for-sweep.zip', zipSync({ 'security.evtx': binary }));
  const again = await lamp('sweep', '--rules', rule, '--events', packed, '--recipe', 'os-events');
  expect(again.out.trim().split('\n')).toHaveLength(wanted);
  const text = "from signin\nwhere event_code = '4624'\ntally count() as n";
  expect((await lamp('hunt', '--events', path, '--text', text)).out).toBe(`{"n":${wanted}}\n`);
});
