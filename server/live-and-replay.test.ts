import fc from 'fast-check';
import {
  addRule,
  Caller,
  send,
  signInRecord,
  TEST_TIME,
  testServer,
  type TestServer,
} from './tests/server.js';

// A replay is as if it had been live: the same records, sent batch by batch in their order, raise what it says.

const RUNS = Number(process.env['UNDER_LAMP_PROPERTY_RUNS'] ?? 300);

let server: TestServer;
let analyst: Caller;
beforeEach(async () => {
  server = await testServer();
  analyst = await new Caller(server).signIn('analyst');
});
afterEach(() => server.stop());

const base =
  "title: Refused\nname: refused\nlogsource: {category: authentication}\ndetection: {s: {'result.why': bad_secret}, condition: s}\nlamp: {does: count}\n---\ntitle: Locked\nname: locked\nlogsource: {}\ndetection: {s: {'result.why': locked}, condition: s}\nlamp: {does: count}\n---\n";
const counting = (correlation: string): string =>
  `${base}title: Head\nlevel: high\ncorrelation: {${correlation}}\n`;

const rules: readonly (readonly [name: string, text: string])[] = [
  [
    'events',
    counting('type: event_count, rules: [refused], group-by: [user], timespan: 5m, condition: {gte: 3}'),
  ],
  [
    'events of two rules',
    counting(
      'type: event_count, rules: [refused, locked], group-by: [user], timespan: 2m, condition: {gt: 2}',
    ),
  ],
  [
    'different values',
    counting(
      'type: value_count, rules: [refused], group-by: [src_ip], timespan: 10m, condition: {field: user, gte: 2}',
    ),
  ],
  ['any order', counting('type: temporal, rules: [refused, locked], group-by: [user], timespan: 5m')],
  [
    'one after the other',
    counting('type: temporal_ordered, rules: [refused, locked], group-by: [user], timespan: 5m'),
  ],
  [
    'a correlation, then an event',
    `${base}title: Many\nname: many\ncorrelation: {type: event_count, rules: [refused], group-by: [user], timespan: 5m, condition: {gte: 2}}\nlamp: {does: count}\n---\ntitle: Head\nlevel: high\ncorrelation: {type: temporal_ordered, rules: [many, locked], group-by: [user], timespan: 10m}\n`,
  ],
  ['one event', 'title: Head\nlevel: low\nlogsource: {}\ndetection: {s: {outcome: failure}, condition: s}\n'],
];

const START = Date.parse('2026-11-14T08:00:00Z');
const records = fc.array(
  fc.record({
    // Many sources tell time in seconds: events of the same one are common.
    gap: fc.integer({ min: -40, max: 120 }).map((seconds) => Math.max(0, seconds)),
    user: fc.constantFrom('teo', 'ines'),
    denied: fc.constantFrom('bad_secret', 'locked', 'no_account'),
    address: fc.constantFrom('198.18.40.1', '198.18.40.2'),
  }),
  { minLength: 20, maxLength: 60 },
);

test.each(rules)(
  '%s',
  async (_, text) => {
    const { id } = await addRule(analyst, text);
    let made = 0;
    let live = 0;
    await fc.assert(
      fc.asyncProperty(records, fc.integer({ min: 1, max: 7 }), async (drafts, batch) => {
        const { pool } = server.database;
        await pool.query('TRUNCATE alerts, events, correlation_hits CASCADE');
        let at = START;
        const lines = drafts.map(({ gap, ...more }, i) => {
          // What came in earlier was counted earlier, and what is of the same time is not taken back for it.
          at += (i % batch === 0 ? Math.max(1, gap) : gap) * 1000;
          return signInRecord({ ...more, at: new Date(at).toISOString(), eventId: `p-${++made}` });
        });
        for (let from = 0; from < lines.length; from += batch)
          await send(server, 'harbour-id', lines.slice(from, from + batch).join('\n'));
        const { rows } = await pool.query<{ subject: string; matches: number }>(
          'SELECT subject, matches FROM alerts WHERE rule = $1 ORDER BY subject',
          [id],
        );
        const response = await analyst.fetch('POST', '/rules/replay', { text, id, window: TEST_TIME });
        const { subjects } = JSON.parse((await response.text()).trim().split('\n').at(-1) ?? '') as {
          subjects: { subject: string; matches: number }[];
        };
        const replayed = subjects.map(({ subject, matches }) => ({ subject, matches }));
        expect(replayed.sort((a, b) => (a.subject < b.subject ? -1 : 1))).toEqual(rows);
        live += rows.length;
      }),
      { numRuns: Math.max(3, Math.round(RUNS / 75)), endOnFailure: true },
    );
    // Rules that never match would prove nothing.
    expect(live).toBeGreaterThan(0);
  },
  120_000,
);
