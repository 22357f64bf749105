import { buildAll } from './lib/build.js';

await buildAll();
