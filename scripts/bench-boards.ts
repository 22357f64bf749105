import { resolve } from 'node:path';
import { performance } from 'node:perf_hooks';
import { DAY, formatInstant, type Instant } from '../core/base/instant.js';
import type { Board, Card } from '../core/boards/board.js';
import { addCard } from '../core/boards/layout.js';
import { readyMade } from '../core/boards/ready-made/index.js';
import type { AnswersRequest } from '../core/wire/boards.js';
import { BoardAnswers } from '../server/boards/answers.js';
import { DeskLede } from '../server/boards/lede.js';
import { Boards } from '../server/boards/service.js';
import { migrate } from '../server/db/migrate.js';
import { endPools, makePools } from '../server/db/pools.js';
import { rollForward } from '../server/derived/roll-forward.js';
import { HuntPlanner } from '../server/hunts/planner.js';
import { HuntRunner } from '../server/hunts/runner.js';
import { Sources } from '../server/sources/service.js';
import { holdsCluster, startCluster } from './lib/cluster.js';

// `npm run bench:boards`: a board of twelve cards over the database that `npm run bench -- --keep` filled, beside its
// slowest hunt alone, all in one run; then the same board for fifty who look at it, and the Desk.

const folder = resolve('.under-lamp-bench');
const VIEWERS = 50;

/** Twelve cards such as people look at. */
const hunts: readonly (readonly [string, Card['picture']])[] = [
  ["from signin\nwhere outcome = 'failure'\ntally count() as failed", { kind: 'number' }],
  ["from signin\nwhere outcome = 'failure'\ntally count() as failed, every 1h", { kind: 'line' }],
  [
    "from signin\nwhere outcome = 'failure'\ntally count() as failed per reason\nsort failed desc\nfirst 6",
    { kind: 'bars' },
  ],
  [
    "from signin\nwhere outcome = 'failure'\ntally count() as failed per user\nsort failed desc\nfirst 10",
    { kind: 'ranked' },
  ],
  ['from all\ntally count() as events per source, every 1h', { kind: 'stacked' }],
  ['from all\ntally count() as events per kind, outcome', { kind: 'heat' }],
  ['from web\nwhere finding is not null\ntally count() as attacks per finding', { kind: 'words' }],
  ['from web\nwhere finding is not null\ntally count() as attacks per host, finding', { kind: 'heat' }],
  [
    'from network\nwhere country is not null\ntally count() as flows per country\nsort flows desc\nfirst 10',
    { kind: 'ranked' },
  ],
  ['from network\ntally sum(bytes_out) as bytes per src_ip\nsort bytes desc\nfirst 10', { kind: 'ranked' }],
  [
    'from query\nwhere records is not null\nsort records desc\nfirst 20\nshow time, user, records',
    { kind: 'rows' },
  ],
  ['from process\ntally count() as starts per process\nsort starts\nfirst 20', { kind: 'rows' }],
];
const board: Board = hunts.reduce<Board>(
  (sheet, [hunt, picture], i) =>
    addCard(sheet, { id: `c${i}`, title: `Card ${i}`, hunt, ...(picture && { picture }) }),
  { title: 'Bench', cards: [], layout: [] },
);

interface Asked {
  readonly milliseconds: number;
  readonly first: number;
  readonly failed: number;
}

