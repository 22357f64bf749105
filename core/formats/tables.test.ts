import { cutWhole, type FormatOptions } from './format.js';
import type { FormatName } from '../wire/format-names.js';
import { formats } from './index.js';
import { recognise } from './recognise.js';

const read = (format: FormatName, record: string, options: FormatOptions = {}) =>
  formats[format].reader(options)(record);

const flowColumns = ['version', 'src', 'dst', 'bytes'];

describe('what each format reads of a record', () => {
  it.each<[FormatName, string, FormatOptions, object]>([
    ['csv', 'a,"b, ""c""",', { columns: ['x', 'y', 'z'] }, { x: 'a', y: 'b, "c"', z: '' }],
    ['csv', 'a;b', { columns: ['x', 'y'], delimiter: ';' }, { x: 'a', y: 'b' }],
    ['csv', '"two\nlines",b', { columns: ['x', 'y'] }, { x: 'two\nlines', y: 'b' }],
    [
      'key-value',
      'action=block src=10.1.2.3 note="two \\"words\\"" empty= action=drop',
      {},
      { action: 'drop', src: '10.1.2.3', note: 'two "words"', empty: '' },
    ],
    ['key-value', 'kernel: dropped IN=eth0 OUT=', {}, { message: 'kernel: dropped', IN: 'eth0', OUT: '' }],
    [
      'combined-log',
      '192.0.2.7 - runa [14/Nov/2026:08:03:12 +0100] "GET /a?b=\\"c\\" HTTP/1.1" 403 512 "-" "Mariner/7" verdict=blocked',
      {},
      {
        client: '192.0.2.7',
        user: 'runa',
        time: '14/Nov/2026:08:03:12 +0100',
        request: 'GET /a?b=\\"c\\" HTTP/1.1',
        method: 'GET',
        path: '/a?b=\\"c\\"',
        protocol: 'HTTP/1.1',
        status: '403',
        bytes: '512',
        agent: 'Mariner/7',
        verdict: 'blocked',
      },
    ],
    [
      'combined-log',
      '192.0.2.7 - - [14/Nov/2026:08:03:12 +0100] "\\x16\\x03" 400 -',
      {},
      { client: '192.0.2.7', time: '14/Nov/2026:08:03:12 +0100', request: '\\x16\\x03', status: '400' },
    ],
    [
      'flow-records',
      '2 10.0.0.1 203.0.113.77 -',
      { columns: flowColumns },
      { version: '2', src: '10.0.0.1', dst: '203.0.113.77', bytes: null },
    ],
    [
      'os-event-xml',
      '<Event xmlns="x"><System><Provider Name="Security"/><EventID>4688</EventID><TimeCreated SystemTime="2026-11-14T08:03:12.1Z"/><Computer>Quay-TK-07</Computer></System><EventData><Data Name="CommandLine">cmd &amp; &lt;x&gt;</Data><Data Name="Parent">-</Data><Data>plain</Data></EventData></Event>',
      {},
      {
        Provider_Name: 'Security',
        EventID: '4688',
        SystemTime: '2026-11-14T08:03:12.1Z',
        Computer: 'Quay-TK-07',
        CommandLine: 'cmd & <x>',
        Parent: null,
        Data0: 'plain',
      },
    ],
    [
      'os-event-xml',
      '<Event><System><EventID>1102</EventID></System><UserData><LogFileCleared><SubjectUserName>teo</SubjectUserName></LogFileCleared></UserData></Event>',
      {},
      { EventID: '1102', SubjectUserName: 'teo' },
    ],
    ['text', 'anything at all', {}, { message: 'anything at all' }],
  ])('%s: %j', (format, record, options, fields) => {
    expect(read(format, record, options)).toEqual({ fields });
  });

  it.each<[FormatName, string, FormatOptions, string]>([
    ['csv', 'x,y', { columns: ['X', 'Y'] }, 'heading'],
    ['csv', 'a', { columns: ['x', 'y'] }, 'not-csv'],
    ['csv', 'a,"b', { columns: ['x', 'y'] }, 'not-csv'],
    ['key-value', 'no pairs here', {}, 'not-pairs'],
    ['combined-log', 'GET / HTTP/1.1', {}, 'not-combined'],
    ['flow-records', 'version src dst bytes', { columns: flowColumns }, 'heading'],
    ['flow-records', '2 10.0.0.1', { columns: flowColumns }, 'not-flow'],
    ['os-event-xml', '<Event><a></Event>', {}, 'not-xml'],
    ['os-event-xml', '<Other/>', {}, 'not-xml'],
    ['os-event-xml', '<!DOCTYPE Event [<!ENTITY a "aaaa">]><Event>&a;</Event>', {}, 'not-xml'],
    ['os-event-xml', '<Event>&unknown;</Event>', {}, 'not-xml'],
    ['os-event-xml', `<Event>${'<a>'.repeat(60)}${'</a>'.repeat(60)}</Event>`, {}, 'not-xml'],
    ['os-event-xml', '', {}, 'not-xml'],
  ])('%s refuses %.40j as %s', (format, record, options, code) => {
    expect(read(format, record, options)).toMatchObject({ fields: null, code });
  });

  it('keeps a reason short, however long the record it speaks of', () => {
    const reading = read('csv', `${'9'.repeat(5000)}"x",y`, { columns: ['x', 'y'] });
    expect(reading).toMatchObject({ fields: null, code: 'not-csv' });
    expect('reason' in reading ? reading.reason.length : Infinity).toBeLessThan(200);
  });

  it('keeps keys that objects treat apart as plain keys', () => {
    for (const reading of [
      read('key-value', '__proto__=x constructor=y'),
      read('os-event-xml', '<Event><E><Data Name="__proto__">x</Data></E></Event>'),
    ])
      expect(Object.getOwnPropertyNames(reading.fields)).toContain('__proto__');
    expect(({} as { x?: unknown }).x).toBeUndefined();
  });
});

describe('recognising a sample', () => {
  const flow =
    'version account src dst sport dport\n2 fleet 10.0.0.1 10.0.0.2 1 2\n2 fleet 10.0.0.1 10.0.0.3 1 3\n';
  it.each<[string, object]>([
    ['{"a":1}\n{"a":2}\n{"a', { format: 'json' }],
    ['[{"a":1},{"a":2}', { format: 'json' }],
    ['<Event><System><EventID>1</EventID></System></Event>', { format: 'os-event-xml' }],
    ['<13>Nov 14 08:03:12 h app: hello\n', { format: 'syslog' }],
    ['1.2.3.4 - - [14/Nov/2026:08:03:12 +0100] "GET / HTTP/1.1" 200 5 "-" "x"\n', { format: 'combined-log' }],
    [
      'time,src,action\n2026-11-14,10.0.0.1,block\n2026-11-15,10.0.0.1,allow\n',
      { format: 'csv', columns: ['time', 'src', 'action'], delimiter: ',' },
    ],
    [
      'a;1;x\nb;2;y\n',
      { format: 'csv', columns: ['a', '1', 'x'].map((_, i) => `column${i + 1}`), delimiter: ';' },
    ],
    [flow, { format: 'flow-records', columns: ['version', 'account', 'src', 'dst', 'sport', 'dport'] }],
    ['action=block src=10.0.0.1\naction=allow src=10.0.0.2\n', { format: 'key-value' }],
    ['just some words\nand more of them\n', { format: 'text' }],
    ['', { format: 'text' }],
  ])('%j', (sample, found) => expect(recognise(sample)).toMatchObject(found));

  it('cuts what it recognises', () => {
    expect(cutWhole(formats['flow-records'], flow)).toHaveLength(3);
  });
});
