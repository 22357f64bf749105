import { compileRecipe } from '../recipes/apply.js';
import type { Recipe } from '../recipes/recipe-schema.js';
import { parse } from 'csv-parse/sync';
import { cellsOf } from './csv.js';
import { auditLog } from './audit-log.js';
import { cutWhole, type Cutter } from './format.js';
import { cutterOf } from './index.js';
import type { RecordShape } from './joined.js';
import { recognise } from './recognise.js';
import { wrappedListCutter } from './wrapped.js';

/** Cuts a text in pieces of so many characters; however it is torn, the records are the same. */
function cutIn(make: () => Cutter, text: string, size: number): string[] {
  const cutter = make();
  const found: string[] = [];
  for (let at = 0; at < text.length; at += size) found.push(...cutter.push(text.slice(at, at + size)));
  return [...found, ...cutter.end()];
}
const lines = (records: RecordShape, text: string): string[] => {
  const make = (): Cutter => cutterOf('text', records);
  const whole = cutIn(make, text, text.length);
  for (const size of [1, 2, 3, 7]) expect(cutIn(make, text, size)).toEqual(whole);
  return whole;
};

describe('lines that go on', () => {
  it('by what a record begins with, by blanks, by a sign at the end', () => {
    const trace = '2026-11-14 one\n  at here\nmore\n2026-11-14 two\n';
    expect(lines({ begins: '^\\d{4}-' }, trace)).toEqual([
      '2026-11-14 one\n  at here\nmore',
      '2026-11-14 two',
    ]);
    expect(lines({ indented: true }, trace)).toEqual(['2026-11-14 one\n  at here', 'more', '2026-11-14 two']);
    expect(lines({ continues: ',$' }, 'a,\nb,\nc\nd')).toEqual(['a,\nb,\nc', 'd']);
    expect(lines({ begins: '^\\d' }, 'torn\n1 a\n b')).toEqual(['torn', '1 a\n b']);
  });

  it('in bounded memory: what never ends is cut', () => {
    const records = lines({ begins: '^x' }, `x\n${'y\n'.repeat(1200)}`);
    expect(records.map((one) => one.split('\n').length)).toEqual([500, 500, 201]);
    expect(() => cutterOf('text', { begins: '(a)\\1' })).toThrow();
  });
});

describe('records joined by an id', () => {
  const shape = { joinedBy: 'id=(?<id>[0-9]+)', ends: 'end$' };

  it('though their lines come mixed; what has no id is a record by itself', () => {
    expect(lines(shape, 'id=1 a\nid=2 a\nhello\nid=1 end\nid=2 b\nid=1 late')).toEqual([
      'hello',
      'id=1 a\nid=1 end',
      'id=2 a\nid=2 b',
      'id=1 late',
    ]);
  });

  it('in bounded memory: of very many the oldest is given out', () => {
    const many = Array.from({ length: 200 }, (_, i) => `id=${i} a`).join('\n');
    const cutter = cutterOf('text', { joinedBy: 'id=(?<id>[0-9]+)' });
    expect(cutter.push(`${many}\n`)).toHaveLength(200 - 64);
    expect(cutter.end()).toHaveLength(64);
    const long = 'x'.repeat(1_000_000);
    const heavy = cutterOf('text', { joinedBy: 'id=(?<id>[0-9]+)' });
    const given = [1, 2, 3, 4, 5, 6, 7, 8].flatMap((id) => heavy.push(`id=${id} ${long}\n`));
    expect(given.length).toBeGreaterThanOrEqual(4);
  });
});

describe('lists that a document wraps', () => {
  const cut = (path: string[], text: string): string[] => {
    const make = (): Cutter => wrappedListCutter(path);
    const whole = cutIn(make, text, text.length);
    for (const size of [1, 3, 10]) expect(cutIn(make, text, size)).toEqual(whole);
    return whole;
  };

  it('are cut into their elements, exactly as they are written', () => {
    const text = '{"a": [1], "Records": [ {"x":"a,]}\\"{"}, {"y":[1,2,{"z":3}]} , 7], "Records2":[9]}';
    expect(cut(['Records'], text)).toEqual(['{"x":"a,]}\\"{"}', '{"y":[1,2,{"z":3}]}', '7']);
    expect(
      cut(['data', 'items'], '{"items":[0],"data":{"n":1,"items":[{"a":1}]}}\n{"data":{"items":[{"b":2}]}}'),
    ).toEqual(['{"a":1}', '{"b":2}']);
    expect(cut(['Records'], '{"Records":[]}')).toEqual([]);
  });

  it('that are not there: the document is given out, and nothing is lost', () => {
    expect(cut(['Records'], '{"records":[{"a":1}]} {"Records":[{"b":1}]}')).toEqual([
      '{"records":[{"a":1}]}',
      '{"b":1}',
    ]);
    expect(cut(['Records'], '{"Records":[{"a":1},{"b":')).toEqual(['{"a":1}', '{"b":']);
    expect(cut(['Records'], '{"Records":{"a":[1]}}')).toEqual(['{"Records":{"a":[1]}}']);
  });

  it('are recognised, but not where every line is a record', () => {
    expect(recognise('{"next": null, "Records":[{"at":"2026-11-14T08:00:00Z"},{"at":"x"}]}')).toMatchObject({
      format: 'json',
      records: { list: 'Records' },
    });
    expect(recognise('{\n "Records": [\n {"at": 1},').records).toEqual({ list: 'Records' });
    expect(recognise('{"Records":[{"a":1}]}\n{"Records":[{"a":2}]}\n').records).toBeUndefined();
    expect(recognise('{"a":1,"b":2}\n{"a":1}\n').records).toBeUndefined();
  });
});

