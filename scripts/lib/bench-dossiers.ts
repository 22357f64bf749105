import { performance } from 'node:perf_hooks';
import { DAY, formatInstant, type Instant } from '../../core/base/instant.js';
import type { SubjectKind } from '../../core/subjects/kinds.js';
import { Alerts } from '../../server/alerts/service.js';
import { BoardAnswers } from '../../server/boards/answers.js';
import { Boards } from '../../server/boards/service.js';
import { endPools, makePools } from '../../server/db/pools.js';
import { EventReader } from '../../server/hunts/event-reader.js';
import { HuntPlanner } from '../../server/hunts/planner.js';
import { HuntRunner } from '../../server/hunts/runner.js';
import { Rules } from '../../server/rules/service.js';
import { checksHere } from '../../server/checks/check-here.js';
import { Dossiers } from '../../server/subjects/dossier.js';
import { Finder } from '../../server/subjects/find.js';
import { Identities } from '../../server/subjects/identities.js';

const TIMES = 3;
const PERSON = 'bench';

/**
 * Times the dossiers of the busiest user and address over 30 days, and finding anything, over a filled database.
 * @param to where its events end
 */
export async function benchDossiers(url: string, to: Instant): Promise<void> {
  const pools = makePools(url, () => undefined);
  const pool = pools.general;
  try {
    const busiest = async (column: string): Promise<string> =>
      (
        await pool.query<{ name: string }>(
          `SELECT ${column} AS name FROM events WHERE "time" >= $1 AND ${column} IS NOT NULL GROUP BY 1 ORDER BY count(*) DESC LIMIT 1`,
          [formatInstant(to - 30 * DAY)],
        )
      ).rows[0]?.name ?? '';
    const subjects: [SubjectKind, string][] = [
      ['user', await busiest('"user"')],
      ['address', (await busiest('src_ip')).replace(/\/\d+$/, '')],
    ];
    const window = { from: to - 30 * DAY, to };
    for (const [kind, name] of subjects) {
      const times: { first: number; head: number; all: number }[] = [];
      for (let i = 0; i < TIMES; i++) times.push(await openDossier(pools, kind, name, window));
      const middle = (of: (one: (typeof times)[number]) => number): number =>
        Math.round(times.map(of).sort((a, b) => a - b)[Math.floor(TIMES / 2)] ?? 0);
      process.stdout.write(
        `dossier of the busiest ${kind} over 30 days: first block ${middle(({ first }) => first)} ms (aim: 300 ms), its head ${middle(({ head }) => head)} ms, complete ${middle(({ all }) => all)} ms (aim: 2000 ms)\n`,
      );
    }
    const finder = new Finder(pool, new Identities(pool, () => to));
    const { rows: known } = await pool.query<{ subjects: number }>(
      'SELECT count(*)::int AS subjects FROM subjects',
    );
    for (const word of [
      'a',
      'teo',
      'teo.marrash',
      '198.18.40.77',
      'u-1002',
      'quay',
      'T1110',
      'nothing of that name',
    ]) {
      const times: number[] = [];
      for (let i = 0; i < TIMES; i++) {
        const start = performance.now();
        await finder.find(word, 20, PERSON);
        times.push(performance.now() - start);
      }
      process.stdout.write(
        `finding "${word}" among ${(known[0]?.subjects ?? 0).toLocaleString('en')} subjects: ${Math.round(times.sort((a, b) => a - b)[Math.floor(TIMES / 2)] ?? 0)} ms (aim: 100 ms)\n`,
      );
    }
  } finally {
    await endPools(pools);
  }
}

/** Opens a dossier as the page does, nothing kept from before: its head, its lanes and its board at once. */
async function openDossier(
  pools: ReturnType<typeof makePools>,
  kind: SubjectKind,
  name: string,
  window: { readonly from: Instant; readonly to: Instant },
): Promise<{ first: number; head: number; all: number }> {
  const pool = pools.general;
  const now = (): Instant => window.to;
  const identities = new Identities(pool, now);
  const planner = new HuntPlanner(pool, now, identities);
  const runner = new HuntRunner(pools);
  const boards = new Boards(pool);
  const answers = new BoardAnswers(pool, planner, runner, boards, now);
  const alerts = new Alerts(
    pool,
    new EventReader(pools.hunts),
    new Rules(pool, checksHere(pool, now, null)).reading,
  );
  const dossiers = new Dossiers(pool, planner, runner, identities, boards, alerts);
  const signal = new AbortController().signal;
  const start = performance.now();
  let first = 0;
  const head = dossiers
    .read(kind, name, { window, zone: 'UTC', carried: [] }, PERSON, signal)
    .then(() => performance.now() - start);
  const over = { from: formatInstant(window.from), to: formatInstant(window.to) };
  for await (const piece of answers.answer(
    { board: `dossier-${kind}`, window: over, zone: 'UTC', inputs: { subject: name } },
    PERSON,
    signal,
  ))
    if (first === 0 && piece.piece === 'rows') first = performance.now() - start;
  return { first, head: await head, all: performance.now() - start };
}
