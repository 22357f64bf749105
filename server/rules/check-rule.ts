import { createHash } from 'node:crypto';
import type { Pool } from 'pg';
import { formatInstant, type Instant } from '../../core/base/instant.js';
import { describeHunt, describeSettings } from '../../core/rules/describe-settings.js';
import { planOfHunt } from '../../core/rules/read-hunt.js';
import { remarksOn } from '../../core/rules/remarks.js';
import { runHuntTests, runRuleTests, type TestResult } from '../../core/rules/run-tests.js';
import { describeRule } from '../../core/sigma/describe.js';
import type { Rule } from '../../core/sigma/rule-model.js';
import { SigmaError } from '../../core/sigma/sigma-error.js';
import { boundedText } from '../../core/text/bounded-text.js';
import type { RuleCheck } from '../../core/wire/rules.js';
import {
  absentOf,
  detectionsUnder,
  huntLists,
  type ReadText,
  type RuleReading,
  sourcesOf,
} from './reading.js';
import { REPLAY_OF_TEXT } from './sql.js';
import type { RuleWords } from './words.js';

/** What is told of a text at most: bytes of a description, notes, tests. */
const MAX_SAID = 20_000;
const MAX_NOTES = 200;
const MAX_TESTS = 1000;

/** What a text is known by where its replay is looked up. */
export const hashOfText = (text: string): Buffer => createHash('sha256').update(text).digest();

/** The last replay of a text; null where it was never replayed. */
async function replayOf(pool: Pool, text: string): Promise<RuleCheck['replayed']> {
  const { rows } = await pool.query<{
    at: Instant;
    who: string;
    since: Instant;
    until: Instant;
    complete: boolean;
    matches: number;
    alerts: number;
  }>(REPLAY_OF_TEXT, [hashOfText(text)]);
  const found = rows[0];
  if (found === undefined) return null;
  return {
    ...found,
    at: formatInstant(found.at),
    since: formatInstant(found.since),
    until: formatInstant(found.until),
  };
}

/** The tests of a text, those of all its documents. */
export async function runTests(
  pool: Pool,
  text: string,
  { pack, own, hunts, entries }: ReadText,
): Promise<TestResult[]> {
  const tests = own.flatMap((at) => runRuleTests(pack.rules, at, entries));
  if (!hunts.some(({ settings }) => settings.tests.length > 0)) return tests;
  const { lists, environment } = await huntLists(pool, text);
  return [...tests, ...hunts.flatMap((hunt) => runHuntTests(hunt, lists, environment))];
}

/** Whether other rules of the same text count a rule, and none of them lets it tell itself. */
function isOnlyCounted(rules: readonly Rule[], own: readonly number[], at: number): boolean {
  const counting = own.flatMap((other) => {
    const rule = rules[other];
    return rule?.type === 'correlation' && rule.refers.includes(at) ? [rule] : [];
  });
  return counting.length > 0 && counting.every(({ generate }) => !generate);
}

/** What a text says in plain words, what becomes of it, and where it is wrong. */
export async function checkRule(
  { pool, reading, words, now }: { pool: Pool; reading: RuleReading; words: RuleWords; now: () => Instant },
  text: string,
  id: string | null,
): Promise<RuleCheck> {
  const read = await reading.read(text, id);
  const { pack, own, hunts, entries, sources } = read;
  let { mistake } = read;
  const { lists } = hunts.length > 0 ? await huntLists(pool, '') : { lists: [] };
  for (const hunt of hunts)
    try {
      planOfHunt(hunt, lists, now());
    } catch (error) {
      if (!(error instanceof SigmaError)) throw error;
      mistake ??= { line: error.line, message: error.message };
    }
  const detections = own.flatMap((at) => detectionsUnder(pack.rules, at));
  const fields = await words.ownFields();
  const heads = own.flatMap((at) => {
    const rule = pack.rules[at];
    // What another document of the text counts needs no words of its own.
    const counted = own.some((other) => {
      const outer = pack.rules[other];
      return outer?.type === 'correlation' && outer.refers.includes(at);
    });
    return rule === undefined || counted ? [] : [rule];
  });
  return {
    documents: [
      ...own.flatMap((at) => {
        const rule = pack.rules[at];
        if (rule === undefined) return [];
        const { title, type, line, settings } = rule;
        const counted = settings.onMatch === 'alert' && isOnlyCounted(pack.rules, own, at);
        const then = counted ? 'is counted, and not told by itself' : describeSettings(settings);
        return [{ title, type, line, says: boundedText(describeRule(rule, pack.rules), MAX_SAID), then }];
      }),
      ...hunts.map((hunt) => ({
        title: hunt.title,
        type: 'hunt' as const,
        line: hunt.line,
        says: boundedText(describeHunt(hunt), MAX_SAID),
        then: describeSettings(hunt.settings),
      })),
    ],
    mistake,
    notes:
      mistake === null
        ? [...heads, ...hunts]
            .flatMap((rule) => remarksOn(rule, (field) => fields.has(field)))
            .slice(0, MAX_NOTES)
        : [],
    tests: mistake === null ? (await runTests(pool, text, read)).slice(0, MAX_TESTS) : [],
    sources: [...new Set(detections.flatMap((rule) => sourcesOf(rule, sources, entries)))].sort(),
    lists: [...new Set([...text.matchAll(/%([\w.-]+)%/g)].map(([, name]) => name ?? ''))].sort(),
    absent: absentOf(detections, sources, entries),
    replayed: await replayOf(pool, text),
  };
}
