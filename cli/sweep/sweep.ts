import { mkdirSync, writeFileSync } from 'node:fs';
import { sweepWindows } from '../../core/detect/sweep.js';
import type { Rule } from '../../core/sigma/rule-model.js';
import { drawReport } from '../../core/triage/report.js';
import { studies } from '../../core/triage/studies.js';
import { UsageError } from '../usage.js';
import { howToRead, NoLog, piecesOf } from './read-pieces.js';
import { readSweepArguments, type SweepArguments } from './sweep-arguments.js';
import { filesBelow, readRecipeText, readRuleFiles } from './sweep-files.js';
import { SweepFindings } from './sweep-findings.js';
import { SweepOutput } from './sweep-output.js';
import { packOf, reaches, type SweepPlan, type SweptPiece } from './sweep-plan.js';
import { SweepThreads } from './sweep-threads.js';
import type { Swept } from './swept.js';
import { stateOfRules, tell } from './tell.js';

const PROGRESS_MILLISECONDS = 500;
/** A rule was refused, and the sweep went on without it. */
const SOME_REFUSED = 3;
/** Facts that studies look at: more are counted, not held. */
const MAX_FACTS = 2_000_000;

/** Runs `lamp sweep`. @returns the exit code */
export async function sweep(words: readonly string[]): Promise<number> {
  const asked = readSweepArguments(words);
  const plan = planOf(asked);
  const { rules, hunts, refused } = checkedPack(plan);
  const files = filesBelow(asked.events, () => true);
  if (asked.out !== undefined) mkdirSync(asked.out, { recursive: true });
  const output = new SweepOutput(rules, asked);
  const findings = new SweepFindings(rules, asked, output);
  const swept = await sweepFiles(files, plan, findings);
  for (const window of sweepWindows(rules, swept.hits, 'in their order'))
    if (reaches(rules[window.rule]?.level ?? 'low', asked.level)) findings.window(window);
  const tables = asked.studies.map((name) => studies[name](swept.facts));
  for (const table of tables) output.study(table);
  await output.end();
  const state = stateOfRules(plan, rules, swept.asked);
  if (asked.report !== undefined)
    writeFileSync(
      asked.report,
      drawReport({
        made: Date.now() * 1000,
        files: swept.files,
        rules: rules.map((rule, at) => ({
          title: rule.title,
          id: rule.id,
          level: rule.level,
          matches: findings.matchesOf(at),
          state: state.of(at),
        })),
        refused,
        findings: findings.kept,
        left: findings.left,
        studies: tables,
        full: asked.full,
      }),
    );
  tell(asked, {
    rules,
    refused,
    hunts: hunts.length,
    swept,
    skipped: state.skipped,
    matches: findings.levels,
  });
  return refused.length > 0 ? SOME_REFUSED : 0;
}

function planOf(asked: SweepArguments): SweepPlan {
  const facts = asked.studies.length > 0;
  const searchesOnly = asked.searches.length > 0 && asked.rules.length === 0;
  const logsource = asked.logsource ?? (searchesOnly ? 'any' : undefined);
  return {
    ruleFiles: readRuleFiles(asked.rules),
    searches: asked.searches,
    logsource,
    level: asked.level,
    recipe: asked.recipe === undefined ? null : readRecipeText(asked.recipe),
    // Who says what the records are wants them as they stand; studies need to know what they mean.
    recognise: asked.recipe === undefined && (logsource === undefined || facts || asked.report !== undefined),
    facts,
  };
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
  plan: SweepPlan,
  findings: SweepFindings,
): Promise<Swept> {
  const swept: Swept = { files: [], hits: [], facts: [], factsLeft: 0, asked: new Set() };
  const how = howToRead(plan);
  const threads = new SweepThreads(plan);
  let records = 0;
  let shown = 0;
  const showProgress = (file: string): void => {
    if (!process.stderr.isTTY || Date.now() - shown < PROGRESS_MILLISECONDS) return;
    shown = Date.now();
    process.stderr.write(`\r${records.toLocaleString('en')} records, ${file}\u001b[K`);
  };
  try {
    for (const file of files) {
      const told = { file, records: 0, unreadable: 0, matches: 0, readAs: 'nothing' };
      const take = async (piece: SweptPiece): Promise<void> => {
        for (const match of piece.matches) findings.match(match, { file, line: told.records + match.line });
        for (const { line, ...hit } of piece.hits)
          swept.hits.push({ ...hit, order: records + line, place: { file, line: told.records + line } });
        addFacts(swept, piece, findings.rules, file, told.records);
        for (const at of piece.asked) swept.asked.add(at);
        records += piece.records;
        told.records += piece.records;
        told.unreadable += piece.unreadable;
        told.matches += piece.matches.length;
        await findings.output.flush();
        showProgress(file);
      };
      const say = (message: string): void => void process.stderr.write(`${file}: ${message}\n`);
      const underWay: Promise<SweptPiece>[] = [];
      const settle = async (most: number): Promise<void> => {
        while (underWay.length > most) {
          const piece = await underWay.shift();
          if (piece !== undefined) await take(piece);
        }
      };
      try {
        for await (const piece of piecesOf(file, how, say)) {
          told.readAs = piece.shape.recipe ?? piece.shape.format;
          underWay.push(threads.sweep(piece));
          await settle(threads.most - 1);
        }
        swept.files.push(told);
      } catch (error) {
        // One file that cannot be read, or is none of records, does not stop the rest.
        say(error instanceof NoLog ? `passed over: ${error.message}` : `cannot be read: ${String(error)}`);
        swept.files.push({ ...told, readAs: null });
      }
      await settle(0);
    }
  } finally {
    await threads.end();
    if (process.stderr.isTTY) process.stderr.write('\r\u001b[K');
  }
  return swept;
}

function addFacts(
  swept: Swept,
  piece: SweptPiece,
  rules: readonly Rule[],
  file: string,
  before: number,
): void {
  for (const { line, rules: matched, ...fact } of piece.facts) {
    if (swept.facts.length >= MAX_FACTS) swept.factsLeft++;
    else
      swept.facts.push({
        ...fact,
        file,
        line: before + line,
        rules: matched.map((at) => rules[at]?.title ?? ''),
      });
  }
}
