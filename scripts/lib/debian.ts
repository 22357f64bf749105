import { existsSync } from 'node:fs';
import { PlainFailure } from './plain-failure.js';
import { run, runShown } from './run.js';

/** Installs Debian packages when this process may, else says which command would. */
export async function installDebian(packages: readonly string[], why: string): Promise<void> {
  const wanted = packages.join(' ');
  const mayInstall = process.getuid?.() === 0 && existsSync('/usr/bin/apt-get');
  if (!mayInstall) {
    throw new PlainFailure(`${why} is missing. Install it with: sudo apt-get install ${wanted}`);
  }
  process.stdout.write(`Installing ${wanted} from Debian…\n`);
  const env = { ...process.env, DEBIAN_FRONTEND: 'noninteractive' };
  const install = () => run('apt-get', ['install', '-y', '--no-install-recommends', ...packages], { env });
  let done = install();
  if (done.code !== 0) {
    // A fresh machine has no package index yet.
    await runShown('apt-get', ['update', '-qq'], env);
    done = install();
  }
  if (done.code !== 0) {
    throw new PlainFailure(
      `${why} could not be installed: ${done.output.split('\n').slice(-2).join(' ')}. Install it by hand: apt-get install ${wanted}`,
    );
  }
}
