import { parseInstant } from '../base/instant.js';
import type { Event } from '../events/event.js';
import { bruteForce } from './brute-force.js';
import { factOf, type PlacedFact } from './facts.js';
import { lateralMovement } from './lateral-movement.js';
import { drawReport, type TriageReport } from './report.js';
import { timeline } from './timeline.js';

const at = (clock: string): number => parseInstant(`2026-11-14T${clock}Z`) ?? 0;
let line = 0;
const fact = (clock: string, more: Partial<PlacedFact> = {}): PlacedFact => ({
  time: at(clock),
  kind: 'signin',
  operation: 'session.start',
  outcome: 'success',
  user: 'teo',
  target: null,
  address: null,
  fromHost: null,
  host: null,
  how: null,
  what: null,
  file: 'a.log',
  line: ++line,
  rules: [],
  ...more,
});
/** Rows as objects by their columns. */
const rowsOf = ({ columns, rows }: ReturnType<typeof timeline>): Record<string, unknown>[] =>
  rows.map((row) => Object.fromEntries(columns.map((name, i) => [name, row[i]])));

describe('timeline', () => {
  it('tells in order, the same in a row once with its number, and programs only where a rule matched', () => {
    const rows = rowsOf(
      timeline([
        fact('08:10:00', { outcome: 'failure', host: 'gate' }),
        fact('08:00:00', { outcome: 'failure', host: 'gate' }),
        fact('08:02:00', { outcome: 'failure', host: 'gate', rules: ['Guesses'] }),
        fact('08:01:00', { kind: 'process', operation: 'process.start', what: 'a.exe' }),
        fact('08:03:00', { kind: 'process', operation: 'process.start', what: 'b.exe', rules: ['Odd'] }),
        fact('08:04:00', { kind: 'log', operation: 'log.cleared' }),
      ]),
    );
    expect(rows.map(({ time, count, operation, rules }) => [time, count, operation, rules])).toEqual([
      ['2026-11-14T08:00:00Z', 2, 'session.start', 'Guesses'],
      ['2026-11-14T08:03:00Z', 1, 'process.start', 'Odd'],
      ['2026-11-14T08:04:00Z', 1, 'log.cleared', ''],
      ['2026-11-14T08:10:00Z', 1, 'session.start', ''],
    ]);
    expect(rows[0]).toMatchObject({ until: '2026-11-14T08:02:00Z', user: 'teo', host: 'gate' });
  });
});

describe('lateral movement', () => {
  const found = lateralMovement([
    fact('08:00:00', { address: '10.0.0.5', host: 'GATE-01.mast.example', how: 'key' }),
    fact('08:01:00', { address: '10.0.0.1', fromHost: 'gate-01', host: 'hold-fs', how: 'network' }),
    fact('08:02:00', { address: '10.0.0.1', host: 'hold-db', outcome: 'failure', how: 'wrong password' }),
    fact('08:03:00', { address: '10.0.0.1', host: 'hold-db', how: 'network' }),
    fact('08:04:00', { address: '127.0.0.1', host: 'hold-db' }),
    fact('08:05:00', { host: 'hold-db' }),
    fact('08:06:00', { fromHost: 'hold-db', host: 'hold-db' }),
    fact('08:07:00', {
      kind: 'process',
      operation: 'service.install',
      fromHost: 'hold-db',
      host: 'quay',
      what: 'x.exe',
    }),
  ]);

  it('joins what came from where to where, names for addresses, and what led there', () => {
    expect(
      rowsOf(found).map(({ from, to, succeeded, failed, after }) => [from, to, succeeded, failed, after]),
    ).toEqual([
      ['10.0.0.5', 'gate-01', 1, 0, null],
      ['gate-01', 'hold-fs', 1, 0, '10.0.0.5 → gate-01'],
      ['gate-01', 'hold-db', 0, 1, '10.0.0.5 → gate-01'],
      ['gate-01', 'hold-db', 1, 0, '10.0.0.5 → gate-01'],
      ['hold-db', 'quay', 1, 0, 'gate-01 → hold-db'],
    ]);
    expect(found.notes[0]).toContain('2 sign-ins tell no other machine');
  });

  it('draws who reached whom, not who only tried', () => {
    expect(found.graph?.edges.map(({ from, to, count }) => `${from} ${to} ${count}`)).toEqual([
      '10.0.0.5 gate-01 1',
      'gate-01 hold-fs 1',
      'gate-01 hold-db 1',
      'hold-db quay 1',
    ]);
    expect(found.graph?.nodes).toHaveLength(5);
  });
});

