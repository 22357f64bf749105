import { createHash } from 'node:crypto';
import type { Pool, PoolClient } from 'pg';
import { DAY, formatInstant, type Instant } from '../../core/base/instant.js';
import { type HuntMatch, judgeHunt, windowOf } from '../../core/rules/hunt-trigger.js';
import { planOfHunt } from '../../core/rules/read-hunt.js';
import { loadPack } from '../../core/sigma/pack.js';
import type { HuntRule } from '../../core/sigma/rule-model.js';
import { SigmaError } from '../../core/sigma/sigma-error.js';
import { transaction } from '../db/transaction.js';
import { Failure } from '../failure.js';
import type { HuntRunner } from '../hunts/runner.js';
import { Gathering } from '../intake/detect.js';
import { tellAlerts } from '../live/tell.js';
import { addHuntRun, type DueHunt, freshRows, scheduleHunts, takeDueHunt } from './hunt-runs-sql.js';
import { huntLists } from './reading.js';
import { nextDue } from './schedule.js';
import { runningHunts } from './sql.js';

/** Runs that were missed for longer are not made up for. */
const MADE_UP_FOR = DAY;

/** Rows of a hunt that is a rule; a trigger that needs more measures no less by these. */
export const MAX_ROWS = 10_000;

interface Scheduled {
  readonly rule: string;
  readonly document: number;
  readonly version: number;
  readonly hunt: HuntRule;
}

/** Hunts that are on and run by the clock. */
async function scheduled(pool: Pool): Promise<Scheduled[]> {
  const running = await runningHunts(pool);
  const { hunts } = loadPack(running.map(({ id: name, text }) => ({ name, text })));
  return hunts.flatMap(({ hunt, origin }) => {
    const home = running[origin.file];
    return home === undefined || hunt.runs.how === 'live'
      ? []
      : [{ rule: home.id, document: origin.document, version: home.version, hunt }];
  });
}

/** Runs every hunt that is due, one after another. @returns how many ran */
export async function runDueHunts(
  pool: Pool,
  runner: HuntRunner,
  now: () => Instant,
  stop: AbortSignal,
): Promise<number> {
  const hunts = await scheduled(pool);
  const known = (due: Pick<DueHunt, 'rule' | 'document'>): Scheduled | undefined =>
    hunts.find(({ rule, document }) => rule === due.rule && document === due.document);
  await scheduleHunts(
    pool,
    hunts.map(({ rule, document, hunt }) => ({
      rule,
      document,
      due: formatInstant(nextDue(hunt.runs, now()) ?? now()),
    })),
  );
  for (let ran = 0; ; ran++) {
    if (stop.aborted) return ran;
    const went = await transaction(pool, async (client) => {
      const due = await takeDueHunt(client, formatInstant(now()));
      const hunt = due === undefined ? undefined : known(due);
      if (due === undefined || hunt === undefined) return false;
      await runHunt(client, { pool, runner }, hunt, due, now(), stop);
      return true;
    });
    if (!went) return ran;
  }
}

/** Runs a hunt, writes down what it told, and when it is due next: all in the transaction that took it. */
async function runHunt(
  client: PoolClient,
  { pool, runner }: { readonly pool: Pool; readonly runner: HuntRunner },
  { rule, document, version, hunt }: Scheduled,
  { due, last }: DueHunt,
  now: Instant,
  stop: AbortSignal,
): Promise<void> {
  const started = performance.now();
  let measured: number | null = null;
  let told: readonly HuntMatch[] = [];
  let failure: string | null = null;
  try {
    const { lists } = await huntLists(pool, hunt.hunt);
    const plan = planOfHunt(hunt, lists, due);
    const found = await runner.table(plan, MAX_ROWS, { purpose: 'clock', signal: stop });
    const outcome = judgeHunt(hunt, found, windowOf(hunt, due), last);
    measured = outcome.measured;
    told = await notToldYet(client, { rule, document, hunt }, outcome.matches, due);
  } catch (error) {
    // A stop leaves it due, so that the next server runs it.
    if (stop.aborted || !(error instanceof Failure || error instanceof SigmaError)) throw error;
    failure = error.message;
  }
  const gathering = new Gathering();
  for (const { subject, events, time } of told)
    gathering.add({ id: rule, document, version }, hunt, subject, time, events);
  const alerts = await gathering.write(client);
  await tellAlerts(client, alerts);
  await addHuntRun(client, {
    rule,
    document,
    version,
    due: formatInstant(due),
    milliseconds: Math.round(performance.now() - started),
    measured,
    told: told.length,
    failure,
    next: formatInstant(nextDue(hunt.runs, Math.max(due, now - MADE_UP_FOR)) ?? now),
  });
}

/** Rows that an earlier, overlapping window told are left out. */
async function notToldYet(
  client: PoolClient,
  { rule, document, hunt }: Pick<Scheduled, 'rule' | 'document' | 'hunt'>,
  matches: readonly HuntMatch[],
  due: Instant,
): Promise<readonly HuntMatch[]> {
  const hashed = matches.map((match) => ({
    match,
    row:
      match.identity === null
        ? null
        : {
            hash: createHash('sha256').update(match.identity.text).digest(),
            passes: match.identity.passes,
          },
  }));
  const fresh = await freshRows(client, {
    rule,
    document,
    rows: hashed.flatMap(({ row }) => (row === null ? [] : [row])),
    due: formatInstant(due),
    passed: formatInstant(due - hunt.over),
    forgotten: formatInstant(due - hunt.over - hunt.lateness - DAY),
  });
  return hashed.flatMap(({ match, row }) =>
    row === null || fresh.has(row.hash.toString('hex')) ? [match] : [],
  );
}
