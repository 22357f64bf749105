import { mkdirSync, writeFileSync } from 'node:fs';
import type { Recipe } from '../../core/recipes/recipe-schema.js';
import { sweepWindows, type PlacedHit } from '../../core/detect/sweep.js';
import { severities } from '../../core/events/kinds.js';
import type { Refused } from '../../core/sigma/pack.js';
import type { Rule } from '../../core/sigma/rule-model.js';
import { UsageError } from '../usage.js';
import { piecesOf, type WantedShape, wantedShape } from './read-pieces.js';
import { readSweepArguments, type SweepArguments } from './sweep-arguments.js';
import { filesBelow, readRecipeText, readRuleFiles } from './sweep-files.js';
import { SweepOutput, type Place } from './sweep-output.js';
import { packOf, reaches, type SweepPlan, type SweptPiece } from './sweep-plan.js';
import { SweepThreads } from './sweep-threads.js';

const PROGRESS_MILLISECONDS = 500;
/** A rule was refused, and the sweep went on without it. */
const SOME_REFUSED = 3;

interface Totals {
  files: number;
  records: number;
  unreadable: number;
  readonly matches: Record<string, number>;
}

/** Runs `lamp sweep`. @returns the exit code */
export async function sweep(words: readonly string[]): Promise<number> {
  const asked = readSweepArguments(words);
  const plan: SweepPlan = {
    ruleFiles: readRuleFiles(asked.rules),
    searches: asked.searches,
    logsource: asked.logsource ?? (asked.searches.length > 0 && asked.rules.length === 0 ? 'any' : undefined),
    level: asked.level,
    recipe: asked.recipe === undefined ? null : readRecipeText(asked.recipe),
  };
  const { rules, hunts, refused } = checkedPack(plan);
  const format = plan.recipe === null ? null : wantedShape(JSON.parse(plan.recipe) as Recipe);
  const files = filesBelow(asked.events, () => true);
  if (asked.out !== undefined) mkdirSync(asked.out, { recursive: true });
  const totals: Totals = {
    files: files.length,
    records: 0,
    unreadable: 0,
    matches: Object.fromEntries(severities.map((level) => [level, 0])),
  };
  const output = new SweepOutput(rules, asked);
  const hits = await sweepFiles(files, format, plan, output, totals);
  for (const window of sweepWindows(rules, hits, 'in their order')) {
    const rule = rules[window.rule];
    if (rule === undefined || !reaches(rule.level, asked.level)) continue;
    totals.matches[rule.level] = (totals.matches[rule.level] ?? 0) + 1;
    output.window(rule, window);
  }
  await output.end();
  if (hunts.length > 0)
    process.stderr.write(`${hunts.length} hunts are left out: they run on the server, not in a sweep\n`);
  tell(asked, plan, rules, refused, totals);
  return refused.length > 0 ? SOME_REFUSED : 0;
}

function checkedPack(plan: SweepPlan): ReturnType<typeof packOf> {
  try {
    return packOf(plan);
  } catch (error) {
    throw new UsageError(`--matching: ${error instanceof Error ? error.message : String(error)}`);
  }
}

/** Sweeps files piece by piece on all cores; what is found is written in the order of the records. */
async function sweepFiles(
  files: readonly string[],
  format: WantedShape | null,
  plan: SweepPlan,
  output: SweepOutput,
  totals: Totals,
): Promise<PlacedHit<Place>[]> {
  const hits: PlacedHit<Place>[] = [];
  const threads = new SweepThreads(plan);
  const rules = output.rules;
  let shown = 0;
  const take = async (file: string, before: number, swept: SweptPiece): Promise<void> => {
    const sofar = totals.records;
    totals.records += swept.records;
    totals.unreadable += swept.unreadable;
    for (const { rule: at, line, time, event } of swept.matches) {
      const rule = rules[at];
      if (rule === undefined) continue;
      totals.matches[rule.level] = (totals.matches[rule.level] ?? 0) + 1;
      output.match(rule, { file, line: before + line }, time, event);
    }
    for (const { line, ...hit } of swept.hits)
      hits.push({ ...hit, order: sofar + line, place: { file, line: before + line } });
    await output.flush();
    if (process.stderr.isTTY && Date.now() - shown > PROGRESS_MILLISECONDS) {
      shown = Date.now();
      process.stderr.write(`\r${totals.records.toLocaleString('en')} records, ${file}\u001b[K`);
    }
  };
  try {
    for (const file of files) {
      let before = 0;
      const underWay: Promise<SweptPiece>[] = [];
      const settle = async (most: number): Promise<void> => {
        while (underWay.length > most) {
          const swept = await underWay.shift();
          if (swept === undefined) return;
          await take(file, before, swept);
          before += swept.records;
        }
      };
      for await (const piece of piecesOf(file, format)) {
        underWay.push(threads.sweep(piece));
        await settle(threads.most - 1);
      }
      await settle(0);
    }
  } finally {
    await threads.end();
    if (process.stderr.isTTY) process.stderr.write('\r\u001b[K');
  }
  return hits;
}

/** How many detection rules are asked of no record, for the log source they name. */
function skippedBy({ logsource, recipe }: SweepPlan, rules: readonly Rule[]): number {
  if (logsource === 'any') return 0;
  const known = logsource ?? (recipe === null ? {} : ((JSON.parse(recipe) as Recipe).logsource ?? {}));
  return rules.filter(
    (rule) =>
      rule.type === 'detection' &&
      (['category', 'product', 'service'] as const).some(
        (part) => rule.logsource[part] !== undefined && rule.logsource[part] !== known[part]?.toLowerCase(),
      ),
  ).length;
}

/** Says on standard error, and in the summary, what was swept. */
function tell(
  asked: SweepArguments,
  plan: SweepPlan,
  rules: readonly Rule[],
  refused: readonly Refused[],
  { files, records, unreadable, matches }: Totals,
): void {
  const count = (n: number): string => n.toLocaleString('en');
  const say = (line: string): void => void process.stderr.write(`${line}\n`);
  say(`${count(files)} files, ${count(records)} records, ${count(unreadable)} unreadable`);
  say(
    `${count(rules.length)} rules loaded, ${count(refused.length)} refused${refused.length > 0 ? ':' : ''}`,
  );
  for (const { file, rule, line, reason } of refused)
    say(`  ${file}, line ${line}${rule === null ? '' : `, "${rule}"`}: ${reason}`);
  const levels = Object.entries(matches).filter(([, n]) => n > 0);
  say(
    `matches: ${levels.length === 0 ? 'none' : levels.map(([level, n]) => `${level} ${count(n)}`).join(', ')}`,
  );
  const skipped = skippedBy(plan, rules);
  if (skipped > 0)
    say(
      plan.logsource === undefined && plan.recipe === null
        ? `${count(skipped)} rules were skipped: nothing says what the records are, and these rules name a log source. Say --logsource category=…,product=… or --logsource any, or give the --recipe.`
        : `${count(skipped)} rules were skipped: they name another log source.`,
    );
  if (asked.summary !== undefined)
    writeFileSync(
      asked.summary,
      `${JSON.stringify({ files, records, unreadable, rules: { loaded: rules.length, skipped, refused }, matches }, null, 2)}\n`,
    );
}
