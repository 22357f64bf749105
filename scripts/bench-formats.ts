import { readFileSync } from 'node:fs';
import { parseInstant } from '../core/base/instant.js';
import { FileDecoder } from '../core/formats/decode.js';
import { cutterOf } from '../core/formats/index.js';
import { compileRecipe } from '../core/recipes/apply.js';
import { shippedRecipes } from '../core/recipes/shipped/index.js';
import { generateDemo } from '../demo/generate/index.js';
import { mastOsRecords } from '../demo/evtx/mast-os-file.js';
import { writeEvtx } from '../demo/evtx/write-evtx.js';

// How fast recipes and decoders read, as ratios to JSON.parse of the same records as JSON, in one run: 1 is as fast.
// The aims: 0.5 for JSON, 0.3 for lines of text, 0.25 for binary event files; those no less than a third of XML text.

const received = parseInstant('2026-11-30T12:00:00Z') ?? 0;
const ROUNDS = 15;
const RECORDS = 20_000;

/**
 * How fast some work is, as a ratio to a base: the best of several rounds of each, taken in turns, so that a machine that is
 * quicker at one moment than at another is it for both.
 */
function ratioTo(base: () => void, work: () => void): number {
  let [leastBase, least] = [Infinity, Infinity];
  const timed = (one: () => void): number => {
    const begin = performance.now();
    one();
    return performance.now() - begin;
  };
  for (let round = 0; round < ROUNDS; round++) {
    leastBase = Math.min(leastBase, timed(base));
    least = Math.min(least, timed(work));
  }
  return leastBase / least;
}

/** So many records, the same over and over. */
const repeated = (records: readonly string[]): string[] =>
  Array.from({ length: RECORDS }, (_, i) => records[i % records.length] ?? '');

/** JSON.parse of what the fields of these records are as JSON. */
function parsing(name: string, records: readonly string[]): () => void {
  const recipe = compileRecipe(shippedRecipes[name] as never);
  const lines = records.map((record) => JSON.stringify(recipe.read(record).fields ?? {}));
  return () => {
    let sum = 0;
    for (const line of lines) sum += Object.keys(JSON.parse(line) as object).length;
    if (sum === 0) throw new Error('Nothing was read.');
  };
}

function line(name: string, aim: number, ratio: number): void {
  process.stdout.write(
    `${name.padEnd(34)} ${ratio.toFixed(2).padStart(6)}   aim ${aim}${ratio >= aim ? '' : '   missed'}\n`,
  );
}

const fixture = (name: string, file: string): string[] => {
  const recipe = compileRecipe(shippedRecipes[name] as never);
  return recipe.cut(readFileSync(`core/recipes/shipped/fixtures/${file}`, 'utf8'));
};

const kinds: readonly (readonly [name: string, file: string, aim: number])[] = [
  ['web-access-json', 'web-access-json.log', 0.5],
  ['postgresql-json', 'postgresql-json.log', 0.5],
  ['ocsf', 'ocsf.jsonl', 0.5],
  ['journald', 'journald.jsonl', 0.5],
  ['linux-auth', 'linux-auth.log', 0.3],
  ['web-access', 'web-access.log', 0.3],
  ['nginx-error', 'nginx-error.log', 0.3],
  ['unbound', 'unbound.log', 0.3],
  ['linux-audit', 'linux-audit.log', 0.3],
  ['postgresql-csv', 'postgresql-csv.log', 0.3],
];
process.stdout.write('Reading records into fields, as a ratio to JSON.parse of the same\n');
for (const [name, file, aim] of kinds) {
  const records = repeated(fixture(name, file));
  const recipe = compileRecipe(shippedRecipes[name] as never);
  line(
    name,
    aim,
    ratioTo(parsing(name, records), () => records.forEach((record) => recipe.read(record))),
  );
}

process.stdout.write('\nReading records into events, as a ratio to JSON.parse of the same (no aim is set)\n');
for (const [name, file] of kinds) {
  const records = repeated(fixture(name, file));
  const recipe = compileRecipe(shippedRecipes[name] as never);
  const ratio = ratioTo(parsing(name, records), () =>
    records.forEach((record) => recipe.apply(record, received)),
  );
  process.stdout.write(`${name.padEnd(34)} ${ratio.toFixed(2).padStart(6)}\n`);
}

const xml = generateDemo({ seed: 7, end: received, days: 5 })
  .filter(({ source }) => source === 'mast-os')
  .map(({ raw }) => raw);
const binary = writeEvtx(mastOsRecords(xml));
const recipe = compileRecipe(shippedRecipes['os-events'] as never);
/** As `lamp read` reads them: the fields of most records are told without their text. */
function readAll(bytes: Uint8Array): void {
  const decoder = FileDecoder.withFields('bench');
  for (const part of [...decoder.push(bytes), ...decoder.end()])
    if (part.part === 'text' && (part.fields === undefined || recipe.readFields(part.fields) === null))
      throw new Error('A record has no fields of its own.');
}
const decode = (bytes: Uint8Array): string[] => {
  const decoder = new FileDecoder('bench');
  const cutter = cutterOf('os-event-xml', undefined);
  const records: string[] = [];
  for (const part of [...decoder.push(bytes), ...decoder.end()])
    if (part.part === 'text') records.push(...cutter.push(part.text));
  return [...records, ...cutter.end()];
};
const text = new TextEncoder().encode(xml.join('\n'));
process.stdout.write(`\nBinary event files: ${xml.length} records, ${(binary.length / 1e6).toFixed(1)} MB\n`);
const readText = (): void => decode(text).forEach((record) => recipe.read(record));
line(
  'binary, to JSON.parse',
  0.25,
  ratioTo(parsing('os-events', xml), () => readAll(binary)),
);
line(
  'binary, to XML of the same',
  0.33,
  ratioTo(readText, () => readAll(binary)),
);
line(
  'binary by way of XML, to XML',
  0.33,
  ratioTo(readText, () => decode(binary).forEach((record) => recipe.read(record))),
);
