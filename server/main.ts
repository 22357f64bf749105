import { createServer } from 'node:http';
import { fileURLToPath } from 'node:url';
import { pino } from 'pino';
import { makeApp } from './app.js';
import { ThreadedChecks } from './checks/checks.js';
import { studiesApart } from './tuning/study-threads.js';
import { WorkerStore } from './intake/worker-store.js';
import { RuleSet } from './intake/rule-set.js';
import { RecordStore } from './intake/store-records.js';
import { BoardAnswers } from './boards/answers.js';
import { makeDueSheets } from './boards/make-sheets.js';
import { Boards } from './boards/service.js';
import { Outbox } from './deliver/outbox.js';
import { Responses } from './deliver/responses.js';
import { compactCounts } from './derived/compact-counts.js';
import { forgetMatches } from './rules/forget-matches.js';
import { HuntPlanner } from './hunts/planner.js';
import { HuntRunner } from './hunts/runner.js';
import { runDueHunts } from './rules/run-hunts.js';
import { JobRecord } from './clock/job-record.js';
import { letGo } from './clock/let-go.js';
import { PeriodicJob, type PeriodicWork } from './clock/periodic-job.js';
import { rollForward } from './derived/roll-forward.js';
import { Notices } from './live/notices.js';
import { makeShared } from './parts.js';
import { carryAllOn } from './runbooks/runner.js';
import { Identities } from './subjects/identities.js';
import { Rereader } from './reread/reread.js';
import { leaveRoot } from './leave-root.js';
import { plainError } from './plain-error.js';
import { readSettings, SettingError } from './settings.js';
import { endLeavingSources, LEFT_SECONDS } from './sources/leave.js';
import { keepToRetention } from './sources/retention.js';
import { Sources } from './sources/service.js';
import { forwardDue } from './intake-rules/forward.js';
import { SUM_UP_MET } from './intake-rules/sql.js';
import { endPools, makePools } from './db/pools.js';
import { SyslogListener } from './syslog/listener.js';
import { SyslogQueue } from './syslog/queue.js';
import { forgetSessions } from './people/sql.js';

/** Requests under way may take so long to end when the server is asked to stop. */
const GRACE_MILLISECONDS = 10_000;

