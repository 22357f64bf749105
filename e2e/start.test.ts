import { spawn, type ChildProcess } from 'node:child_process';
import { mkdtempSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join, resolve } from 'node:path';
import { freePort, removeCluster } from '../scripts/lib/cluster.js';

const folder = mkdtempSync(join(tmpdir(), 'under-lamp-start-'));
afterAll(() => removeCluster(folder));

interface Started {
  readonly child: ChildProcess;
  output(): string;
  /** Waits for a text in what it prints, or for its end. */
  until(text: string): Promise<void>;
  readonly ended: Promise<number | null>;
}

/** Nothing of it meets a workbench that runs beside the tests. */
async function start(
  port: number,
  args: readonly string[] = [],
  env: Record<string, string> = {},
): Promise<Started> {
  const { DATABASE_URL: _none, ...rest } = process.env;
  const child = spawn(process.execPath, [resolve('scripts/start.mjs'), ...args], {
    env: {
      ...rest,
      UNDER_LAMP_DATA: folder,
      UNDER_LAMP_DEMO_DAYS: '3',
      UNDER_LAMP_PORT: String(port),
      UNDER_LAMP_STAND_INS: String(await freePort()),
      UNDER_LAMP_STAND_INS_SMTP: String(await freePort()),
      UNDER_LAMP_SYSLOG: String(await freePort()),
      ...env,
    },
  });
  let output = '';
  const hear = (piece: Buffer): void => void (output += piece.toString());
  child.stdout.on('data', hear);
  child.stderr.on('data', hear);
  const ended = new Promise<number | null>((done) => child.once('close', done));
  return {
    child,
    output: () => output,
    ended,
    async until(text) {
      const heard = new Promise<void>((done) =>
        child.stdout.on('data', () => output.includes(text) && done()),
      );
      if (!output.includes(text)) await Promise.race([heard, ended]);
      if (!output.includes(text)) throw new Error(`"${text}" was never printed:\n${output}`);
    },
  };
}

const healthz = async (port: number): Promise<unknown> =>
  (await fetch(`http://127.0.0.1:${port}/healthz`)).json();
const session = (port: number): Promise<Response> =>
  fetch(`http://127.0.0.1:${port}/api/v1/session`, {
    method: 'POST',
    headers: { 'Content-Type': 'application/json' },
    body: JSON.stringify({ name: 'ottilie.brandt', password: 'skerry-line' }),
  });
const signIn = async (port: number): Promise<number> => (await session(port)).status;

/** How the list of people was pulled first. */
async function firstPull(port: number): Promise<{ lastRun: string | null; error: string | null }> {
  const signedIn = await session(port);
  expect([signedIn.status, await signedIn.text()]).toEqual([200, expect.any(String)]);
  const cookie = signedIn.headers.get('set-cookie')?.split(';')[0] ?? '';
  for (;;) {
    const answer = await fetch(`http://127.0.0.1:${port}/api/v1/pulls/list/people`, {
      headers: { Cookie: cookie },
    });
    const text = await answer.text();
    if (!answer.ok) throw new Error(`The pull cannot be looked at: ${answer.status} ${text}`);
    const { pull } = JSON.parse(text) as { pull: { lastRun: string | null; error: string | null } };
    if (pull.lastRun !== null) return pull;
  }
}

test('one command brings everything up, keeps its data, and is stopped whole by Ctrl+C', async () => {
  const port = await freePort();
  const first = await start(port);
  await first.until('Ctrl+C stops it');
  expect(first.output()).toContain('Loading the demo data');
  expect(first.output()).toContain(`Under Lamp is at http://127.0.0.1:${port}`);
  expect(first.output()).toContain('Sign in as ottilie.brandt with the password skerry-line');
  expect(await healthz(port)).toEqual({ ready: true });
  expect(await signIn(port)).toBe(200);
  expect(await firstPull(port)).toMatchObject({ error: null });

  const second = await start(port);
  expect(await second.ended).toBe(1);
  expect(second.output()).toContain(`Port ${port} is in use. Choose another with UNDER_LAMP_PORT`);
  expect(second.output()).not.toMatch(/\n\s+at /);

  first.child.kill('SIGINT');
  expect(await first.ended).toBe(0);
  await expect(healthz(port)).rejects.toThrow();

  // Again: nothing is loaded anew, so the demo's stories are the same.
  const again = await start(port);
  await again.until('Ctrl+C stops it');
  expect(again.output()).not.toContain('Loading the demo data');
  expect(await signIn(port)).toBe(200);
  again.child.kill('SIGINT');
  expect(await again.ended).toBe(0);
}, 600_000);

test('settings that make no sense are told in one line', async () => {
  const wrong = await start(99_999);
  expect(await wrong.ended).toBe(1);
  expect(wrong.output().trim().split('\n')).toEqual(['UNDER_LAMP_PORT: "99999" is no port.']);
  const days = await start(await freePort(), [], { UNDER_LAMP_DEMO_DAYS: '400' });
  expect(await days.ended).toBe(1);
  expect(days.output()).toContain('UNDER_LAMP_DEMO_DAYS: "400" is no number of days from 1 to 60.');
  const reset = await start(await freePort(), ['--reset'], { UNDER_LAMP_DATA: tmpdir() });
  expect(await reset.ended).toBe(1);
  expect(reset.output()).toContain('does not look like a data folder of Under Lamp, so it is left alone');
});