async function main(): Promise<void> {
  if (!holdsCluster(folder)) throw new Error('Fill the database first: npm run bench -- --keep');
  const cluster = await startCluster({ folder });
  const url = Object.assign(new URL(cluster.url), { pathname: '/lamp' }).toString();
  const pools = makePools(url, () => undefined);
  try {
    await migrate(url, resolve('server/db/migrations'));
    // A running server has counted everything a second after it came in.
    await rollForward(pools.jobs, new AbortController().signal);
    const { rows } = await pools.general.query<{ first: Instant; last: Instant; events: number }>(
      'SELECT min(hour) AS first, max(hour) AS last, sum(events)::float8 AS events FROM event_hours',
    );
    const [held] = rows;
    if (held === undefined) throw new Error('The database is empty.');
    const to = held.last + 3_600_000_000;
    const window = { from: formatInstant(to - 7 * DAY), to: formatInstant(to) };
    process.stdout.write(
      `${held.events.toLocaleString('en')} events, the board over the last 7 days of them\n`,
    );

    /** Everything anew: nothing is kept from before. */
    const make = (now: Instant) => {
      const runner = new HuntRunner(pools);
      const planner = new HuntPlanner(pools.general, () => now);
      const boards = new Boards(pools.general);
      const answers = new BoardAnswers(pools.general, planner, runner, boards, () => now);
      return { runner, planner, answers };
    };
    const ask = async (answers: BoardAnswers, request: AnswersRequest, person = 'one'): Promise<Asked> => {
      const start = performance.now();
      let [first, failed] = [0, 0];
      for await (const piece of answers.answer(request, person, new AbortController().signal)) {
        if (first === 0 && (piece.piece === 'rows' || piece.piece === 'picture'))
          first = performance.now() - start;
        if (piece.piece === 'mistake') failed++;
      }
      return { milliseconds: performance.now() - start, first, failed };
    };
    const request = { board, window, zone: 'UTC' };
    // Warm, as a database is that people use.
    await ask(make(to).answers, request);

    const alone: number[] = [];
    for (const card of board.cards) {
      const one = await ask(make(to).answers, { ...request, cards: [card.id] });
      alone.push(one.milliseconds);
    }
    const slowest = Math.max(...alone);
    const sum = alone.reduce((all, one) => all + one, 0);
    const { answers, runner } = make(to);
    const whole = await ask(answers, request);
    const again = await ask(answers, request);
    const say = (text: string): void => void process.stdout.write(`${text}\n`);
    const ms = (value: number): string => `${Math.round(value)} ms`;
    say(
      `twelve cards: ${ms(whole.milliseconds)}, ${(whole.milliseconds / slowest).toFixed(2)} of the slowest alone (${ms(slowest)}, aim: 1.5), ${(whole.milliseconds / sum).toFixed(2)} of one after another (${ms(sum)}); first picture after ${ms(whole.first)} (aim: 500 ms); ${whole.failed} failed`,
    );
    say(`opened again: ${ms(again.milliseconds)} (aim: 200 ms)`);

    let asked = 0;
    const real = runner.answer.bind(runner);
    runner.answer = (...of) => {
      asked++;
      return real(...of);
    };
    const look = async (more: Partial<AnswersRequest>): Promise<string> => {
      asked = 0;
      const start = performance.now();
      const viewers = await Promise.all(
        Array.from({ length: VIEWERS }, (_, i) => ask(answers, { ...request, ...more }, `viewer ${i}`)),
      );
      const last = Math.max(...viewers.map(({ milliseconds }) => milliseconds));
      return `${asked} hunts were asked of the database (one viewer: ${board.cards.length}), ${ms(performance.now() - start)} for all, the last after ${ms(last)}`;
    };
    const before = process.memoryUsage().rss;
    // A window that goes by the clock is counted anew each minute.
    say(`${VIEWERS} whose pages refresh by themselves: ${await look({ window: { last: '7d' } })}`);
    say(`${VIEWERS} who ask for it afresh at once: ${await look({ fresh: true })}`);
    say(`memory ${Math.round((process.memoryUsage().rss - before) / 1e6)} MB more`);

    const desk = make(to);
    const lede = new DeskLede(
      pools.general,
      desk.planner,
      desk.runner,
      desk.answers,
      new Sources(pools.general, () => to),
      () => to,
    );
    const day = { from: formatInstant(to - DAY), to: window.to };
    const deskStart = performance.now();
    await Promise.all([
      ask(desk.answers, { board: readyMade['desk'] ?? board, window: day, zone: 'UTC' }),
      lede.read({ window: day, zone: 'UTC' }, new AbortController().signal),
    ]);
    say(`the Desk with its lede, over a day: ${ms(performance.now() - deskStart)}`);
  } finally {
    await endPools(pools);
    cluster.stop();
  }
}

await main();