describe('brute force', () => {
  const failures = (n: number, user: string, address: string, from = 0): PlacedFact[] =>
    Array.from({ length: n }, (_, i) =>
      fact(`08:${String(from + i).padStart(2, '0')}:00`, { user, address, outcome: 'failure' }),
    );

  it('tells guesses for one account, few for many accounts, and what followed', () => {
    const rows = rowsOf(
      bruteForce([
        ...failures(6, 'teo', '198.18.40.7'),
        fact('08:10:00', { address: '198.18.40.7' }),
        fact('08:11:00', { operation: 'group.add', kind: 'rights' }),
        fact('08:12:00', { operation: 'report.export', kind: 'query', outcome: 'failure' }),
        fact('08:13:00', { operation: 'group.add', kind: 'rights' }),
        fact('09:30:00', { operation: 'too.late', kind: 'rights' }),
        ...['a', 'b', 'c', 'd', 'e'].flatMap((user) => failures(1, user, '198.18.40.9', 30)),
        ...failures(4, 'runa', '10.20.4.61', 40),
        fact('08:50:00', { user: 'runa', address: '10.20.4.61' }),
      ]),
    );
    expect(rows[0]).toMatchObject({
      user: 'teo',
      from: '198.18.40.7',
      failed: 6,
      signed_in: '2026-11-14T08:10:00Z',
      failed_before: 6,
      then: 'group.add ×2, report.export (failure)',
    });
    expect(
      rows
        .slice(1)
        .map(({ user, accounts_from_there: accounts, signed_in: entered }) => [user, accounts, entered]),
    ).toEqual(['a', 'b', 'c', 'd', 'e'].map((user) => [user, 5, null]));
  });
});

it('a fact is what studies look at; values are shortened, and a program that starts is one only for the brute force', () => {
  const event = {
    time: at('08:00:00'),
    kind: 'process',
    operation: 'process.start',
    command_line: 'x'.repeat(5000),
  } as unknown as Event;
  expect(factOf(event, false)?.what?.length).toBeLessThanOrEqual(200);
  expect(factOf({ ...event, kind: 'web' }, false)).toBeNull();
  expect(factOf({ ...event, kind: 'web' }, true)).not.toBeNull();
  expect(factOf({ ...event, time: null } as unknown as Event, true)).toBeNull();
});

describe('the page', () => {
  const report = (more: Partial<TriageReport> = {}): TriageReport => ({
    made: at('12:00:00'),
    files: [
      { file: 'a.log', readAs: 'linux-auth', records: 10, unreadable: 1, matches: 2 },
      { file: 'p.bin', readAs: null, records: 0, unreadable: 0, matches: 0 },
    ],
    rules: [
      { title: 'Low one', id: null, level: 'low', matches: 1, state: 'asked' },
      { title: '<script>alert(1)</script>', id: 'x', level: 'critical', matches: 1, state: 'asked' },
      {
        title: 'Idle',
        id: null,
        level: 'high',
        matches: 0,
        state: 'asked of nothing: no record is of product windows',
      },
    ],
    refused: [{ file: 'bad.yml', rule: 'Bad', line: 3, reason: 'no level' }],
    findings: [
      {
        title: 'Low one',
        level: 'low',
        time: at('07:00:00'),
        file: 'a.log',
        line: 1,
        shown: 'y'.repeat(900),
      },
      {
        title: '<script>alert(1)</script>',
        level: 'critical',
        time: at('09:00:00'),
        file: 'a.log',
        line: 2,
        shown: '"><img src=x onerror=alert(1)>\u202e',
      },
    ],
    left: 3,
    studies: [lateralMovement([fact('08:00:00', { fromHost: '<b>gate</b>', host: 'hold' })])],
    full: false,
    ...more,
  });

  it('needs nothing else, runs nothing, and shows what would mislead', () => {
    const page = drawReport(report());
    expect(page).toContain("default-src 'none'");
    expect(page).not.toMatch(/<script|<img|\u202e|<[^>]* src=|https?:\/\//);
    expect(page).toContain('&lt;script&gt;');
  });

  it('has the gravest first, then by time; rules loaded, refused and why; and what was left out', () => {
    const page = drawReport(report());
    expect(page.indexOf('<td>critical</td>')).toBeLessThan(page.indexOf('<td>low</td>'));
    for (const told of [
      'no level',
      'asked of nothing: no record is of product windows',
      '3 more findings',
      'no log',
      'Sign-ins between machines',
    ])
      expect(page).toContain(told);
  });

  it('shortens values, or not', () => {
    expect(drawReport(report())).not.toContain('y'.repeat(200));
    expect(drawReport(report({ full: true }))).toContain('y'.repeat(900));
  });
});
