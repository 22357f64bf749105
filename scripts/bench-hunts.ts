import { resolve } from 'node:path';
import { performance } from 'node:perf_hooks';
import type { Pool } from 'pg';
import { DAY, formatInstant, HOUR, type Instant } from '../core/base/instant.js';
import { compileHunt } from '../core/wick/compile.js';
import { migrate } from '../server/db/migrate.js';
import { makePool } from '../server/db/pool.js';
import { rollForward } from '../server/derived/roll-forward.js';
import { HuntRunner, type RunOptions } from '../server/hunts/runner.js';
import { onePool } from '../server/db/pools.js';
import { holdsCluster, startCluster } from './lib/cluster.js';
import { benchDossiers } from './lib/bench-dossiers.js';
import { fillColumnar, type Columnar } from './lib/columnar.js';

// `npm run bench:hunts`: hunts over the database that `npm run bench -- --keep` filled, each beside the best statement
// we know how to write by hand over the same events, and beside a columnar database over the same rows, in one run.

const folder = resolve('.under-lamp-bench');
const ROWS = 1000;
const TIMES = 3;

interface Question {
  readonly name: string;
  readonly hunt: string;
  /** Microseconds back from the end. */
  readonly back: number;
  /** The statement to compare with; $1 and $2 are the window. The columnar database takes the same but for {@link columnar}. */
  readonly sql: string;
  readonly columnar?: string;
  /** The first rows, or the first figures, should be there within so many milliseconds. */
  readonly aim?: number;
}

const EVENTS = '"time" >= $1::timestamptz AND "time" < $2::timestamptz';

const questions = (all: number, user: string): readonly Question[] => [
  {
    name: 'events by operation, over everything',
    hunt: 'from all\ntally count() as n per operation\nsort n desc',
    back: all,
    sql: `SELECT operation, count(*) FROM events WHERE ${EVENTS} GROUP BY 1 ORDER BY 2 DESC`,
    aim: 300,
  },
  {
    name: 'events by outcome and day, over everything',
    hunt: 'from all\ntally count() as n per outcome, every 1d',
    back: all,
    sql: `SELECT outcome, date_trunc('day', "time"), count(*) FROM events WHERE ${EVENTS} GROUP BY 1, 2`,
    aim: 300,
  },
  {
    name: 'events by user, over everything',
    hunt: 'from all\ntally count() as n per user\nsort n desc\nfirst 20',
    back: all,
    sql: `SELECT "user", count(*) FROM events WHERE ${EVENTS} GROUP BY 1 ORDER BY 2 DESC LIMIT 20`,
    aim: 300,
  },
  {
    name: 'failures of the last 24 hours, newest first',
    hunt: "from all\nwhere outcome = 'failure' and bytes_in is null",
    back: DAY,
    sql: `SELECT * FROM wick.events WHERE ${EVENTS} AND outcome = 'failure' AND bytes_in IS NULL ORDER BY "time" DESC LIMIT ${ROWS}`,
    columnar: `SELECT * FROM events WHERE ${EVENTS} AND outcome = 'failure' AND bytes_in IS NULL ORDER BY "time" DESC LIMIT ${ROWS}`,
    aim: 300,
  },
  {
    name: 'one user over 30 days',
    hunt: `from all\nwhere user = '${user}'`,
    back: 30 * DAY,
    sql: `SELECT * FROM wick.events WHERE ${EVENTS} AND "user" = '${user}' ORDER BY "time" DESC LIMIT ${ROWS}`,
    columnar: `SELECT * FROM events WHERE ${EVENTS} AND "user" = '${user}' ORDER BY "time" DESC LIMIT ${ROWS}`,
    aim: 500,
  },
  {
    name: 'a text anywhere in 24 hours',
    hunt: "from all\nwhere has 'marrash'\ntally count()",
    back: DAY,
    sql: `SELECT count(*) FROM events WHERE ${EVENTS} AND raw COLLATE "C" ILIKE '%marrash%'`,
    columnar: `SELECT count(*) FROM events WHERE ${EVENTS} AND raw ILIKE '%marrash%'`,
    aim: 2000,
  },
  {
    name: 'a rare refusal, newest first, over everything',
    hunt: "from all\nwhere outcome = 'failure' and records > 100000",
    back: all,
    sql: `SELECT * FROM wick.events WHERE ${EVENTS} AND outcome = 'failure' AND records > 100000 ORDER BY "time" DESC LIMIT ${ROWS}`,
    columnar: `SELECT * FROM events WHERE ${EVENTS} AND outcome = 'failure' AND records > 100000 ORDER BY "time" DESC LIMIT ${ROWS}`,
  },
  {
    name: 'bytes by address, 30 days (only a scan can tell)',
    hunt: 'from all\ntally sum(bytes_out) as n per src_ip\nsort n desc\nfirst 20',
    back: 30 * DAY,
    sql: `SELECT src_ip, sum(bytes_out) FROM events WHERE ${EVENTS} GROUP BY 1 ORDER BY 2 DESC NULLS LAST LIMIT 20`,
    aim: 1000,
  },
  {
    name: 'bytes and users by address, over everything (only a scan can tell)',
    hunt: 'from all\ntally sum(bytes_out) as n, count(distinct user) as users per src_ip\nsort n desc\nfirst 20',
    back: all,
    sql: `SELECT src_ip, sum(bytes_out), count(DISTINCT "user") FROM events WHERE ${EVENTS} GROUP BY 1 ORDER BY 2 DESC NULLS LAST LIMIT 20`,
    aim: 1000,
  },
  {
    name: 'a text by source, eight weeks',
    hunt: "from all\nwhere has 'marrash'\ntally count() as n per source\nsort n desc",
    back: 56 * DAY,
    sql: `SELECT source, count(*) FROM events WHERE ${EVENTS} AND raw COLLATE "C" ILIKE '%marrash%' GROUP BY 1`,
    columnar: `SELECT source, count(*) FROM events WHERE ${EVENTS} AND raw ILIKE '%marrash%' GROUP BY 1`,
    aim: 1000,
  },
  {
    name: 'new pairs of user and address, one day against 90',
    hunt: 'from all\ndebut src_ip per user in last 1d',
    back: 90 * DAY,
    sql: `SELECT "user", src_ip, min("time") FROM events WHERE ${EVENTS} AND "user" IS NOT NULL AND src_ip IS NOT NULL GROUP BY 1, 2 HAVING min("time") >= $2::timestamptz - interval '1 day'`,
    aim: 1000,
  },
  {
    name: 'failures before a success, 7 days',
    hunt: "from signin\nstreak outcome = 'failure' until outcome = 'success' per user as n\nwhere n > 3",
    back: 7 * DAY,
    sql: `SELECT * FROM (SELECT "user", turn, count(*) FILTER (WHERE outcome = 'failure') AS n FROM (SELECT "user", outcome, count(*) FILTER (WHERE outcome = 'success') OVER (PARTITION BY "user" ORDER BY "time", id ROWS BETWEEN UNBOUNDED PRECEDING AND 1 PRECEDING) AS turn FROM events WHERE ${EVENTS} AND kind = 'signin' AND "user" IS NOT NULL) AS t GROUP BY 1, 2) AS u WHERE n > 3`,
  },
];

