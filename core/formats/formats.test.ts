import { cutWhole } from './format.js';
import { json, parseJson } from './json.js';
import { syslog } from './syslog.js';

const readJson = json.reader({});
const readSyslog = syslog.reader({});

describe('JSON', () => {
  it('cuts lines and arrays, keeping each record as it is written', () => {
    expect(cutWhole(json, '{"a":1}\r\n\n {"b":2} \n')).toEqual(['{"a":1}', ' {"b":2} ']);
    expect(cutWhole(json, ' [ {"a":"],["} , {"b":[1,2]},3 ]\n')).toEqual(['{"a":"],["}', '{"b":[1,2]}', '3']);
    expect(cutWhole(json, '[]')).toEqual([]);
    expect(cutWhole(json, '[{"a":1},{"b":')).toEqual(['{"a":1}', '{"b":']);
  });

  it('keeps the digits of numbers that a float would change', () => {
    expect(parseJson('{"id":12345678901234567890,"n":1.5,"big":1e400,"ok":9007199254740991}')).toEqual({
      id: '12345678901234567890',
      n: 1.5,
      big: '1e400',
      ok: 9007199254740991,
    });
  });

  it.each([
    ['{"a":', 'not-json'],
    ['[1]', 'not-an-object'],
    ['"text"', 'not-an-object'],
    [`${'{"a":'.repeat(70)}1${'}'.repeat(70)}`, 'too-deep'],
  ])('sets aside %.20j: %s', (record, code) => {
    expect(readJson(record)).toMatchObject({ fields: null, code });
  });

  it('treats odd keys as keys', () => {
    const reading = readJson('{"__proto__":{"polluted":true},"constructor":1}');
    expect(Object.keys(reading.fields ?? {})).toEqual(['__proto__', 'constructor']);
    expect(({} as { polluted?: boolean }).polluted).toBeUndefined();
  });
});

describe('syslog', () => {
  it.each([
    [
      '<86>Nov 14 08:03:12 hold-fs-01 sshd[77]: Accepted',
      {
        facility: 'authpriv',
        level: 'informational',
        timestamp: 'Nov 14 08:03:12',
        hostname: 'hold-fs-01',
        program: 'sshd',
        pid: '77',
        message: 'Accepted',
      },
    ],
    [
      'Nov  4 08:03:12 h sudo:   teo : COMMAND=x',
      { timestamp: 'Nov  4 08:03:12', hostname: 'h', program: 'sudo', message: '  teo : COMMAND=x' },
    ],
    [
      '2026-11-14T08:03:12.5+01:00 h kernel: up',
      { timestamp: '2026-11-14T08:03:12.5+01:00', hostname: 'h', program: 'kernel', message: 'up' },
    ],
    [
      '<13>1 2026-11-14T08:03:12Z h app 4 ID [a@1 k="v \\"q\\" \\]"][b] \ufeffhello',
      {
        facility: 'user',
        level: 'notice',
        timestamp: '2026-11-14T08:03:12Z',
        hostname: 'h',
        program: 'app',
        pid: '4',
        msgid: 'ID',
        structured: { 'a@1': { k: 'v "q" ]' }, b: {} },
        message: 'hello',
      },
    ],
    ['<13>1 - - - - - -', { facility: 'user', level: 'notice', message: '' }],
    [
      'Nov 14 08:03:12 h no tag here',
      { timestamp: 'Nov 14 08:03:12', hostname: 'h', message: 'no tag here' },
    ],
  ])('%j', (record, fields) => expect(readSyslog(record)).toEqual({ fields }));

  it.each(['', 'hello', '<999>Nov 14 08:03:12 h x: y', '<13>', '<13>2 2026-11-14T08:03:12Z h a b c - x'])(
    'sets aside %j',
    (record) => expect(readSyslog(record)).toMatchObject({ fields: null, code: 'not-syslog' }),
  );
});
