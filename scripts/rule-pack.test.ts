import { readdirSync, readFileSync } from 'node:fs';
import { DAY } from '../core/base/instant.js';
import { loadPack, type RulePack } from '../core/sigma/pack.js';
import { techniqueOf } from '../core/sigma/techniques.js';
import { runHuntTests, runRuleTests } from '../core/rules/run-tests.js';
import type { LogSourceEntry } from '../core/detect/log-sources.js';
import { noLists } from '../core/wick/in-memory/environment.js';
import { HuntRunner } from '../server/hunts/runner.js';
import { onePool } from '../server/db/pools.js';
import { Replays } from '../server/rules/replays.js';
import { Rules } from '../server/rules/service.js';
import { logSourceEntries } from '../server/rules/log-sources-sql.js';
import { testDatabase, type TestDatabase } from '../server/tests/database.js';
import { type DemoDatabase, demoDatabase } from '../tests/demo-database.js';

/** As many as the tests of the browser take, so that the world is made once for all of them. */
const DAYS = 9;

const files = readdirSync('demo/rules')
  .sort()
  .map((name) => ({ name, text: readFileSync(`demo/rules/${name}`, 'utf8') }));

let database: TestDatabase;
let entries: LogSourceEntry[];
let pack: RulePack;
beforeAll(async () => {
  database = await testDatabase();
  entries = await logSourceEntries(database.pool);
  pack = loadPack(files);
});
afterAll(() => database.drop());

/** The rules that a reader sees; those that others count stand in the same file before them. */
const heads = () => {
  const counted = new Set(pack.rules.flatMap((rule) => (rule.type === 'correlation' ? rule.refers : [])));
  return pack.rules
    .map((rule, at) => ({ rule, at }))
    .filter(({ rule, at }) => rule.id !== null || !counted.has(at));
};

test('every rule is read, says what it is about, and holds its tests', () => {
  expect(pack.refused).toEqual([]);
  expect(heads().length + pack.hunts.length).toBeGreaterThanOrEqual(110);
  for (const rule of [...heads().map((head) => head.rule), ...pack.hunts.map(({ hunt }) => hunt)]) {
    expect([rule.title, rule.tags.some((tag) => techniqueOf(tag) !== null)]).toEqual([rule.title, true]);
    expect([rule.title, rule.falsePositives.length > 0, rule.id !== null, rule.description !== null]).toEqual(
      [rule.title, true, true, true],
    );
    expect([rule.title, [...new Set(rule.settings.tests.map(({ must }) => must))].sort()]).toEqual([
      rule.title,
      ['match', 'pass'],
    ]);
  }
  const failed = [
    ...heads().flatMap(({ rule, at }) =>
      runRuleTests(pack.rules, at, entries).map((result) => ({ rule: rule.title, ...result })),
    ),
    ...pack.hunts.flatMap(({ hunt }) =>
      runHuntTests(hunt, [], noLists).map((result) => ({ rule: hunt.title, ...result })),
    ),
  ].filter(({ passed }) => !passed);
  expect(failed).toEqual([]);
});

describe('over the demo world', () => {
  let demo: DemoDatabase;
  beforeAll(async () => {
    demo = await demoDatabase(DAYS);
  }, 300_000);
  afterAll(() => demo.database.drop());

  test('every step of the happening is evidence of an alert', async () => {
    const { rows } = await demo.database.pool.query<{ id: string; title: string }>(
      `SELECT replace(e.event_id::text, '-', '') AS id, a.title FROM alert_events e JOIN alerts a ON a.id = e.alert
        WHERE a.level IN ('medium', 'high', 'critical')`,
    );
    const honest = [
      'backup-noise',
      'balancer-noise',
      'scan-noise',
      'run-as-noise',
      'sandbox-noise',
      'script-noise',
      'satellite',
    ];
    const told = new Set(rows.map(({ id }) => id));
    const steps = Object.entries(demo.truth).filter(([name]) => !honest.includes(name));
    const found = Object.fromEntries(steps.map(([name, ids]) => [name, ids.some((id) => told.has(id))]));
    expect(found).toEqual(Object.fromEntries(steps.map(([name]) => [name, true])));
  }, 300_000);

  test('honest noise makes some rules loud', async () => {
    const { rows } = await demo.database.pool.query<{ title: string; matches: number }>(
      'SELECT title, sum(matches)::int AS matches FROM alerts GROUP BY title ORDER BY matches DESC LIMIT 6',
    );
    expect(rows.map(({ title }) => title)).toEqual(
      expect.arrayContaining([
        'A script was run',
        'Many failed sign-ins of one user',
        'Check against booking fails',
      ]),
    );
  });

  test.each([
    ['impossible-travel.yml', 'teo.marrash'],
    ['password-spray-from-one-network.yml', '198.18.40.0/24'],
    ['firewall-went-quiet.yml', ''],
    ['outside-address-new-to-a-server.yml', '203.0.113.77'],
    ['much-more-out-than-usual.yml', '10.'],
    ['reads-far-above-usual.yml', 'teo.marrash'],
    ['program-new-to-a-host.yml', 'quay-tk-07'],
    ['right-never-changed-before.yml', 'ticketing-prod'],
  ])(
    '%s finds it in the past',
    async (file, subject) => {
      const { pool } = demo.database;
      const replays = new Replays(
        pool,
        new HuntRunner(onePool(pool)),
        new Rules(pool).reading,
        () => demo.world.end,
      );
      const text = files.find(({ name }) => name === file)?.text ?? '';
      const window = {
        from: new Date((demo.world.end - 4 * DAY) / 1000).toISOString(),
        to: new Date(demo.world.end / 1000).toISOString(),
      };
      let subjects: string[] = [];
      for await (const picture of replays.run({ text, window }, 'tester', new AbortController().signal))
        subjects = picture.subjects.map((one) => one.subject);
      expect(subjects.filter((one) => one.includes(subject))).not.toEqual([]);
    },
    120_000,
  );
});
