// The first thing `npm test` runs: it needs nothing but Node.js, and brings everything else.
import { prepare, runTypeScript } from './lib/prepare.mjs';

await prepare();
process.exitCode = await runTypeScript('scripts/test.ts', process.argv.slice(2));
