// Installs packages where they are missing or older than the lock file, then runs TypeScript through tsx.
import { spawn } from 'node:child_process';
import { createHash } from 'node:crypto';
import { existsSync, readFileSync, writeFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';

const top = join(dirname(fileURLToPath(import.meta.url)), '..', '..');
const stamp = join(top, 'node_modules', '.installed-from');

function run(command, args) {
  return new Promise((resolve) => {
    const child = spawn(command, args, { cwd: top, stdio: 'inherit' });
    // The child ends in its own time and this process waits for it. From a terminal it hears Ctrl+C itself, from a
    // supervisor only through this process; hearing it twice does no harm.
    const signals = ['SIGINT', 'SIGTERM', 'SIGHUP'];
    const pass = (signal) => child.kill(signal);
    for (const signal of signals) process.on(signal, pass);
    child.on('error', (error) => {
      process.stderr.write(`${command} cannot be run: ${error.message}\n`);
      resolve(1);
    });
    child.on('close', (code) => {
      for (const signal of signals) process.off(signal, pass);
      resolve(code ?? 1);
    });
  });
}

/** Makes node_modules agree with the lock file; ends the program with a clear line where that fails. */
export async function prepare() {
  const [major, minor] = process.versions.node.split('.').map(Number);
  if (major < 20 || (major === 20 && minor < 19)) {
    process.stderr.write(`Node.js 20.19 or newer is needed; this is ${process.versions.node}.\n`);
    process.exit(1);
  }
  const lock = createHash('sha256')
    .update(readFileSync(join(top, 'package-lock.json')))
    .digest('hex');
  if (existsSync(stamp) && readFileSync(stamp, 'utf8') === lock) return;
  process.stdout.write('Installing packages…\n');
  // Building needs what only developers have, whatever NODE_ENV says. `npm ci` refuses locks that leave out other platforms' optional binaries; `npm install` takes them as they are.
  const code = await run('npm', ['install', '--include=dev', '--no-audit', '--no-fund', '--loglevel=error']);
  if (code !== 0) {
    process.stderr.write(
      'The packages could not be installed; see above. Is the package registry reachable, and is there room on the disk?\n',
    );
    process.exit(1);
  }
  writeFileSync(
    stamp,
    createHash('sha256')
      .update(readFileSync(join(top, 'package-lock.json')))
      .digest('hex'),
  );
}

/** Runs a TypeScript file to its end. */
export const runTypeScript = (file, args) =>
  run(process.execPath, ['--import', 'tsx', join(top, file), ...args]);
