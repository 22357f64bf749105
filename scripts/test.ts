import pLimit from 'p-limit';
import { existsSync, mkdirSync, readFileSync, rmSync } from 'node:fs';
import { join, resolve } from 'node:path';
import { buildApart } from './lib/build-apart.js';
import { startCluster, type Cluster } from './lib/cluster.js';
import { installDebian } from './lib/debian.js';
import { PlainFailure } from './lib/plain-failure.js';
import { runBeside, runShown } from './lib/run.js';

// Everything `npm test` does: types, lint, borders, then all tests on a cluster of their own. `npm test -- core/wick`
// runs only the tests whose path holds that.

const folder = resolve('.under-lamp-test');
const report = join(folder, 'jest.json');
const chosen = process.argv.slice(2);

/** Checks of the whole tree that are no test files; each counts as one test. */
const checks: readonly (readonly [string, readonly string[]])[] = [
  // The longest first.
  ['lint', ['eslint', '.', '--max-warnings', '0']],
  ['types of the core', ['tsc', '-p', 'core']],
  ['types of server and tools', ['tsc', '-p', '.']],
  ['types of the pages', ['tsc', '-p', 'web']],
  ['types of the browser tests', ['tsc', '-p', 'e2e']],
  ['dead code', ['knip']],
  ['language reference', ['tsx', 'scripts/reference.ts', '--check']],
  [
    'borders',
    [
      'depcruise',
      '--config',
      '.dependency-cruiser.cjs',
      'core',
      'server',
      'web',
      'cli',
      'stand-ins',
      'demo',
      'scripts',
    ],
  ],
];

/** Two at a time, as there are processors; what a check says is shown once it has ended. */
async function runChecks(): Promise<{ passed: number; failed: number }> {
  const lane = pLimit(2);
  const codes = await Promise.all(
    checks.map(([name, [command = '', ...args]]) =>
      lane(async () => {
        const { code, output } = await runBeside(join('node_modules', '.bin', command), args);
        if (code !== 0) process.stdout.write(`${output}\n`);
        process.stdout.write(`${code === 0 ? 'passed' : 'FAILED'}: ${name}\n`);
        return code;
      }),
    ),
  );
  const failed = codes.filter((code) => code !== 0).length;
  return { passed: codes.length - failed, failed };
}

interface JestReport {
  readonly numPassedTests: number;
  readonly numFailedTests: number;
  /** Files that could not even be run. */
  readonly numRuntimeErrorTestSuites: number;
}

async function runJest(databaseUrl: string): Promise<{ passed: number; failed: number }> {
  rmSync(report, { force: true });
  // Building the pages sets NODE_ENV to production in this process; React's test helpers are only in the other build.
  const env = { ...process.env, NODE_ENV: 'test', UNDER_LAMP_TEST_DATABASE: databaseUrl, TZ: 'UTC' };
  const code = await runShown(
    join('node_modules', '.bin', 'jest'),
    ['--json', `--outputFile=${report}`, '--ci', '--maxWorkers=2', ...chosen],
    env,
  );
  if (!existsSync(report)) return { passed: 0, failed: 1 };
  const found = JSON.parse(readFileSync(report, 'utf8')) as JestReport;
  const failed = found.numFailedTests + found.numRuntimeErrorTestSuites;
  return { passed: found.numPassedTests, failed: failed === 0 && code !== 0 ? 1 : failed };
}

let cluster: Cluster | undefined;
try {
  mkdirSync(folder, { recursive: true });
  if (!existsSync('/usr/bin/chromium') && process.env['CHROMIUM'] === undefined)
    await installDebian(['chromium'], 'Chromium, for the browser tests,');
  for (const [program, name, why] of [
    ['/usr/sbin/rsyslogd', 'rsyslog', 'rsyslog, for the test of what it relays,'],
    ['/usr/sbin/nginx', 'nginx', 'nginx, for the test behind a proxy,'],
  ] as const)
    if (!existsSync(program))
      // Without it the one test that needs it is left out.
      await installDebian([name], why).catch((error: unknown) =>
        process.stdout.write(`${error instanceof Error ? error.message : String(error)}\n`),
      );
  const wholeTree = chosen.length === 0;
  const checked = wholeTree ? await runChecks() : { passed: 0, failed: 0 };
  await buildApart();
  cluster = await startCluster({ folder, disposable: true });
  const tested = await runJest(cluster.url);
  const failed = checked.failed + tested.failed;
  process.stdout.write(`\n${checked.passed + tested.passed} passed, ${failed} failed\n`);
  process.exitCode = failed === 0 ? 0 : 1;
} catch (error) {
  process.stderr.write(
    error instanceof PlainFailure
      ? `${error.message}\n`
      : `${error instanceof Error ? (error.stack ?? error.message) : String(error)}\n`,
  );
  process.stdout.write('\n0 passed, 1 failed\n');
  process.exitCode = 1;
} finally {
  cluster?.stop();
}
