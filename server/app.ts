import connectPgSimple from 'connect-pg-simple';
import expressStaticGzip from 'express-static-gzip';
import express, { type Express } from 'express';
import session from 'express-session';
import helmet from 'helmet';
import { join } from 'node:path';
import type { Logger } from 'pino';
import { pinoHttp } from 'pino-http';
import type { Instant } from '../core/base/instant.js';
import type { IntakeWays } from '../core/wire/sources.js';
import { Failure } from './failure.js';
import { mountRoutes, tellFailures } from './http/mount.js';
import { openApi } from './http/openapi.js';
import type { Route } from './http/route.js';
import { Following } from './live/follow.js';
import type { Notices } from './live/notices.js';
import { JobRecord } from './clock/job-record.js';
import { clockRoutes } from './clock/routes.js';
import { alertRoutes } from './alerts/routes.js';
import { huntRoutes } from './hunts/routes.js';
import { intakeRoutes } from './intake/routes.js';
import { huntPathRoutes } from './paths/routes.js';
import { snapshotRoutes } from './snapshots/routes.js';
import { savedHuntRoutes } from './saved-hunts/routes.js';
import { HuntPaths } from './paths/service.js';
import { Snapshots } from './snapshots/service.js';
import { SavedHunts } from './saved-hunts/service.js';
import { listRoutes } from './lists/routes.js';
import { peopleRoutes } from './people/routes.js';
import { pullRoutes } from './pull/routes.js';
import { recipeRoutes } from './recipes/routes.js';
import { rereadRoutes } from './reread/routes.js';
import { intakeRuleRoutes } from './intake-rules/routes.js';
import { IntakeRules } from './intake-rules/service.js';
import { makeIntakePlaces } from './intake/places.js';
import { otlpRoutes } from './otlp/routes.js';
import { logSourceRoutes } from './rules/log-source-routes.js';
import { replayRoutes, ruleFileRoutes, ruleRoutes } from './rules/routes.js';
import { BoardAnswers } from './boards/answers.js';
import { DeskLede } from './boards/lede.js';
import { boardRoutes } from './boards/routes.js';
import { BoardSheets } from './boards/sheets.js';
import { Boards } from './boards/service.js';
import { caseRoutes } from './cases/routes.js';
import { deliveryRoutes } from './deliver/routes.js';
import { ResponseBook } from './deliver/response-book.js';
import { ResponseHistory } from './deliver/response-history.js';
import { CaseDesk } from './cases/desk.js';
import { CaseFiles } from './cases/files.js';
import { CaseJoins } from './cases/joins.js';
import { CasePins } from './cases/pins.js';
import { Freezer } from './cases/freeze.js';
import { CaseReports } from './cases/reports.js';
import { Cases } from './cases/service.js';
import { Destinations } from './deliver/destinations.js';
import { RaiseByHand } from './alerts/raise.js';
import { Responses } from './deliver/responses.js';
import { LogSources } from './rules/log-sources.js';
import { Replays } from './rules/replays.js';
import { RuleFiles } from './rules/files.js';
import { RuleHistory } from './rules/history.js';
import { runbookRoutes } from './runbooks/routes.js';
import { Runs } from './runbooks/runs.js';
import { Runbooks } from './runbooks/service.js';
import { setAsideRoutes } from './set-aside/routes.js';
import { sourceRoutes } from './sources/routes.js';
import { Alerts } from './alerts/service.js';
import { Dossiers } from './subjects/dossier.js';
import { Finder } from './subjects/find.js';
import { Identities } from './subjects/identities.js';
import { subjectRoutes } from './subjects/routes.js';
import { EventReader } from './hunts/event-reader.js';
import { HuntPlanner } from './hunts/planner.js';
import { HuntRunner } from './hunts/runner.js';
import { Hunts } from './hunts/service.js';
import { People } from './people/service.js';
import { Pulls } from './pull/service.js';
import { RecipeTry } from './recipes/try.js';
import { readOtherwise } from './intake/read-otherwise.js';
import { Recipes } from './recipes/service.js';
import { Rereads } from './reread/service.js';
import { Rules } from './rules/service.js';
import { SetAside } from './set-aside/service.js';
import { Sources } from './sources/service.js';
import { tuningRoutes } from './tuning/routes.js';
import { ExpiringExclusions } from './tuning/expiring.js';
import { KeepCuts } from './tuning/keep.js';
import { Tuning } from './tuning/service.js';
import type { SharedParts } from './parts.js';
import type { Settings } from './settings.js';
import type { Pools } from './db/pools.js';

