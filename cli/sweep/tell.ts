import { writeFileSync } from 'node:fs';
import { silentOf } from '../../core/detect/sweep.js';
import type { Refused } from '../../core/sigma/pack.js';
import type { Rule } from '../../core/sigma/rule-model.js';
import type { SweepArguments } from './sweep-arguments.js';
import type { SweepPlan } from './sweep-plan.js';
import type { Swept } from './swept.js';

/** What became of the rules of a sweep. */
export interface RuleStates {
  /** How many were asked of no record, for the log source they name. */
  readonly skipped: number;
  readonly of: (rule: number) => string;
}

/** Tells which rules were asked of a record. @param asked their positions */
export function stateOfRules(
  { logsource }: Pick<SweepPlan, 'logsource'>,
  rules: readonly Rule[],
  asked: ReadonlySet<number>,
): RuleStates {
  const silent = silentOf(rules);
  const skips = (rule: Rule | undefined, at: number): boolean =>
    rule?.type === 'detection' &&
    logsource !== 'any' &&
    Object.keys(rule.logsource).length > 0 &&
    !asked.has(at);
  return {
    skipped: rules.filter(skips).length,
    of(at) {
      const rule = rules[at];
      if (rule !== undefined && skips(rule, at)) {
        const named = rule.type === 'detection' ? Object.entries(rule.logsource) : [];
        return `asked of nothing: no record is of ${named.map(([part, word]) => `${part} ${word}`).join(', ')}`;
      }
      return silent.has(at) ? 'counted by a correlation' : 'asked';
    },
  };
}

interface Told {
  readonly rules: readonly Rule[];
  readonly refused: readonly Refused[];
  readonly hunts: number;
  readonly swept: Swept;
  readonly skipped: number;
  readonly matches: Readonly<Record<string, number>>;
}

/** Says on standard error, and in the summary, what was swept. */
export function tell(asked: SweepArguments, { rules, refused, hunts, swept, skipped, matches }: Told): void {
  const count = (n: number): string => n.toLocaleString('en');
  const say = (line: string): void => void process.stderr.write(`${line}\n`);
  const total = (of: 'records' | 'unreadable'): number =>
    swept.files.reduce((sum, file) => sum + file[of], 0);
  const [records, unreadable] = [total('records'), total('unreadable')];
  if (hunts > 0) say(`${hunts} hunts are left out: they run on the server, not in a sweep`);
  say(`${count(swept.files.length)} files, ${count(records)} records, ${count(unreadable)} unreadable`);
  say(
    `${count(rules.length)} rules loaded, ${count(refused.length)} refused${refused.length > 0 ? ':' : ''}`,
  );
  for (const { file, rule, line, reason } of refused)
    say(`  ${file}, line ${line}${rule === null ? '' : `, "${rule}"`}: ${reason}`);
  const levels = Object.entries(matches).filter(([, n]) => n > 0);
  say(
    `matches: ${levels.length === 0 ? 'none' : levels.map(([level, n]) => `${level} ${count(n)}`).join(', ')}`,
  );
  if (skipped > 0)
    say(
      `${count(skipped)} rules were skipped: no record is of the log source they name.${
        asked.logsource === undefined && asked.recipe === undefined
          ? ' Where you know better, say --logsource category=…,product=… or --logsource any, or give the --recipe.'
          : ''
      }`,
    );
  if (swept.factsLeft > 0)
    say(`${count(swept.factsLeft)} records were too many for the studies, which look at the first ones`);
  if (asked.summary !== undefined)
    writeFileSync(
      asked.summary,
      `${JSON.stringify(
        {
          files: swept.files.length,
          records,
          unreadable,
          rules: { loaded: rules.length, skipped, refused },
          matches,
          read: swept.files.map(({ file, readAs, ...counts }) => ({ file, as: readAs, ...counts })),
        },
        null,
        2,
      )}\n`,
    );
}
