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
    // The child hears Ctrl+C itself and ends in its own time; this process only waits for it.
    const ignore = () => {};
    process.on('SIGINT', ignore);
    process.on('SIGTERM', () => child.kill('SIGTERM'));
    child.on('error', (error) => {
      process.stderr.write(`${command} cannot be run: ${error.message}\n`);
      resolve(1);
    });
    child.on('close', (code) => {
      process.off('SIGINT', ignore);
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
  // `npm ci` refuses locks that leave out other platforms' optional binaries; `npm install` takes them as they are.
  const code = await run('npm', ['install', '--no-audit', '--no-fund', '--loglevel=error']);
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
  run(process.execPath, [join(top, 'node_modules', 'tsx', 'dist', 'cli.mjs'), join(top, file), ...args]);
