import type { Json } from '../base/json.js';
import { compilePredicate } from '../predicate/in-memory.js';
import { logSourceFits } from '../detect/log-sources.js';
import { makeEvents } from '../wick/tests/events.js';
import { describeRule } from './describe.js';
import { parseRules } from './parse-rules.js';
import { SigmaError } from './sigma-error.js';

const detection = (body: string): string =>
  `title: T\nlogsource: {}\ndetection:\n${body
    .split('\n')
    .map((line) => `  ${line}`)
    .join('\n')}\n`;

function matches(body: string, record: { readonly [key: string]: Json }): boolean {
  const [rule] = parseRules(detection(body));
  if (rule?.type !== 'detection') throw new Error('This is a detection rule.');
  const [event] = makeEvents([{ time: '2026-11-14T08:00:00Z', ...record }]);
  if (event === undefined) throw new Error('There is one event.');
  return compilePredicate(rule.predicate)(event);
}

describe('modifiers', () => {
  const record = {
    original: {
      CommandLine: 'shell.exe /enc aQBlAHgA –quiet',
      Encoded: 'xx' + Buffer.from('a run-me b').toString('base64'),
      Path: 'C:\\tools\\shell.exe',
      Image: 'shell.exe',
      At: '2026-11-14T22:07:30Z',
      Port: 8443,
      Huge: 1e21,
      Lines: 'first\nSecond',
    },
  };
  it.each<[string, boolean]>([
    // Every dash of options, every mixture.
    ["s: {CommandLine|windash|contains: ' -enc '}\ncondition: s", true],
    ["s: {CommandLine|windash|contains: '/enc aQBlAHgA -quiet'}\ncondition: s", true],
    ["s: {CommandLine|windash|contains|all: ['-enc', '-quiet']}\ncondition: s", true],
    ["s: {CommandLine|windash|contains|all: ['-enc', '-loud']}\ncondition: s", false],
    ["s: {Path|windash|contains: 'tools-shell'}\ncondition: s", false],
    ["s: {CommandLine|contains|all|windash: ['-enc', '-quiet']}\ncondition: s", true],
    ["s: {CommandLine|endswith|windash: '-quiet'}\ncondition: s", true],
    ["s: {CommandLine|startswith|windash: '-quiet'}\ncondition: s", false],
    ['s: {CommandLine|wide|base64|contains: iex}\ncondition: s', true],
    ['s: {CommandLine|utf16le|base64|contains: iex}\ncondition: s', true],
    ['s: {CommandLine|utf16be|base64|contains: iex}\ncondition: s', false],
    ['s: {Encoded|base64offset|contains: run-me}\ncondition: s', true],
    ['s: {Encoded|base64offset|contains: run-it}\ncondition: s', false],
    ['s: {CommandLine|wide|base64offset|contains: iex}\ncondition: s', true],
    ['s: {Image|fieldref: Path}\ncondition: s', false],
    ['s: {Path|fieldref|endswith: Image}\ncondition: s', true],
    ['s: {Path|fieldref|contains: Nothing}\ncondition: s', false],
    ['s: {At|hour: 22}\ncondition: s', true],
    ['s: {At|hour|gte: 20}\ncondition: s', true],
    ['s: {At|minute: [6, 7]}\ncondition: s', true],
    ['s: {At|day: 14, At|week: 46, At|month: 11, At|year: 2026}\ncondition: s', true],
    ['s: {Image|hour: 22}\ncondition: s', false],
    // No year has so many digits.
    ['s: {Huge|minute|gte: 0}\ncondition: s', false],
    ['s: {Port|neq: 443}\ncondition: s', true],
    ['s: {Port|neq: [443, 8443]}\ncondition: s', false],
    ['s: {Missing|neq: 1}\ncondition: s', false],
    ['s: {Image|contains|neq: SHELL}\ncondition: s', false],
    ["s: {Lines|re: '^second'}\ncondition: s", false],
    ["s: {Lines|re|i|m: '^second'}\ncondition: s", true],
    ["s: {Lines|re: 'first.Second'}\ncondition: s", false],
    ["s: {Lines|re|s: 'first.Second'}\ncondition: s", true],
    ["s: {'|re': 'tools.shell'}\ncondition: s", true],
    ["s: {'|all': [enc, quiet]}\ncondition: s", true],
    ["s: {'|all': [enc, nowhere]}\ncondition: s", false],
  ])('%j', (body, holds) => expect(matches(body, record)).toBe(holds));

  const lists = (name: string): readonly string[] | null =>
    ({ admins: ['ines.vaal', 'b*d'], inside: ['10.0.0.0/8', '2001:db8::/32'] })[name] ?? null;
  it.each([
    ["user|expand: 'x-%admins%'", { 'x-ines.vaal': true, 'x-b*d': true, 'x-bad': false, 'x-teo': false }],
    ["user|contains|expand: '%admins%'", { 'not-ines.vaal-now': true, bd: false }],
    ["user|cidr|expand: '%inside%'", { '10.3.0.1': true, '2001:DB8::7': true, '192.0.2.1': false }],
    ["user|expand|cidr: '%inside%'", { '10.3.0.1': true, '192.0.2.1': false }],
  ])('%s writes out lists, whose characters are literal', (asked, expected) => {
    const [rule] = parseRules(detection(`s: {${asked}}\ncondition: s`), lists);
    if (rule?.type !== 'detection') throw new Error('This is a detection rule.');
    const holds = Object.keys(expected).map((user) => {
      const [event] = makeEvents([{ time: '2026-11-14', user }]);
      return [user, event !== undefined && compilePredicate(rule.predicate)(event)];
    });
    expect(Object.fromEntries(holds)).toEqual(expected);
  });
});