describe('the audit log of Linux', () => {
  const read = auditLog.reader({});
  const event = [
    'type=SYSCALL msg=audit(1794643200.123:77): arch=c000003e syscall=59 success=yes exit=0 a0=55d0 a1=55d1 ppid=1 pid=9 auid=1000 uid=0 comm="cat" exe="/usr/bin/cat" key=(null)\u001dARCH=x86_64 SYSCALL=execve AUID="teo" UID="root"',
    'type=EXECVE msg=audit(1794643200.123:77): argc=3 a0="cat" a1=2F746D702F6120622E747874 a2="x"',
    'type=CWD msg=audit(1794643200.123:77): cwd="/home/teo"',
    'type=PATH msg=audit(1794643200.123:77): item=0 name="/usr/bin/cat" inode=1 nametype=NORMAL',
    'type=PROCTITLE msg=audit(1794643200.123:77): proctitle=636174002F746D702F6120622E747874',
  ];

  it('joins the records of one event, decodes values, keeps the enriched part apart', () => {
    const other =
      'type=USER_LOGIN msg=audit(1794643200.200:78): pid=5 uid=0 auid=1000 msg=\'op=login acct="teo" exe="/usr/sbin/sshd" hostname=? addr=10.20.4.11 terminal=ssh res=failed\'';
    const text = [event[0], other, ...event.slice(1)].join('\n');
    // What stands alone is given at once.
    const [second, first] = cutIn(() => auditLog.cutter(), text, 11);
    expect(first).toBe(event.join('\n'));
    expect(read(first ?? '').fields).toMatchObject({
      time: '1794643200.123',
      serial: '77',
      type: ['SYSCALL', 'EXECVE', 'CWD', 'PATH', 'PROCTITLE'],
      exe: '/usr/bin/cat',
      a0: 'cat',
      a1: '/tmp/a b.txt',
      command_line: 'cat /tmp/a b.txt x',
      cwd: '/home/teo',
      proctitle: 'cat /tmp/a b.txt',
      enriched: { SYSCALL: 'execve', AUID: 'teo' },
    });
    expect(read(first ?? '').fields).not.toHaveProperty('key');
    expect(read(second ?? '').fields).toMatchObject({
      type: 'USER_LOGIN',
      acct: 'teo',
      addr: '10.20.4.11',
      res: 'failed',
    });
    expect(read(second ?? '').fields).not.toHaveProperty('hostname');
  });

  it('takes no words for names that say that there is none', () => {
    const { fields } = read(
      'type=ADD_USER msg=audit(1.0:1): pid=9 uid=0 auid=4294967295 ses=4294967295 msg=\'op=adding user id=1003 res=success\'\u001dUID="root" AUID="unset" ID="unknown(1003)"',
    );
    expect(fields).toMatchObject({ id: '1003', enriched: { UID: 'root' } });
    expect(fields).not.toHaveProperty('auid');
    expect(fields).not.toHaveProperty('ses');
    expect(fields?.['enriched']).not.toHaveProperty('AUID');
    expect(fields?.['enriched']).not.toHaveProperty('ID');
    // A field of the record that is called so is as it is.
    expect(read('type=USER_CMD msg=audit(1.0:1): acct="unset"').fields).toMatchObject({ acct: 'unset' });
  });

  it('reads hexadecimal digits as the bytes they are, in whatever writing', () => {
    const asHex = (text: string): string =>
      [...new TextEncoder().encode(text)]
        .map((byte) => byte.toString(16).padStart(2, '0'))
        .join('')
        .toUpperCase();
    for (const text of ['two words', 'über die Brücke', '渡し船', 'a\u0001b', 'x'.repeat(1500), '"quoted"']) {
      const { fields } = read(`type=USER_CMD msg=audit(1.0:1): cmd=${asHex(text)}`);
      expect(fields).toMatchObject({ cmd: text });
    }
    // Half a byte, and what is no digit, stay as they are.
    expect(read('type=USER_CMD msg=audit(1.0:1): cmd=ABC').fields).toMatchObject({ cmd: 'ABC' });
    expect(read('type=USER_CMD msg=audit(1.0:1): cmd=GGHH').fields).toMatchObject({ cmd: 'GGHH' });
    expect(read('type=USER_CMD msg=audit(1.0:1): cmd=C3').fields).toMatchObject({ cmd: '\ufffd' });
  });

  it('a value that is called like the type of a record does not change it', () => {
    const { fields } = read(
      [
        'type=SYSCALL msg=audit(1.0:7): syscall=59 comm="x" type=DAEMON_END',
        'type=USER_CMD msg=audit(1.0:7): msg=\'cmd="y" type=DAEMON_ABORT event=DAEMON_END\'',
      ].join('\n'),
    );
    expect(fields).toMatchObject({
      type: ['SYSCALL', 'USER_CMD'],
      event: 'SYSCALL',
      parts: [{ type: 'SYSCALL' }, { type: 'USER_CMD' }],
    });
  });

  it('says what is no such record, and does not take numbers for texts', () => {
    expect(read('type=X nothing')).toMatchObject({ fields: null, code: 'not-audit' });
    expect(read('type=EOE msg=audit(1.0:1): ')).toMatchObject({ fields: null });
    expect(read('type=SYSCALL msg=audit(1.0:1): a0=4142 comm=4142').fields).toMatchObject({
      a0: '4142',
      comm: 'AB',
    });
    expect(recognise(`${event.join('\n')}\n`).format).toBe('audit-log');
  });
});

