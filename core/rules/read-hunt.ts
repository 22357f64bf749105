import type { HuntRule } from '../sigma/rule-model.js';
import { SigmaError } from '../sigma/sigma-error.js';
import { compileHunt } from '../wick/compile.js';
import { compileFollowable } from '../wick/followable.js';
import { HuntError } from '../wick/hunt-error.js';
import type { ListRef, Plan } from '../wick/plan.js';
import type { Instant } from '../base/instant.js';
import { nearestWord } from '../base/text-distance.js';
import { windowOf } from './hunt-trigger.js';

/**
 * The plan of a hunt that is a rule.
 * @param due when it runs
 * @throws SigmaError on the line of the whole text where it cannot be read, or its trigger names what it has not
 */
export function planOfHunt(hunt: HuntRule, lists: readonly ListRef[], due: Instant): Plan {
  const options = { window: windowOf(hunt, due), now: due, lists };
  const lineOf = (line: number): number => hunt.huntLine + line - 1;
  try {
    if (hunt.runs.how === 'live') {
      const { plan, until } = compileFollowable(hunt.hunt, options);
      if (until !== null)
        throw new SigmaError(
          lineOf(until.line),
          `"${until.keyword}" needs all rows at once: a hunt that runs live keeps to from, where, set, read and look up. Give it "every" or "cron" instead of "live"`,
        );
      return plan;
    }
    const plan = compileHunt(hunt.hunt, options);
    requireColumns(hunt, plan);
    return plan;
  } catch (error) {
    if (error instanceof HuntError) throw new SigmaError(lineOf(error.span.line), error.message);
    throw error;
  }
}

/** The columns that the settings name must be there. */
function requireColumns({ trigger, settings, line }: HuntRule, plan: Plan): void {
  const names = plan.columns.map(({ name }) => name);
  const wanted = [...(trigger.column === null ? [] : [trigger.column]), ...(settings.subject ?? [])];
  for (const name of wanted)
    if (!names.some((one) => one.toLowerCase() === name.toLowerCase())) {
      const nearest = nearestWord(name, names);
      throw new SigmaError(
        line,
        `the hunt gives no column "${name}"${nearest === undefined ? '' : `. Did you mean "${nearest}"?`}`,
      );
    }
  if (trigger.of === 'sources' && !names.includes('source'))
    throw new SigmaError(line, 'the hunt gives no column "source" whose values could be counted');
}