describe('filters', () => {
  const base = "title: A\nname: base\nlogsource: {}\ndetection: {s: {user: 'a*'}, condition: s}\n";
  it('leave out what they say of the rules they name', () => {
    const [rule] = parseRules(
      `${base}---\ntitle: F\nlogsource: {}\nfilter: {rules: [base], own: {user: adm}, condition: not own}\n`,
    );
    if (rule?.type !== 'detection') throw new Error('This is a detection rule.');
    const holds = ['adm', 'ann'].map((user) => {
      const [event] = makeEvents([{ time: '2026-11-14', user }]);
      return event !== undefined && compilePredicate(rule.predicate)(event);
    });
    expect(holds).toEqual([false, true]);
  });
});

describe('detections', () => {
  const original = {
    CommandLine: 'C:\\Windows\\net.exe GROUP "Berth Admins"',
    EventID: 4688,
    list: ['One', 'two'],
    nested: { a: 'x' },
    'flat.key': 'y',
    empty: '',
    share: '\\\\tide\\plans',
    nothing: null,
    none: [],
    requests: [{ path: '/a', codes: [200, 404], by: { name: 'teo' } }, { path: '/b' }, 'odd'],
  };
  it.each<[string, boolean]>([
    ['s: {EventID: 4688}\ncondition: s', true],
    ["s: {EventID: '4688'}\ncondition: s", true],
    ['s: {CommandLine|contains: net.EXE}\ncondition: s', true],
    ['s: {CommandLine|contains|cased: net.EXE}\ncondition: s', false],
    ["s: {CommandLine|startswith: 'c:\\windows\\'}\ncondition: s", true],
    ['s: {CommandLine|endswith: Admins}\ncondition: s', false],
    ["s: {CommandLine: '*group*admins?'}\ncondition: s", true],
    ["s: {CommandLine: 'C:\\Windows\\\\*'}\ncondition: s", true],
    ["s: {CommandLine: '\\*net*'}\ncondition: s", false],
    // One that stands before no wildcard may be written once or twice; three or four are two.
    ["s: {CommandLine|contains: 'c:\\\\windows\\\\net'}\ncondition: s", true],
    ["s: {CommandLine|contains: 'c:\\\\\\windows'}\ncondition: s", false],
    ["s: {share: '\\\\\\tide\\plans'}\ncondition: s", true],
    ["s: {share: '\\\\\\\\tide\\\\plans'}\ncondition: s", true],
    ["s: {share: '\\tide\\plans'}\ncondition: s", false],
    ['s: {CommandLine|contains|all: [net, group]}\ncondition: s', true],
    ['s: {CommandLine|contains|all: [net, user]}\ncondition: s', false],
    ['s: {CommandLine|contains: [user, group]}\ncondition: s', true],
    ['s: {list: TWO}\ncondition: s', true],
    ['s: {nested.a: x, flat.key: y}\ncondition: s', true],
    ['s: {nothing: null}\ncondition: s', true],
    ['s: {missing: null}\ncondition: s', true],
    ['s: {empty: null}\ncondition: s', false],
    ["s: {empty: ''}\ncondition: s", true],
    ['s: {commandline|exists: true}\ncondition: s', false],
    ['s: {CommandLine|exists: true, missing|exists: false}\ncondition: s', true],
    ['s: {none|exists: true, list|exists: true}\ncondition: s', true],
    ['s: {none|exists: false}\ncondition: s', false],
    ['s: {requests.path: /B}\ncondition: s', true],
    ['s: {requests.path: /c}\ncondition: s', false],
    ['s: {requests.codes: 404, requests.by.name: teo}\ncondition: s', true],
    ['s: {requests.0.path: /a}\ncondition: s', true],
    ['s: {requests.1.path: /a}\ncondition: s', false],
    ['s: {requests.missing|exists: true}\ncondition: s', false],
    ["s: {CommandLine|re: 'net\\.exe [A-Z]+'}\ncondition: s", true],
    ["s: {src_ip|cidr: '10.0.0.0/8'}\ncondition: s", true],
    ['s: {EventID|gte: 4688, EventID|lt: 5000}\ncondition: s', true],
    ['s: {CommandLine|gt: 1}\ncondition: s', false],
    ['s: {user: teo.marrash}\ncondition: s', true],
    ['s: [berth admins]\ncondition: s', true],
    ['s: [nowhere, 4688]\ncondition: s', true],
    ['s: [nowhere, {EventID: 4688}]\ncondition: s', true],
    ['s: [berth admins, {EventID: 1}]\ncondition: s', true],
    ['s: [nowhere, {EventID: 1}]\ncondition: s', false],
    // Names of fields, and what only the line as it came in has, are no values.
    ['s: [CommandLine]\ncondition: s', false],
    ["s: ['as it came']\ncondition: s", false],
    ['s: [{EventID: 1}, {EventID: 4688}]\ncondition: s', true],
    ['a: {EventID: 4688}\nb: {user: x}\ncondition: a and not b', true],
    ['a: {EventID: 4688}\nb: {user: x}\ncondition: not a or b', false],
    ['a: {EventID: 4688}\nb: {user: x}\ncondition: b or a and a', true],
    ['sel1: {EventID: 4688}\nsel2: {user: x}\ncondition: 1 of sel*', true],
    ['sel1: {EventID: 4688}\nsel2: {user: x}\ncondition: all of sel*', false],
    ['sel: {EventID: 4688}\n_hidden: {user: x}\ncondition: all of them', true],
    ['sel: {EventID: 4688}\n_hidden: {user: x}\ncondition: any of them and not _hidden', true],
  ])('%s', (body, expected) => {
    expect(
      matches(body, {
        user: 'teo.marrash',
        src_ip: '10.0.0.5',
        original,
        raw: '{"CommandLine": "as it came in"}',
      }),
    ).toBe(expected);
  });

  it('apply where their log source fits', () => {
    expect(logSourceFits({}, { product: 'linux' })).toBe(true);
    expect(logSourceFits({ product: 'linux' }, { product: 'Linux', service: 'auth' })).toBe(true);
    expect(logSourceFits({ product: 'linux', service: 'web' }, { product: 'linux', service: 'auth' })).toBe(
      false,
    );
    expect(logSourceFits({ category: 'x' }, {})).toBe(false);
  });
});

