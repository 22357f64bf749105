import { execFile } from 'node:child_process';
import { readdirSync } from 'node:fs';
import { join } from 'node:path';
import { promisify } from 'node:util';
import { pino } from 'pino';
import { DAY } from '../../core/base/instant.js';
import { parseRules } from '../../core/sigma/parse-rules.js';
import { compileHunt } from '../../core/wick/compile.js';
import type { AnyEndpoint } from '../../core/wire/endpoint.js';
import { huntExample, ruleExample } from '../../core/wire/examples.js';
import { apiRoutes } from '../app.js';
import { onePool } from '../db/pools.js';
import { RuleSet } from '../intake/rule-set.js';
import { RecordStore } from '../intake/store-records.js';
import type { Notices } from '../live/notices.js';
import { makeShared } from '../parts.js';
import { People } from '../people/service.js';
import type { Route } from './route.js';
import { mistakeIn } from './validate.js';

const root = join(__dirname, '..', '..');
const folder = join(root, 'core', 'wire', 'endpoints');

const isEndpoint = (value: unknown): value is AnyEndpoint =>
  typeof value === 'object' && value !== null && 'method' in value && 'path' in value && 'access' in value;
const nameOf = ({ method, path }: Pick<AnyEndpoint, 'method' | 'path'>): string => `${method} ${path}`;

const files = readdirSync(folder).filter((name) => name.endsWith('.ts'));
const endpoints = files.flatMap((name) =>
  // eslint-disable-next-line @typescript-eslint/no-require-imports
  Object.values(require(join(folder, name)) as Record<string, unknown>).filter(isEndpoint),
);

/** What is served; nothing is called, so nothing needs to be there. */
function served(): Route[] {
  const pools = onePool({} as never);
  const store = new RecordStore({} as never, new RuleSet());
  return apiRoutes(
    {
      pools,
      notices: { subscribe: () => () => undefined } as unknown as Notices,
      logger: pino({ level: 'silent' }),
      syslog: { host: '', port: null, tlsPort: null },
      shared: makeShared(pools, store, { sessionSecret: 'x', places: null }, () => 0),
      now: () => 0,
    },
    new People({} as never),
  );
}

it('every endpoint is served, and nothing is served that is none', () => {
  const names = endpoints.map(nameOf).sort();
  expect(new Set(names).size).toBe(names.length);
  expect(served().map(nameOf).sort()).toEqual(names);
});

it.each(
  endpoints.filter(({ body, rawBody }) => body !== undefined && !rawBody).map((one) => [nameOf(one), one]),
)('%s has an example that its own schema takes', (_, { body, example }) => {
  expect(example).toBeDefined();
  expect(mistakeIn(body ?? false, structuredClone(example), 'example')).toBeNull();
});

it('the hunt of the examples can be run, and their rule has no mistake', () => {
  const window = { from: 0, to: DAY };
  expect(compileHunt(huntExample, { window, now: DAY }).steps).toHaveLength(3);
  expect(parseRules(ruleExample)).toHaveLength(1);
});

it('an endpoint says in which form it answers', () => {
  const silent = endpoints.filter(({ answer, gives }) => answer === undefined && gives === undefined);
  expect(silent.map(nameOf)).toEqual([]);
  const unsaid = endpoints.filter(({ piece, gives = [] }) => piece !== undefined && gives.length === 0);
  expect(unsaid.map(nameOf)).toEqual([]);
});

it('the description of the API passes three validators', async () => {
  const tsx = join(root, 'node_modules', 'tsx', 'dist', 'cli.mjs');
  const { stdout } = await promisify(execFile)(process.execPath, [tsx, 'scripts/check-api.ts'], {
    cwd: root,
  }).catch((error: unknown) => error as { stdout: string });
  expect(stdout.trim().split('\n')).toEqual(
    ['openapi-schema-validator', 'openapi-parser', 'swagger-parser'].map(
      (name) => `${name}: right, ${endpoints.length} endpoints`,
    ),
  );
});