it('pairs inside a message are read as far as a word goes', () => {
  const compiled = compileRecipe({
    name: 'inner',
    title: 'Inner',
    version: 1,
    format: 'syslog',
    time: { from: 'timestamp', as: 'syslog' },
    expand: [{ from: 'message', as: 'key-value', after: 'pairs:', until: ' [quoted ' }],
  });
  const read = (message: string) => compiled.read(`Nov 14 08:00:00 gate-01 app: ${message}`).fields;
  expect(read('no=1 pairs: a=1 b=2 [quoted a=9 c=3')).toMatchObject({ a: '1', b: '2' });
  expect(read('no=1 pairs: a=1 b=2 [quoted a=9 c=3')).not.toHaveProperty('c');
  expect(read('no=1 pairs: a=1 b=2 [quoted a=9 c=3')).not.toHaveProperty('no');
  // Without either word the pairs are the whole text.
  expect(read('a=1 c=3')).toMatchObject({ a: '1', c: '3' });
  // A word before the one that they stand behind ends nothing.
  expect(read('x [quoted y pairs: a=4 d=5')).toMatchObject({ a: '4', d: '5' });
});

it('a message inside a message is read as a second step: behind a word, as JSON or CSV', () => {
  const recipe: Recipe = {
    name: 'inner',
    title: 'Inner',
    version: 1,
    format: 'syslog',
    time: { from: 'timestamp', as: 'syslog' },
    expand: [
      { from: 'message', as: 'json', after: '@cee:' },
      { from: 'message', as: 'csv', columns: ['verdict', 'src', 'dst'], into: 'row' },
    ],
  };
  const compiled = compileRecipe(recipe);
  const read = (raw: string) => compiled.read(raw);
  expect(read('Nov 14 08:00:00 gate-01 app: @cee: {"user":"teo"}').fields).toMatchObject({ user: 'teo' });
  expect(read('Nov 14 08:00:00 gate-01 app: deny,"10.0.0.1",10.0.0.2').fields).toMatchObject({
    row: { verdict: 'deny', src: '10.0.0.1', dst: '10.0.0.2' },
  });
  expect(read('Nov 14 08:00:00 gate-01 app: nothing of it').fields).not.toHaveProperty('row');
});

it('recipes cut as they say', () => {
  const recipe: Recipe = {
    name: 'wrapped',
    title: 'Wrapped',
    version: 1,
    format: 'json',
    records: { list: 'Records' },
    time: { from: 'at', as: 'iso' },
  };
  expect(compileRecipe(recipe).cut('{"Records":[{"at":1},{"at":2}]}')).toEqual(['{"at":1}', '{"at":2}']);
  expect(cutWhole(auditLog, '')).toEqual([]);
});

it('the quick reader of rows agrees with the full one, or leaves them to it', () => {
  const signs = ['"', '"', ',', ',', 'a', ' ', '""', '\n', 'é'];
  let state = 5;
  const random = (most: number): number => (state = (Math.imul(state, 1_103_515_245) + 12_345) >>> 0) % most;
  let taken = 0;
  for (let i = 0; i < 5000; i++) {
    const row = Array.from({ length: 1 + random(8) }, () => signs[random(signs.length)] ?? '').join('');
    const found = cellsOf(row, ',');
    if (found === null) continue;
    taken++;
    const full = parse(row, {
      relax_column_count: true,
      record_delimiter: '\u001e',
      skip_empty_lines: false,
    })[0];
    expect([row, found]).toEqual([row, full ?? ['']]);
  }
  expect(taken).toBeGreaterThan(500);
});
