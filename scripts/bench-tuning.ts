import { resolve } from 'node:path';
import { pathToFileURL } from 'node:url';
import { Worker } from 'node:worker_threads';
import { eventOfPlanted, PLANTED_CAUSES, plantNoise } from '../core/tuning/planted.js';
import type { RuleStudy, StudyTask } from '../core/tuning/study-work.js';
import { buildApart } from './lib/build-apart.js';

// `npm run bench:tuning`: the search for cuts over 50,000 matches in a thread of its own, beside JSON.parse of the same
// records; with --server URL also ranking, study and proof of a running demo. All in one run.

const MATCHES = 50_000;
const OTHERS = 4000;
const DAY = 86_400_000;

const seconds = (from: number): number => (performance.now() - from) / 1000;
const say = (line: string): void => void process.stdout.write(`${line}\n`);

function task(): {
  readonly task: StudyTask;
  readonly lines: readonly string[];
  readonly causes: readonly (number | null)[];
} {
  const planted = plantNoise(1, MATCHES * 3);
  const matched = planted.filter(({ matches }) => matches).slice(0, MATCHES);
  const others = planted.filter(({ matches }) => !matches).slice(0, OTHERS);
  return {
    lines: matched.map(({ fields }) => JSON.stringify(fields)),
    causes: matched.map(({ cause }) => cause),
    task: {
      events: matched.map(eventOfPlanted),
      judged: matched.map(({ judged }) => judged),
      times: matched.map(({ time }) => time),
      subjects: matched.map(({ fields }) => (typeof fields['user'] === 'string' ? fields['user'] : '')),
      others: others.map(eventOfPlanted),
      othersFactor: 20,
      asked: ['action', 'result'],
      settings: { onMatch: 'alert', quiet: 0, quietPer: 'subject' },
      level: 'medium',
      window: { from: matched[0]?.time ?? 0, to: matched.at(-1)?.time ?? 0 },
    },
  };
}

/** Runs the search in a thread. @returns seconds in the thread, and what it found */
function inThread(
  file: string,
  asked: StudyTask,
): Promise<{ readonly took: number; readonly found: RuleStudy }> {
  const code = `import(${JSON.stringify(file)}).then(async ({ default: study }) => {
    const { parentPort } = await import('node:worker_threads');
    parentPort.on('message', (task) => {
      const from = performance.now();
      const found = study(task);
      parentPort.postMessage({ took: (performance.now() - from) / 1000, found });
    });
    parentPort.postMessage('ready');
  });`;
  const worker = new Worker(code, { eval: true });
  return new Promise((done, failed) => {
    worker.on('error', failed);
    worker.on('message', (message: 'ready' | { took: number; found: RuleStudy }) => {
      if (message === 'ready') return worker.postMessage(asked);
      void worker.terminate();
      done(message);
    });
  });
}

async function overServer(server: string): Promise<void> {
  const signIn = await fetch(`${server}/api/v1/session`, {
    method: 'POST',
    headers: { 'Content-Type': 'application/json' },
    body: JSON.stringify({ name: 'ottilie.brandt', password: 'skerry-line' }),
  });
  const cookie = signIn.headers
    .getSetCookie()
    .map((one) => one.split(';')[0])
    .join('; ');
  const to = Math.ceil(Date.now() / 3_600_000) * 3_600_000;
  const iso = (at: number): string => new Date(at).toISOString();
  let from = performance.now();
  const answer = await fetch(`${server}/api/v1/tuning?from=${iso(to - 7 * DAY)}&to=${iso(to)}`, {
    headers: { cookie },
  });
  const { rules } = (await answer.json()) as {
    rules: readonly { id: string; title: string; kind: string; alerts: number }[];
  };
  say(`ranking of ${rules.length} rules: ${seconds(from).toFixed(2)} s (aim 1)`);
  const window = { from: iso(to - 30 * DAY), to: iso(to) };
  const last = async (path: string, body: object): Promise<Record<string, unknown>> => {
    const response = await fetch(`${server}/api/v1/tuning/${path}`, {
      method: 'POST',
      headers: { cookie, 'Content-Type': 'application/json' },
      body: JSON.stringify(body),
    });
    return JSON.parse((await response.text()).trim().split('\n').at(-1) ?? '{}') as Record<string, unknown>;
  };
  let all = 0;
  for (const { id, title } of rules
    .filter(({ kind, alerts }) => kind === 'alerts' && alerts > 3)
    .slice(0, 12)) {
    from = performance.now();
    const study = await last(`${id}/study`, { window });
    const studied = seconds(from);
    const proposals = (study['proposals'] ?? []) as readonly { all: unknown }[];
    from = performance.now();
    if (proposals.length > 0)
      await last(`${id}/proof`, {
        window,
        cuts: proposals.slice(0, 5).map(({ all: one }) => ({ all: one })),
      });
    const proved = seconds(from);
    all = Math.max(all, proved);
    say(
      `  ${title}: ${String(study['matches'])} matches, study ${studied.toFixed(1)} s, proof of ${Math.min(5, proposals.length)} cuts ${proved.toFixed(1)} s`,
    );
  }
  say(`slowest proof: ${all.toFixed(1)} s (aim 20)`);
}

const { task: asked, lines, causes } = task();
let from = performance.now();
for (const line of lines) JSON.parse(line);
const baseline = seconds(from);
const before = process.memoryUsage().rss;
await buildApart();
const file = pathToFileURL(resolve('dist/study-worker.mjs')).href;
from = performance.now();
const { took, found } = await inThread(file, asked);
const whole = seconds(from);
const gone = new Set(found.proposals.flatMap(({ places }) => places));
const caught = Array.from({ length: PLANTED_CAUSES }, (_, cause) => {
  const own = causes.flatMap((one, i) => (one === cause ? [i] : []));
  return own.filter((i) => gone.has(i)).length >= own.length * 0.9;
}).filter(Boolean).length;
say(
  `${lines.length.toLocaleString('en')} matches: search ${took.toFixed(2)} s in its thread (aim 2), ${whole.toFixed(2)} s with handing over`,
);
say(`${(took / baseline).toFixed(1)} times JSON.parse of the same records (${baseline.toFixed(3)} s)`);
say(
  `${caught} of ${PLANTED_CAUSES} planted causes found; real lost: ${found.proposals.reduce((sum, { realLost }) => sum + realLost, 0)}`,
);
say(`memory grew by ${Math.round((process.memoryUsage().rss - before) / 1e6)} MB`);
const at = process.argv.indexOf('--server');
if (at > 0) await overServer(process.argv[at + 1] ?? 'http://127.0.0.1:7380');
