#!/usr/bin/env node
// The `lamp` command. It runs as one bundled file, so that it starts in a fraction of a second; the bundle is
// made anew whenever a source file is newer than it.
import { existsSync, readdirSync, statSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath, pathToFileURL } from 'node:url';

const top = join(dirname(fileURLToPath(import.meta.url)), '..', '..');
const bundle = join(top, 'dist', 'lamp.mjs');

function newest(folder) {
  let latest = 0;
  for (const entry of readdirSync(folder, { withFileTypes: true })) {
    const path = join(folder, entry.name);
    latest = Math.max(latest, entry.isDirectory() ? newest(path) : statSync(path).mtimeMs);
  }
  return latest;
}

const sources = ['core', 'cli'].map((room) => join(top, room));
if (!existsSync(bundle) || Math.max(...sources.map(newest)) > statSync(bundle).mtimeMs) {
  const { build } = await import('esbuild');
  await build({
    entryPoints: [join(top, 'cli', 'main.ts')],
    outfile: bundle,
    bundle: true,
    platform: 'node',
    format: 'esm',
    target: 'node20',
    logLevel: 'error',
    // Packages in the older module format ask for `require`, which modules do not have.
    banner: {
      js: "import { createRequire as requireFrom } from 'node:module'; const require = requireFrom(import.meta.url);",
    },
  });
}
await import(pathToFileURL(bundle).href);