export interface AppParts {
  readonly pools: Pools;
  readonly notices: Notices;
  readonly logger: Logger;
  readonly settings: Pick<Settings, 'sessionSecret' | 'secureCookies' | 'webFolder'> & {
    readonly address?: string | null;
  };
  /** Where syslog is listened for. */
  readonly syslog: IntakeWays['syslog'];
  readonly now: () => Instant;
  readonly shared: SharedParts;
  /** Holds every answer against its schema; for tests. */
  readonly checkAnswers?: boolean;
}

/** The cookie ends with the browser's day; the session itself ends after a day whatever happens. */
const SESSION_MILLISECONDS = 24 * 3_600_000;

/** All routes of the API, wired to the services behind them. */
export function apiRoutes(
  { pools, notices, syslog, now, logger, shared }: Omit<AppParts, 'settings' | 'checkAnswers'>,
  people: People,
): Route[] {
  const { general: pool } = pools;
  const runner = new HuntRunner(pools);
  const identities = new Identities(pool, now);
  const planner = new HuntPlanner(pool, now, identities);
  const hunts = new Hunts(pool, planner, runner);
  const events = new EventReader(pools.hunts);
  const rules = new Rules(pool, shared.checks);
  const alerts = new Alerts(pool, events, rules.reading);
  const responses = new Responses(pool, new ResponseBook(pool, (hunt) => planner.listsFor(hunt)));
  const runbooks = new Runbooks(pool, planner, responses.book);
  const runs = new Runs(pool, runbooks, alerts, { planner, runner, now, responses });
  const sources = new Sources(pool, now);
  const boards: Boards = new Boards(pool, (id) => answers.answeredAt(id), now);
  const answers: BoardAnswers = new BoardAnswers(pool, planner, runner, boards, now);
  const intakePlaces = makeIntakePlaces();
  const { catalogue, store, lists, seal, puller, places, base, checks, studies: threads } = shared;
  const replays = new Replays(pool, runner, rules.reading, now, checks);
  const snapshots = new Snapshots(pool, hunts, now);
  const tuning = new Tuning({ pool, runner, rules, replays, sources, lists, threads, now });
  const caseDesk = new CaseDesk(pool);
  const casePins = new CasePins(caseDesk, new Freezer(pool, events, alerts, snapshots));
  const cases = new Cases(caseDesk, casePins, alerts);
  return [
    ...peopleRoutes(people, pool),
    ...clockRoutes(new JobRecord(pool, logger)),
    ...intakeRoutes(
      catalogue,
      store,
      (source, way) => readOtherwise(pools.intake, source, way, places),
      syslog,
      now,
      intakePlaces,
    ),
    ...otlpRoutes(catalogue, store, now, intakePlaces),
    ...setAsideRoutes(new SetAside(pool, catalogue, store)),
    ...recipeRoutes(new Recipes(pool), new RecipeTry(pool, now, places), checks),
    ...sourceRoutes(sources),
    ...intakeRuleRoutes(new IntakeRules(pool, catalogue)),
    ...huntRoutes(hunts, events, new Following(pool, notices, logger)),
    ...savedHuntRoutes(new SavedHunts(pool)),
    ...huntPathRoutes(new HuntPaths(pool), hunts),
    ...boardRoutes(
      boards,
      new BoardSheets(pool, boards),
      answers,
      new DeskLede(pool, planner, runner, answers, sources, now),
    ),
    ...snapshotRoutes(snapshots),
    // Fixed names before those that may be any id.
    ...ruleFileRoutes(new RuleFiles(pool, checks)),
    ...ruleRoutes(rules),
    ...replayRoutes(replays, new RuleHistory(pool)),
    ...tuningRoutes(
      tuning,
      new KeepCuts({ pool, rules, lists }, tuning),
      new ExpiringExclusions(pool, lists, now),
    ),
    ...logSourceRoutes(new LogSources(pool, rules.reading)),
    ...alertRoutes(
      alerts,
      new RaiseByHand(pool, alerts, planner, runner, now),
      responses,
      new ResponseHistory(planner, runner, alerts, responses, now),
      notices,
    ),
    ...subjectRoutes(
      new Dossiers(pool, planner, runner, identities, boards, alerts),
      identities,
      new Finder(pool, identities),
    ),
    ...deliveryRoutes(new Destinations(pool, seal, rules.reading, base), responses, runs.startFromRoom),
    ...runbookRoutes(runbooks, runs),
    ...caseRoutes({
      cases,
      pins: casePins,
      joins: new CaseJoins(caseDesk),
      files: new CaseFiles(caseDesk, casePins),
      reports: new CaseReports(pool, cases, now),
    }),
    ...listRoutes(lists),
    ...rereadRoutes(new Rereads(pool)),
    ...pullRoutes(new Pulls(pool, puller, seal)),
  ];
}

