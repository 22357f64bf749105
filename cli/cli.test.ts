import { execFile } from 'node:child_process';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join, resolve } from 'node:path';

const folder = mkdtempSync(join(tmpdir(), 'lamp-'));
afterAll(() => rmSync(folder, { recursive: true, force: true }));

function file(name: string, content: string): string {
  const path = join(folder, name);
  writeFileSync(path, content);
  return path;
}

const events = file(
  'events.jsonl',
  [
    '{"time":"2026-11-14T08:00:00Z","kind":"signin","user":"Teo.Marrash","outcome":"failure","src_ip":"198.18.40.77","original":{"n":1}}',
    '{"time":"2026-11-14T08:00:00Z","kind":"signin","user":"ines.vaal","outcome":"success"}',
    '',
    'not json',
    '{"user":"no time"}',
    '{"time":"2026-11-14T09:00:00Z","kind":"query","user":"=1+1","records":184000}',
  ].join('\n'),
);

function lamp(...args: string[]): Promise<{ code: number; out: string; err: string }> {
  return new Promise((done) => {
    execFile(process.execPath, [resolve('cli/bin/lamp.mjs'), ...args], (error, out, err) =>
      done({ code: typeof error?.code === 'number' ? error.code : 0, out, err }),
    );
  });
}

it('runs a hunt over a file and prints JSON lines, CSV, or one document', async () => {
  const text = 'from all\nsort time\nshow time, user, records as n';
  expect(await lamp('hunt', '--events', events, '--text', text)).toEqual({
    code: 0,
    out: '{"time":"2026-11-14T08:00:00Z","user":"teo.marrash","n":null}\n{"time":"2026-11-14T08:00:00Z","user":"ines.vaal","n":null}\n{"time":"2026-11-14T09:00:00Z","user":"=1+1","n":184000}\n',
    err: 'note: Line 4 of the events was left out: it is no JSON.\nnote: Line 5 of the events was left out: it has no "time".\n',
  });
  expect((await lamp('hunt', '--events', events, '--text', text, '--format', 'csv')).out).toBe(
    "time,user,n\r\n2026-11-14T08:00:00Z,teo.marrash,\r\n2026-11-14T08:00:00Z,ines.vaal,\r\n2026-11-14T09:00:00Z,'=1+1,184000\r\n",
  );
  const document = await lamp('hunt', '--events', events, '--text', text, '--format', 'json');
  expect(JSON.parse(document.out)).toEqual({
    columns: ['time', 'user', 'n'],
    rows: expect.arrayContaining([['2026-11-14T09:00:00Z', '=1+1', 184000]]),
    notes: [expect.stringContaining('Line 4'), expect.stringContaining('Line 5')],
  });
  expect(document.err).toBe('');
});

it('takes the hunt from a file, a window, a moment, and lists', async () => {
  const hunt = file('h.wick', 'from signin over last 2h\nwhere src_ip in list rented\nshow user, now as at');
  const list = file('rented.json', '{"match":"network","key":"net","rows":[{"net":"198.18.0.0/15"}]}');
  expect(
    await lamp(
      'hunt',
      '--events',
      events,
      '--file',
      hunt,
      '--now',
      '2026-11-14T09:30:00Z',
      '--list',
      `rented=${list}`,
    ),
  ).toMatchObject({ code: 0, out: '{"user":"teo.marrash","at":"2026-11-14T09:30:00Z"}\n' });
  expect(
    (
      await lamp(
        'hunt',
        '--events',
        events,
        '--text',
        'from all\ntally count()',
        '--from',
        '2026-11-14T08:30',
        '--to',
        '2026-11-14T09:00:01Z',
      )
    ).out,
  ).toBe('{"count":1}\n');
});

it('honours the end of rows of a list, and keeps the digits of long numbers', async () => {
  const list = file(
    'until.json',
    '{"match":"exact","key":"k","rows":[{"k":"teo.marrash","expires":"2026-11-14T09:00:00Z"}]}',
  );
  const found = async (now: string): Promise<string> =>
    (
      await lamp(
        ...['hunt', '--events', events, '--text', 'from all\nwhere user in list until\ntally count() as n'],
        ...['--now', now, '--list', `until=${list}`],
      )
    ).out;
  expect(await found('2026-11-14T09:30:00Z')).toBe('{"n":0}\n');
  expect(await found('2026-11-14T08:59:00Z')).not.toBe('{"n":0}\n');
  const long = file(
    'long.jsonl',
    '{"time":"2026-11-14T08:00:00Z","kind":"signin","original":{"id":12345678901234567890}}',
  );
  expect((await lamp('hunt', '--events', long, '--text', 'from all\nset n = original.id\nshow n')).out).toBe(
    '{"n":"12345678901234567890"}\n',
  );
});

it('fills in the blanks of a hunt', async () => {
  const text = "ask who 'User'\nask n 'Rows' default 5\nfrom all\nwhere user = $who\nfirst $n\nshow user";
  const asked = ['hunt', '--events', events, '--text', text];
  expect((await lamp(...asked, '--param', 'who=Ines.Vaal', '--param', 'n=1')).out).toBe(
    '{"user":"ines.vaal"}\n',
  );
  expect(await lamp(...asked)).toEqual({
    code: 2,
    out: '',
    err: expect.stringMatching(/^line 1, column 5: "who" must be filled in: User/),
  });
  expect((await lamp(...asked, '--param', 'who')).err).toContain('is not NAME=VALUE');
});

