import { spawn, spawnSync } from 'node:child_process';

export interface Finished {
  readonly code: number;
  readonly output: string;
}

/** Runs a program to its end and gathers what it says. It inherits nothing from the terminal. */
export function run(
  command: string,
  args: readonly string[],
  options: { env?: NodeJS.ProcessEnv; cwd?: string } = {},
): Finished {
  const done = spawnSync(command, [...args], { encoding: 'utf8', maxBuffer: 64 << 20, ...options });
  return {
    code: done.status ?? 1,
    output: `${done.stdout ?? ''}${done.stderr ?? ''}${done.error?.message ?? ''}`.trim(),
  };
}

/** As {@link run}, while this process goes on. */
export function runBeside(command: string, args: readonly string[]): Promise<Finished> {
  return new Promise((resolve, reject) => {
    const child = spawn(command, [...args], { stdio: ['ignore', 'pipe', 'pipe'] });
    const said: Buffer[] = [];
    for (const stream of [child.stdout, child.stderr]) stream.on('data', (piece: Buffer) => said.push(piece));
    child.on('error', reject);
    child.on('close', (code) =>
      resolve({ code: code ?? 1, output: Buffer.concat(said).toString('utf8').trim() }),
    );
  });
}

/** Runs a program with its output on this terminal. @returns the exit code */
export function runShown(
  command: string,
  args: readonly string[],
  env: NodeJS.ProcessEnv = process.env,
): Promise<number> {
  return new Promise((resolve, reject) => {
    const child = spawn(command, [...args], { stdio: ['ignore', 'inherit', 'inherit'], env });
    child.on('error', reject);
    child.on('close', (code) => resolve(code ?? 1));
  });
}
