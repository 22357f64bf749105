import { execFileSync } from 'node:child_process';
import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join, resolve } from 'node:path';
import { FieldMemory } from '../core/predicate/field-memory.js';
import { compilePredicate } from '../core/predicate/in-memory.js';
import { eventOfRecord, Sweeper } from '../core/detect/sweep.js';
import type { Json, JsonObject } from '../core/base/json.js';
import { loadPack } from '../core/sigma/pack.js';
import { generateDemo } from '../demo/generate/index.js';
import { Random } from '../demo/random.js';

// `npm run bench:rules`: what rules cost an event, whatever their number, beside JSON.parse of the same lines and beside
// asking one rule after another; then `lamp sweep` over a million records. All in one run.

const EVENTS = 60_000;
const NUMBERS = [100, 1000, 3000];
const SWEEP_RULES = 800;
const SWEEP_RECORDS = 1_000_000;
const ONE_BY_ONE = 2000;

/** JSON records of the demo world, over and over up to a number. */
function jsonLines(count: number): string[] {
  const made = generateDemo({ seed: 7, end: Math.floor(Date.now() / 86_400_000) * 86_400_000_000, days: 8 })
    .map(({ raw }) => raw)
    .filter((raw) => raw.startsWith('{'));
  return Array.from({ length: count }, (_, i) => made[i % made.length] ?? '{}');
}

/** A field of the records, with dots, and a text that it holds in some of them. */
type Spotted = readonly [field: string, text: string];

/** What some rules look for so that they match: fields of the records with their texts. */
function spottedIn(lines: readonly string[]): Spotted[] {
  const found = new Map<string, Spotted>();
  const walk = (value: Json, field: string): void => {
    if (typeof value === 'string') {
      if (/^[\w.-]{5,20}$/.test(value)) found.set(`${field}\n${value}`, [field, value]);
    } else if (value !== null && typeof value === 'object' && !Array.isArray(value))
      for (const [name, inner] of Object.entries(value))
        walk(inner, field === '' ? name : `${field}.${name}`);
  };
  for (const line of lines.slice(0, 5000)) walk(JSON.parse(line) as Json, '');
  return [...found.values()];
}

const FIELDS = [
  'actor.login',
  'event.name',
  'principal.name',
  'client.agent',
  'result.why',
  'message',
  'user',
  'name',
];

/** Rules as packs have them: values, parts of texts, ends, patterns, networks, with something left out. */
function makeRules(count: number, spotted: readonly Spotted[]): string[] {
  const random = new Random('rules');
  const text = (): string =>
    random.pick(['backup', 'export', 'grant', 'tunnel', 'quay', 'mast']) + random.hex(5);
  return Array.from({ length: count }, (_, i) => {
    const field = random.pick(FIELDS);
    const [place, real] = random.pick(spotted);
    const selections = [
      // One rule in thirty looks for something that is there.
      i % 30 === 0 ? `${place}: ['${text()}', '${real}']` : `${field}: ['${text()}', '${text()}']`,
      `${field}|contains: ['${text()}', '-${text()}']`,
      `${field}|endswith: '.${text()}'`,
      `${field}|startswith: '${text()}'\n    ${random.pick(FIELDS)}|contains: '${text()}'`,
      `${field}|re: '${text()}[0-9]{2,4}$'`,
      `client.ip|cidr: '198.18.${i % 256}.0/24'\n    ${field}|contains: '${text()}'`,
    ];
    return `title: Bench ${i}\nlevel: low\nlogsource: {}\ndetection:\n  chosen:\n    ${selections[i % selections.length] ?? ''}\n  left:\n    ${field}: '${text()}'\n  condition: chosen and not left\n`;
  });
}

const seconds = (work: () => void): number => {
  const start = performance.now();
  work();
  return (performance.now() - start) / 1000;
};
const count = (n: number): string => Math.round(n).toLocaleString('en');
const say = (line: string): void => void process.stdout.write(`${line}\n`);

function benchMatching(lines: readonly string[], spotted: readonly Spotted[]): void {
  const events = lines.slice(0, EVENTS).map((line) => eventOfRecord(JSON.parse(line) as JsonObject, line));
  const parsing = seconds(() => {
    for (const line of lines.slice(0, EVENTS)) JSON.parse(line);
  });
  const took = NUMBERS.map((number) => {
    const { rules, refused } = loadPack(
      makeRules(number, spotted).map((text, i) => ({ name: `${i}.yml`, text })),
    );
    if (refused.length > 0) throw new Error(refused[0]?.reason);
    const sweeper = new Sweeper(rules, 'any');
    let matches = 0;
    const sweepAll = (): void => {
      matches = 0;
      for (const event of events) matches += sweeper.sweep(event, null).matched.length;
    };
    // Once to warm up: what is measured is a server that has run for a while.
    sweepAll();
    const time = seconds(sweepAll);
    const memory = new FieldMemory();
    const matchers = rules.flatMap((rule) =>
      rule.type === 'detection' ? [{ matches: compilePredicate(rule.predicate, memory) }] : [],
    );
    const some = events.slice(0, ONE_BY_ONE);
    const oneByOne =
      seconds(() => some.forEach((event) => matchers.forEach((matcher) => matcher.matches(event)))) *
      (events.length / some.length);
    say(
      `${count(number)} rules: ${count(events.length / time)} events/s on one core, ${count(matches)} matches, ` +
        `${(time / parsing).toFixed(2)} of the time of JSON.parse, ${(oneByOne / time).toFixed(0)} times quicker than one by one` +
        (number === 1000 ? ' (aim: 40,000 events/s)' : ''),
    );
    return time;
  });
  say(
    `3,000 rules take ${((took[2] ?? 0) / (took[0] ?? 1)).toFixed(2)} times as long as 100 (aim: at most 2)`,
  );
}

function benchSweep(lines: readonly string[], spotted: readonly Spotted[]): void {
  const folder = mkdtempSync(join(tmpdir(), 'lamp-bench-'));
  try {
    mkdirSync(join(folder, 'rules'));
    makeRules(SWEEP_RULES, spotted).forEach((text, i) =>
      writeFileSync(join(folder, 'rules', `${i}.yml`), text),
    );
    const files = Array.from({ length: 4 }, (_, i) => join(folder, `${i}.jsonl`));
    for (const [i, file] of files.entries())
      writeFileSync(file, lines.slice((i * SWEEP_RECORDS) / 4, ((i + 1) * SWEEP_RECORDS) / 4).join('\n'));
    const parsing = seconds(() => {
      for (const line of lines.slice(0, SWEEP_RECORDS)) JSON.parse(line);
    });
    const lamp = (): void => {
      execFileSync(
        process.execPath,
        [
          resolve('cli/bin/lamp.mjs'),
          'sweep',
          '--rules',
          join(folder, 'rules'),
          '--events',
          ...files,
          '--logsource',
          'any',
        ],
        { stdio: ['ignore', 'ignore', 'inherit'] },
      );
    };
    const took = seconds(lamp);
    say(
      `lamp sweep, ${SWEEP_RULES} rules over ${count(SWEEP_RECORDS)} records: ${took.toFixed(1)} s, ` +
        `${(parsing / took).toFixed(2)} of the speed of JSON.parse on one core (${parsing.toFixed(1)} s; aim: 0.33)`,
    );
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }
}

const lines = jsonLines(SWEEP_RECORDS);
const spotted = spottedIn(lines);
benchMatching(lines, spotted);
benchSweep(lines, spotted);