it('refuses a hunt with its line and column, nothing else, and exit code 2', async () => {
  expect(await lamp('hunt', '--events', events, '--text', 'from all\nwhere usr = 1')).toEqual({
    code: 2,
    out: '',
    err: expect.stringMatching(/^line 2, column 7: No field "usr"\. Did you mean "user"\?.*\n$/),
  });
});

it('says what is wrong with its use', async () => {
  const wrong = [
    [['hunt'], '--events FILE.jsonl is missing'],
    [
      ['hunt', '--events', events, '--text', 'from all', '--format', 'xml'],
      '"xml" is none of jsonl, csv, json',
    ],
    [['hunt', '--events', events, '--text', 'x', '--file', 'y'], 'not both'],
    [['hunt', '--events', events, '--text', 'x', '--from', 'noon'], '"noon" cannot be read as a time'],
    [['hunt', '--events', events, '--text', 'x', '--list', 'rented'], 'is not NAME=FILE.json'],
    [['hunt', '--events', events, '--odd'], '--odd'],
    [['dance'], 'No command "dance"'],
  ] as const;
  for (const [args, part] of wrong) {
    const { code, out, err } = await lamp(...args);
    expect([args, code, out]).toEqual([args, 2, '']);
    expect(err).toContain(part);
  }
  expect(await lamp('hunt', '--events', join(folder, 'none'), '--text', 'from all')).toMatchObject({
    code: 1,
    err: expect.stringContaining('no such file'),
  });
  expect((await lamp('help')).out).toContain('lamp hunt --events');
});

describe('a board over files', () => {
  const board = (cards: object[], more: object = {}): string =>
    file('board.json', JSON.stringify({ title: 'Quay', cards, ...more }, null, 1));
  const failures = {
    id: 'who',
    title: 'Who <fails>',
    hunt: "ask least 'At least' default 1\nfrom signin\nwhere outcome = 'failure'\ntally count() as n per user\nwhere n >= $least",
    picture: { kind: 'ranked' },
  };

  it('answers every card; one that fails says where, and the others go on', async () => {
    const { code, out, err } = await lamp(
      'board',
      '--board',
      board([
        failures,
        { id: 'bad', title: 'Bad', hunt: 'from signin\nwhere outcom = 1', picture: { kind: 'rows' } },
      ]),
      '--events',
      events,
    );
    expect(code).toBe(0);
    expect(JSON.parse(out)).toEqual({
      title: 'Quay',
      cards: [
        { id: 'who', title: 'Who <fails>', columns: ['user', 'n'], rows: [['teo.marrash', 1]] },
        {
          id: 'bad',
          title: 'Bad',
          columns: [],
          rows: [],
          error: { line: 2, column: 7, message: expect.stringContaining('"outcome"') },
        },
      ],
    });
    expect(err).toContain('note: Bad: line 2, column 7');
  });

  it('takes inputs, a window, and a card’s own', async () => {
    const asked = [
      'board',
      '--board',
      board([{ ...failures, window: { last: '30m' } }]),
      '--events',
      events,
      '--to',
      '2026-11-14T09:00:00Z',
    ];
    expect(JSON.parse((await lamp(...asked)).out).cards[0].rows).toEqual([]);
    const path = board([failures]);
    const rows = async (...more: string[]): Promise<unknown> =>
      JSON.parse((await lamp('board', '--board', path, '--events', events, ...more)).out).cards[0].rows;
    expect(await rows('--param', 'least=2')).toEqual([]);
    expect(await rows('--from', '2026-11-14T08:30:00Z')).toEqual([]);
    expect(await rows()).toEqual([['teo.marrash', 1]]);
  });

  it('is drawn as one page that needs nothing else, with nothing in it that would run', async () => {
    const path = board(
      [
        failures,
        {
          ...failures,
          id: 'time',
          picture: { kind: 'stacked' },
          hunt: 'from all\ntally count() as n per kind, every 1h',
        },
      ],
      { about: '<script>alert(1)</script>' },
    );
    const { code, out } = await lamp('board', '--board', path, '--events', events, '--format', 'html');
    expect(code).toBe(0);
    expect(out).toContain('<h2>Who &lt;fails&gt;</h2>');
    expect(out).toContain('<td>teo.marrash</td>');
    expect(out).toContain('<svg');
    expect(out).not.toContain('<script');
    expect(out).not.toMatch(/(?:src|href)=/);
  });

  it('one that cannot be read is refused with every mistake and its place', async () => {
    const { code, err } = await lamp(
      'board',
      '--board',
      board([{ ...failures, picture: { kind: 'rankd' } }]),
      '--events',
      events,
    );
    expect(code).toBe(2);
    expect(err).toMatch(/board\.json: line \d+, column \d+: .*Did you mean "ranked"\?/);
    expect((await lamp('board', '--events', events)).err).toContain('--board FILE.json is missing');
  });
});
