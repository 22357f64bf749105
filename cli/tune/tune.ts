import { howToRead } from '../sweep/read-pieces.js';
import { readFileSync, statSync } from 'node:fs';
import { RuleIndex } from '../../core/detect/rule-index.js';
import { FieldMemory } from '../../core/predicate/field-memory.js';
import { compilePredicate } from '../../core/predicate/in-memory.js';
import type { Event } from '../../core/events/event.js';
import { visibleText } from '../../core/text/visible.js';
import { readVerdictLines, VerdictError, type VerdictLine } from '../../core/tuning/verdict-lines.js';
import { filesBelow, readRecipeText, readRuleFiles } from '../sweep/sweep-files.js';
import { packOf, PreparedSweep, type SweepPlan } from '../sweep/sweep-plan.js';
import { UsageError } from '../usage.js';
import { collect, readAll } from './collect.js';
import { study, type OpenProposal, type Study } from './report.js';
import { readTuneArguments } from './tune-arguments.js';

/** A rule was refused, and tuning went on without it. */
const SOME_REFUSED = 3;
const NOTHING_SETTLED =
  'Nothing is settled: every match counts as unsettled, so what is proposed is only what is common. Give --verdicts.';

type ToldProposal = Omit<OpenProposal, 'meets' | 'matched'> & { readonly reach: number };

/** Runs `lamp tune`: ranks rules over files by noise and proposes cuts with proof. @returns the exit code */
export async function tune(words: readonly string[]): Promise<number> {
  const asked = readTuneArguments(words);
  const plan: SweepPlan = {
    ruleFiles: readRuleFiles(asked.rules),
    searches: [],
    logsource: asked.logsource,
    level: undefined,
    recipe: asked.recipe === undefined ? null : readRecipeText(asked.recipe),
    recognise: asked.recipe === undefined && asked.logsource === undefined,
    facts: false,
  };
  const { refused, hunts } = packOf(plan);
  const how = howToRead(plan);
  const files = filesBelow(asked.events, () => true);
  const verdicts = asked.verdicts === undefined ? [] : readVerdicts(asked.verdicts);
  const sweep = new PreparedSweep(plan);
  const collected = await collect(files, how, sweep);
  const found = study(collected, verdicts, asked.allowLoss);
  const reaches = await reachOf(found.proposals, (see) =>
    readAll(files, how, sweep, ({ event }) => see(event)),
  );
  const proposals = found.proposals.map(({ meets: _, matched: __, ...told }, i): ToldProposal => ({
    ...told,
    reach: reaches[i] ?? 0,
  }));
  const say = (line: string): void => void process.stderr.write(`${line}\n`);
  const count = (n: number): string => n.toLocaleString('en');
  say(
    `${count(files.length)} files, ${count(collected.read + collected.unreadable)} records, ${count(collected.unreadable)} unreadable`,
  );
  say(
    `${count(sweep.rules.length)} rules loaded, ${count(refused.length)} refused${refused.length > 0 ? ':' : ''}`,
  );
  for (const { file, rule, line, reason } of refused)
    say(`  ${file}, line ${line}${rule === null ? '' : `, "${rule}"`}: ${reason}`);
  if (hunts.length > 0) say(`${hunts.length} hunts are left out: they run on the server`);
  if (found.idle > 0) say(`${count(found.idle)} verdicts speak of no match`);
  if (!found.settled) say(NOTHING_SETTLED);
  process.stdout.write(asked.format === 'json' ? asJson(found, proposals) : asTable(found, proposals));
  return refused.length > 0 ? SOME_REFUSED : 0;
}

function readVerdicts(path: string): VerdictLine[] {
  if (statSync(path, { throwIfNoEntry: false })?.isFile() !== true)
    throw new UsageError(`--verdicts: there is no file at ${path}.`);
  try {
    return readVerdictLines(readFileSync(path, 'utf8'));
  } catch (error) {
    throw error instanceof VerdictError ? new UsageError(`--verdicts: ${error.message}`) : error;
  }
}

/** How many records each proposal would hide that its rule does not match: read again, since they are not held. */
async function reachOf(
  proposals: readonly OpenProposal[],
  read: (see: (event: Event) => void) => Promise<unknown>,
): Promise<number[]> {
  const reach = proposals.map(() => 0);
  if (proposals.length === 0) return reach;
  const memory = new FieldMemory();
  const tests = proposals.map(({ meets }) => compilePredicate(meets, memory));
  const index = new RuleIndex(
    proposals.map(({ meets }) => meets),
    memory,
  );
  let place = 0;
  await read((event) => {
    for (const i of index.candidates(event))
      if (tests[i]?.(event) === true && proposals[i]?.matched.has(place) === false)
        reach[i] = (reach[i] ?? 0) + 1;
    place++;
  });
  return reach;
}

const asJson = ({ ranking, silent, settled }: Study, proposals: readonly ToldProposal[]): string =>
  `${JSON.stringify({ ranking, silent, proposals, notes: settled ? [] : [NOTHING_SETTLED] }, null, 2)}\n`;

function asTable({ ranking, silent }: Study, proposals: readonly ToldProposal[]): string {
  const lines: string[] = [];
  const line = (cells: readonly (string | number)[], widths: readonly number[]): void => {
    const written = cells.map((cell, i) =>
      typeof cell === 'number' ? String(cell).padStart(widths[i] ?? 0) : cell.padEnd(widths[i] ?? 0),
    );
    lines.push(visibleText(written.join('  ').trimEnd()));
  };
  const widths = [9, 9, 6, 9, 6, 7, 10];
  line(['kind', '  matches', '  real', ' harmless', ' wrong', ' unsure', ' unsettled', 'rule'], widths);
  for (const { kind, matches, verdicts, title } of ranking.filter((row) => row.matches > 0))
    line(
      [
        kind,
        matches,
        verdicts.real,
        verdicts.harmless,
        verdicts.wrong,
        verdicts.unsure,
        verdicts.unsettled,
        title,
      ],
      widths,
    );
  if (silent.length > 0) lines.push('', `${silent.length} rules matched nothing.`);
  let rule = '';
  for (const one of proposals) {
    if (one.rule !== rule) lines.push('', visibleText(one.title));
    rule = one.rule;
    const held = one.heldOut.found
      ? 'found in the older two thirds, too'
      : 'not found in the older two thirds alone';
    lines.push(
      `  ${visibleText(one.words)}`,
      `    removes ${one.removed} (harmless or wrong ${one.removedHarmless}, not settled ${one.removedUnsettled}), loses ${one.realLost} real, hides ${one.reach} others; ${held}`,
    );
  }
  return `${lines.join('\n')}\n`;
}