async function main(): Promise<void> {
  const settings = readSettings(process.env);
  const logger = pino(
    { level: settings.logLevel, base: null, serializers: { err: plainError } },
    pino.destination({ fd: 2 }),
  );
  const stays = leaveRoot(settings.account);
  if (stays !== null) process.stderr.write(`${stays}\n`);
  const pools = makePools(settings.databaseUrl, (error) =>
    logger.warn({ err: error }, 'an idle database connection broke'),
  );
  const notices = new Notices(settings.databaseUrl, logger);
  await notices.start();
  const now = (): number => Date.now() * 1000;
  const here = new RecordStore(pools.intake, new RuleSet());
  const threads =
    settings.intakeThreads === 0
      ? null
      : new WorkerStore(
          fileURLToPath(new URL('./intake-worker.mjs', import.meta.url)),
          settings.intakeThreads,
          { databaseUrl: settings.databaseUrl, places: settings.placesFiles },
          here,
        );
  const store = threads ?? here;
  let port = settings.port;
  const base = (): string => settings.address ?? `http://127.0.0.1:${port}`;
  const checks = new ThreadedChecks(fileURLToPath(new URL('./checks-worker.mjs', import.meta.url)), {
    databaseUrl: settings.databaseUrl,
    places: settings.placesFiles,
  });
  const studies = studiesApart(fileURLToPath(new URL('./study-worker.mjs', import.meta.url)));
  const shared = makeShared(pools, store, { ...settings, base, checks, studies }, now);
  const outbox = new Outbox(
    { pool: pools.jobs, seal: shared.seal, base, programs: settings.programs },
    logger,
  );
  await outbox.start();
  const { catalogue, puller } = shared;
  const queue = new SyslogQueue(
    catalogue,
    store,
    () => new Sources(pools.intake, now).ensureUnclaimed(),
    logger,
    now,
  );
  const syslog = new SyslogListener(queue, logger);
  const ports = await syslog.start(settings.syslog).catch((error: NodeJS.ErrnoException) => {
    // Everything else works without it, so it is told and left out.
    process.stderr.write(
      `Syslog is not listened for: ${
        error.code === 'EADDRINUSE'
          ? `port ${settings.syslog.port ?? ''} is in use. Choose another with UNDER_LAMP_SYSLOG.`
          : error.message
      }\n`,
    );
    return { port: null, tls: null };
  });
  const app = makeApp({
    pools,
    notices,
    logger,
    settings,
    shared,
    syslog: { host: settings.syslog.host, port: ports.port, tlsPort: ports.tls },
    now,
  });
  const server = createServer(app);
  const rereader = new Rereader(pools.jobs, store, settings.places);
  const record = new JobRecord(pools.jobs, logger);
  const runner = new HuntRunner(pools);
  const runbookParts = {
    pool: pools.jobs,
    planner: new HuntPlanner(pools.jobs, now, new Identities(pools.jobs, now)),
    runner,
    responses: new Responses(pools.jobs),
    now,
  };
  const sheetAnswers = new BoardAnswers(
    pools.jobs,
    runbookParts.planner,
    runner,
    new Boards(pools.jobs),
    now,
  );
  const works: readonly PeriodicWork[] = [
    {
      name: 'roll-forward',
      title: 'Count new events into sightings',
      // Questions are exact meanwhile, only a little dearer.
      pause: 3000,
      run: (stop) => rollForward(pools.jobs, stop),
    },
    {
      name: 'compact-counts',
      title: 'Sum up counts that are settled',
      pause: 900_000,
      run: async (stop) => {
        await compactCounts(pools.jobs, stop);
        await pools.jobs.query(SUM_UP_MET);
      },
    },
    {
      name: 'retention',
      title: 'Let go of events that are kept no longer',
      pause: 3_600_000,
      run: () => keepToRetention(pools.jobs, now()),
    },
    {
      name: 'leaving-sources',
      title: 'Remove what deleted sources left',
      pause: 5000,
      run: (stop) => endLeavingSources(pools.jobs, stop, LEFT_SECONDS),
    },
    {
      name: 'sessions',
      title: 'Forget sessions that have ended',
      pause: 900_000,
      run: () => forgetSessions(pools.jobs),
    },
    {
      name: 'matches',
      title: 'Forget matches that no correlation needs',
      pause: 3_600_000,
      run: () => forgetMatches(pools.jobs, now()),
    },
    {
      name: 'let-go',
      title: 'Let go of what is done with',
      pause: 3_600_000,
      run: async () => void (await letGo(pools.jobs, now())),
    },
    {
      name: 'outbox',
      title: 'Hand over what alerts set off',
      pause: 500,
      run: () => outbox.round(),
    },
    {
      name: 'forwards',
      title: 'Send on what rules of the way in say',
      pause: 1000,
      run: (stop) => forwardDue({ pool: pools.jobs, seal: shared.seal }, stop),
    },
    {
      name: 'responses',
      title: 'End responses whose time is over',
      pause: 5000,
      run: () => new Responses(pools.jobs).endThoseOver(),
    },
    {
      name: 'runbooks',
      title: 'Carry runbooks on',
      pause: 1000,
      run: (stop) => carryAllOn(runbookParts, stop),
    },
    {
      name: 'hunts',
      title: 'Run hunts that are rules',
      pause: 5000,
      run: (stop) => runDueHunts(pools.jobs, runner, now, stop),
    },
    {
      name: 'sheets',
      title: 'Keep what boards show at their times',
      pause: 5000,
      run: (stop) => makeDueSheets({ pool: pools.jobs, answers: sheetAnswers, now }, stop),
    },
    {
      name: 'rereads',
      title: 'Read stored records again',
      pause: 1000,
      run: (stop) => rereader.runAll(stop),
    },
    {
      name: 'pulls',
      title: 'Ask the addresses that are pulled',
      pause: 1000,
      run: (stop) => puller.runDue(stop),
    },
  ];
  const jobs = works.map((work) => new PeriodicJob(work, record, logger));
  server.on('error', (error: NodeJS.ErrnoException) => {
    process.stderr.write(
      error.code === 'EADDRINUSE'
        ? `Port ${settings.port} is in use. Choose another with UNDER_LAMP_PORT.\n`
        : `${error.message}\n`,
    );
    process.exit(1);
  });
  server.listen(settings.port, settings.host, () => {
    const address = server.address();
    port = typeof address === 'object' && address !== null ? address.port : settings.port;
    logger.info({ port }, 'listening');
    process.send?.({ listening: port });
    for (const job of jobs) job.start();
  });

  let stopping = false;
  const stop = (): void => {
    if (stopping) return;
    stopping = true;
    logger.info('stopping');
    const force = setTimeout(() => process.exit(1), GRACE_MILLISECONDS);
    force.unref();
    server.close(() => {
      void syslog
        .stop()
        .then(() => queue.stop())
        .then(() => Promise.allSettled([notices.stop(), ...jobs.map((job) => job.stop())]))
        .then(() => outbox.stop())
        .then(() => threads?.stop())
        .then(() => Promise.all([checks.stop(), studies.stop()]))
        .then(() => endPools(pools))
        .finally(() => process.exit(0));
    });
    // Streams that live as long as a page is open would hold the server up.
    server.closeIdleConnections();
    setTimeout(() => server.closeAllConnections(), GRACE_MILLISECONDS / 4).unref();
  };
  process.on('SIGINT', stop);
  process.on('SIGTERM', stop);
  process.on('disconnect', stop);
}

main().catch((error: unknown) => {
  process.stderr.write(
    error instanceof SettingError
      ? `${error.message}\n`
      : `The server could not start: ${error instanceof Error ? error.message : String(error)}\n`,
  );
  process.exit(1);
});