/** The middle of several runs, milliseconds. */
async function middleOf(run: () => Promise<void>): Promise<number> {
  const took: number[] = [];
  for (let i = 0; i < TIMES; i++) {
    const start = performance.now();
    await run();
    took.push(performance.now() - start);
  }
  return took.sort((a, b) => a - b)[Math.floor(TIMES / 2)] ?? 0;
}

/** Runs a hunt as the server answers it. @returns milliseconds until the first rows or figures */
async function runHunt(pool: Pool, text: string, from: Instant, to: Instant): Promise<number> {
  const start = performance.now();
  const plan = compileHunt(text, { window: { from, to }, now: to });
  const options: RunOptions = {
    purpose: 'clock',
    milliseconds: 600_000,
    signal: new AbortController().signal,
  };
  const runner = new HuntRunner(onePool(pool));
  let first = 0;
  const answer = await runner.choose(plan, options);
  for await (const piece of runner.answer(answer, ROWS, options))
    if (first === 0 && piece.found !== 'coverage') first = performance.now() - start;
  return first === 0 ? performance.now() - start : first;
}

async function compareOne(pool: Pool, columnar: Columnar, question: Question, to: Instant): Promise<void> {
  const { name, hunt, back, sql, aim } = question;
  const from = to - back;
  const firsts: number[] = [];
  const ours = await middleOf(async () => void firsts.push(await runHunt(pool, hunt, from, to)));
  const first = firsts.sort((a, b) => a - b)[Math.floor(TIMES / 2)] ?? 0;
  const hand = await middleOf(async () => {
    await pool.query(sql, [formatInstant(from), formatInstant(to)]);
  });
  const column = await middleOf(() => columnar.run(question.columnar ?? sql, from, to));
  const { way } = await new HuntRunner(onePool(pool)).choose(
    compileHunt(hunt, { window: { from, to }, now: to }),
    { purpose: 'clock', signal: new AbortController().signal },
  );
  process.stdout.write(
    `${name}: ${Math.round(ours)} ms, first after ${Math.round(first)} ms${aim === undefined ? '' : ` (aim: ${aim} ms)`}; ` +
      `${(ours / hand).toFixed(2)} of the statement by hand (${Math.round(hand)} ms, aim: 1.2), ` +
      `${(ours / column).toFixed(2)} of the columnar reference (${Math.round(column)} ms). By ${way}.\n`,
  );
}

async function main(): Promise<void> {
  if (!holdsCluster(folder)) {
    process.stderr.write(
      'There is no database to ask. Fill one first: npm run bench -- --events 10000000 --keep\n',
    );
    process.exitCode = 1;
    return;
  }
  const cluster = await startCluster({ folder });
  const url = Object.assign(new URL(cluster.url), { pathname: '/lamp' }).toString();
  await migrate(url, 'server/db/migrations');
  const pool = makePool(url);
  // A running server has counted everything a second after it came in.
  await rollForward(pool, new AbortController().signal);
  const { rows } = await pool.query<{ first: Instant; last: Instant; events: number }>(
    'SELECT min(hour) AS first, max(hour) AS last, sum(events)::float8 AS events FROM event_hours',
  );
  const [{ first, last, events } = { first: 0, last: 0, events: 0 }] = rows;
  const to = last + HOUR;
  const { rows: users } = await pool.query<{ user: string }>(
    `SELECT "user" FROM user_days WHERE day >= $1::timestamptz GROUP BY 1 ORDER BY sum(events) DESC OFFSET 5 LIMIT 1`,
    [formatInstant(to - 30 * DAY)],
  );
  process.stdout.write(
    `${events.toLocaleString('en')} events, ${formatInstant(first)} to ${formatInstant(to)}\n`,
  );
  // `--dossiers` leaves the hunts out.
  if (!process.argv.includes('--dossiers')) {
    const columnar = await fillColumnar(pool, folder);
    for (const question of questions(to - first, users[0]?.user ?? ''))
      await compareOne(pool, columnar, question, to);
    columnar.close();
  }
  await benchDossiers(url, to);
  await pool.end();
  cluster.stop();
}

await main();