const correlation = (body: string): string =>
  `title: A\nname: base\nlogsource: {}\ndetection: {s: {a: 1}, condition: s}\n---\ntitle: B\ncorrelation:\n${body}`;

describe('refusals name the line', () => {
  it.each<[string, number, string]>([
    ['', 1, 'holds no rule'],
    ['title: [', 1, 'broken YAML'],
    ['title: A\ntitle: B', 2, 'broken YAML'],
    ['just text', 1, 'a map of keys'],
    ['logsource: {}', 1, '"title" is missing'],
    ['title: A\nlogsource: {}', 1, 'needs "detection", "correlation", "filter" or "hunt"'],
    ['title: A\ndetection: {s: {a: 1}, condition: s}', 1, '"logsource" is missing'],
    ['title: A\nlevel: huge\nlogsource: {}\ndetection: {s: {a: 1}, condition: s}', 2, '"huge" is no level'],
    ['title: A\nstatus: fine\nlogsource: {}\ndetection: {s: {a: 1}, condition: s}', 2, '"fine" is no status'],
    ['title: A\nid: 5\nlogsource: {}\ndetection: {s: {a: 1}, condition: s}', 2, 'is no UUID'],
    [detection('s: {a: 1}'), 3, '"condition" is missing'],
    [detection('s: {a: 1}\ncondition: t'), 5, 'nothing is named "t". Did you mean "s"?'],
    [detection('s: {a: 1}\ncondition: s and'), 5, 'ends where a name is expected'],
    [detection('s: {a: 1}\ncondition: (s'), 5, 'not closed'],
    [detection('s: {a: 1}\ncondition: s s'), 5, '"s" is unexpected'],
    [detection('s: {a: 1}\ncondition: 2 of them'), 5, '"2 of" is not known'],
    [detection('s: {a: 1}\ncondition: 1 of x*'), 5, 'no identifier fits'],
    [detection('s: {a: 1}\ncondition: s | count() > 5'), 5, 'correlation rule instead'],
    [
      detection('s:\n  a: 1\n  b|contain: 2\ncondition: s'),
      6,
      'no modifier is called "contain". Did you mean "contains"?',
    ],
    [detection('s:\n  b|re|contains: x\ncondition: s'), 5, 'cannot follow'],
    [detection('s:\n  b|cidr: 10.0.0.0/99\ncondition: s'), 5, 'is no network'],
    [detection("s:\n  b|re: '(?=x)'\ncondition: s"), 5, 'look-ahead'],
    [detection('s:\n  b|all: x\ncondition: s'), 5, '"all" needs a list'],
    [detection('s:\n  b: [[1]]\ncondition: s'), 5, 'nested lists'],
    [detection('s: []\ncondition: s'), 4, 'empty'],
    [
      detection(
        's: &a {x: 1}\nt: [*a,*a,*a,*a,*a,*a,*a,*a,*a,*a,*a,*a,*a,*a,*a,*a,*a,*a,*a,*a,*a,*a,*a,*a]\nu: &b [*a,*a,*a,*a,*a,*a,*a,*a]\ncondition: s',
      ),
      1,
      'aliases',
    ],
    [
      correlation('  type: sometimes\n  rules: [base]\n  timespan: 5m\n  condition: {gte: 2}'),
      8,
      '"sometimes" is no type',
    ],
    [
      correlation('  type: event_count\n  rules: [bse]\n  timespan: 5m\n  condition: {gte: 2}'),
      9,
      'Did you mean "base"',
    ],
    [
      correlation('  type: event_count\n  rules: [base]\n  timespan: 5 minutes\n  condition: {gte: 2}'),
      10,
      '"timespan"',
    ],
    [
      correlation('  type: event_count\n  rules: [base]\n  timespan: 5m\n  condition: {above: 2}'),
      11,
      '"above" compares nothing',
    ],
    [correlation('  type: event_count\n  rules: [base]\n  timespan: 5m'), 7, '"condition" is missing'],
    [
      correlation('  type: value_count\n  rules: [base]\n  timespan: 5m\n  condition: {gte: 2}'),
      11,
      'needs "field"',
    ],
    [
      correlation('  type: event_count\n  rules: [base]\n  timespan: 1w\n  condition: {gte: 2}'),
      10,
      '"timespan"',
    ],
    [
      correlation(
        '  type: event_count\n  rules: [base]\n  timespan: 5m\n  aliases: {who: {other: user}}\n  condition: {gte: 2}',
      ),
      11,
      '"other" is none of the rules',
    ],
    [detection('s:\n  b|wide: x\ncondition: s'), 5, 'let base64 follow'],
    [detection('s:\n  b|base64|cidr: x\ncondition: s'), 5, 'cannot follow'],
    [detection("s:\n  b|base64: 'x*'\ncondition: s"), 5, 'a wildcard cannot be encoded'],
    [detection('s:\n  b|i: x\ncondition: s'), 5, 'belongs behind "re"'],
    [detection('s:\n  b|hour|contains: 1\ncondition: s'), 5, 'cannot follow'],
    [detection('s:\n  b|hour: night\ncondition: s'), 5, 'hour is a whole number, and "night" is none'],
    [detection('s:\n  b|hour: 1.5\ncondition: s'), 5, 'whole number'],
    [
      detection(`s: {${Array.from({ length: 5001 }, (_, i) => `k${i}: 1`).join(', ')}}\ncondition: s`),
      4,
      'keys',
    ],
    [
      detection(`s: [${Array.from({ length: 50_001 }, (_, i) => `v${i}`).join(', ')}]\ncondition: s`),
      4,
      'values',
    ],
    [
      detection(
        `s: {a: [${Array.from({ length: 200 }, (_, i) => `v${i}`).join(', ')}]}\ncondition: ${Array.from({ length: 1000 }, () => 's').join(' or ')}`,
      ),
      5,
      'stands for more than 150,000 tests',
    ],
    [detection("s:\n  b|expand: '%admins%'\ncondition: s"), 5, 'no list "admins"'],
    [detection("s:\n  b|windash: '-a -b -c -d -e -f'\ncondition: s"), 5, 'at most 5 dashes'],
    ['title: F\nfilter: {s: {a: 1}, condition: not s}', 2, '"rules" is missing'],
    ['title: F\nfilter: {rules: [nobody], s: {a: 1}, condition: not s}', 2, 'no rule is called "nobody"'],
  ])('%j', (text, line, part) => {
    try {
      parseRules(text);
    } catch (error) {
      expect(error).toBeInstanceOf(SigmaError);
      expect((error as SigmaError).message).toContain(part);
      expect((error as SigmaError).line).toBe(line);
      return;
    }
    throw new Error('This should have been refused.');
  });

  it('refuses circles and names that stand twice', () => {
    const circle =
      'title: A\nname: a\ncorrelation: {type: event_count, rules: [b], timespan: 5m, condition: {gte: 1}}\n---\ntitle: B\nname: b\ncorrelation: {type: event_count, rules: [a], timespan: 5m, condition: {gte: 1}}';
    expect(() => parseRules(circle)).toThrow('circle');
    const twice = `${detection('s: {a: 1}\ncondition: s')}name: x\n---\n${detection('s: {a: 1}\ncondition: s')}name: x\n`;
    expect(() => parseRules(twice)).toThrow('stands twice');
  });
});

it('says what a rule means in plain words', () => {
  const rules = parseRules(
    correlation(
      '  type: event_count\n  rules: [base]\n  group-by: [user]\n  timespan: 15m\n  condition: {gte: 12}',
    ),
  );
  expect(rules.map((rule) => describeRule(rule, rules))).toEqual([
    'events where a is "1"',
    'at least 12 matches of "A" within 15m of the same user',
  ]);
});