/** The whole application: API, sessions and the built pages. */
export function makeApp(parts: AppParts): Express {
  const { pools, logger, settings } = parts;
  const app = express();
  app.disable('x-powered-by');
  if (settings.secureCookies) {
    app.set('trust proxy', 1);
    // Everything comes through a proxy that speaks HTTPS; many do not say so by themselves, and without it no cookie is set.
    app.use((request, _response, next) => {
      request.headers['x-forwarded-proto'] ??= 'https';
      next();
    });
  }
  app.use(
    helmet({
      contentSecurityPolicy: {
        useDefaults: false,
        directives: {
          defaultSrc: ["'self'"],
          scriptSrc: ["'self'"],
          // The editor and the tables set styles from script, which counts as inline; scripts never may.
          styleSrc: ["'self'", "'unsafe-inline'"],
          imgSrc: ["'self'", 'data:'],
          fontSrc: ["'self'"],
          connectSrc: ["'self'"],
          objectSrc: ["'none'"],
          baseUri: ["'self'"],
          formAction: ["'self'"],
          frameAncestors: ["'none'"],
        },
      },
      strictTransportSecurity: settings.secureCookies,
    }),
  );
  app.get('/healthz', async (_request, response) => {
    try {
      await pools.health.query('SELECT 1');
      response.json({ ready: true });
    } catch {
      response.status(503).json({ ready: false });
    }
  });
  app.use(
    pinoHttp({
      logger,
      autoLogging: { ignore: (request) => !request.url?.startsWith('/api/') },
      redact: ['req.headers.authorization', 'req.headers.cookie', 'res.headers["set-cookie"]'],
    }),
  );

  const people = new People(pools.health, logger);
  const routes = apiRoutes(parts, people);
  const PgStore = connectPgSimple(session);
  const api = express.Router();
  // Answers are of the person who asks, and of the moment.
  api.use((_request, response, next) => {
    response.set('Cache-Control', 'no-store');
    next();
  });
  api.use(
    session({
      name: 'lamp.sid',
      secret: settings.sessionSecret,
      store: new PgStore({ pool: pools.health, tableName: 'sessions', pruneSessionInterval: false }),
      resave: false,
      saveUninitialized: false,
      cookie: {
        httpOnly: true,
        sameSite: 'strict',
        secure: settings.secureCookies,
        maxAge: SESSION_MILLISECONDS,
      },
    }),
  );
  mountRoutes(api, routes, people.identify, {
    checkAnswers: parts.checkAnswers ?? false,
    address: settings.address ?? null,
  });
  const description = openApi(routes);
  api.get('/openapi.json', (_request, response) => void response.json(description));
  api.use((request, _response, next) =>
    next(
      new Failure(
        'not-found',
        `There is no ${request.method} ${request.originalUrl.split('?')[0]}. See /api/v1/openapi.json.`,
      ),
    ),
  );
  app.use('/api/v1', api);

  if (settings.webFolder !== null) {
    const folder = settings.webFolder;
    app.use(
      '/assets',
      // Compressed copies stand beside the files.
      expressStaticGzip(join(folder, 'assets'), {
        enableBrotli: true,
        orderPreference: ['br', 'gz'],
        serveStatic: { immutable: true, maxAge: '365d', fallthrough: false },
      }),
    );
    app.use(express.static(folder, { index: false }));
    // Every other address is a place within the application.
    app.get('/{*place}', (_request, response) =>
      response.sendFile(join(folder, 'index.html'), { headers: { 'Cache-Control': 'no-cache' } }),
    );
  }
  app.use(tellFailures(logger));
  return app;
}
