import { createHash } from 'node:crypto';
import { build as bundle } from 'esbuild';
import { existsSync, mkdirSync, readdirSync, readFileSync, statSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { brotliCompressSync, gzipSync } from 'node:zlib';
import { build as buildPages } from 'vite';

const DIST = 'dist';

/** One text for the state of all files that go into the build. */
function stampOf(paths: readonly string[]): string {
  const hash = createHash('sha256');
  const visit = (path: string): void => {
    const state = statSync(path);
    if (state.isDirectory())
      readdirSync(path)
        .sort()
        .forEach((name) => visit(join(path, name)));
    else hash.update(`${path} ${state.size} ${state.mtimeMs}\n`);
  };
  paths.filter(existsSync).forEach(visit);
  return hash.digest('hex');
}

/** Does work only where its sources have changed since the last time. */
async function unlessFresh(
  name: string,
  sources: readonly string[],
  work: () => Promise<void>,
): Promise<void> {
  const file = join(DIST, `.${name}-built-from`);
  const stamp = stampOf([...sources, 'package-lock.json']);
  if (existsSync(file) && readFileSync(file, 'utf8') === stamp) return;
  process.stdout.write(`Building the ${name}…\n`);
  await work();
  mkdirSync(DIST, { recursive: true });
  writeFileSync(file, stamp);
}

/** Smaller files gain nothing. */
const WORTH_COMPRESSING = 1000;

/** Puts a compressed copy beside each file, so that the server need not compress what never changes. */
function compressAll(folder: string): void {
  for (const name of readdirSync(folder).filter((file) => /\.(?:js|css|svg)$/.test(file))) {
    const file = join(folder, name);
    const content = readFileSync(file);
    if (content.length < WORTH_COMPRESSING) continue;
    writeFileSync(`${file}.br`, brotliCompressSync(content));
    writeFileSync(`${file}.gz`, gzipSync(content, { level: 9 }));
  }
}

/** Bundles the server and builds the pages, each only if something in it has changed. */
export async function buildAll(): Promise<void> {
  await unlessFresh('server', ['core', 'server', 'stand-ins', 'demo'], async () => {
    await bundle({
      entryPoints: {
        server: 'server/main.ts',
        'intake-worker': 'server/intake/worker.ts',
        'checks-worker': 'server/checks/worker.ts',
        'study-worker': 'server/tuning/study-worker.ts',
        'stand-ins': 'stand-ins/main.ts',
      },
      outdir: DIST,
      outExtension: { '.js': '.mjs' },
      bundle: true,
      packages: 'external',
      platform: 'node',
      format: 'esm',
      target: 'node20',
      sourcemap: true,
      logLevel: 'error',
    });
  });
  await unlessFresh('pages', ['core', 'web'], async () => {
    await buildPages({ configFile: 'web/vite.config.ts', logLevel: 'error' });
    compressAll(join(DIST, 'web', 'assets'));
  });
}
