import { DAY, formatInstant } from '../base/instant.js';
import { countableTally } from './emit-sql/counts.js';
import { keptDebut } from './emit-sql/pair-days.js';
import type { Condition, Plan } from './plan.js';
import { slicesOf } from './slices.js';
import { traitsOf } from './steps/index.js';

/** Columns that the store finds events by. */
const INDEXED: ReadonlySet<string> = new Set(['user', 'src_ip', 'host']);

const date = (time: number): string => formatInstant(time).slice(0, 10);

/**
 * Says in words which way a hunt is answered, and why.
 * @param stretches how many stretches of the window are counted one after another; 1 where one statement does it
 */
export function explainPlan(plan: Plan, stretches: number): string[] {
  const counted = countableTally(plan.steps);
  const kept = keptDebut(plan.steps);
  const said: string[] = [];
  if (kept !== null)
    said.push(
      `The baseline is answered from sightings kept by the day (${kept.pair}), ${date(kept.days.from)} to ${date(kept.days.to - 1)}. Events are read only from ${date(kept.days.to)} on.`,
    );
  else if (counted !== null) {
    const { rollUp } = counted.countable;
    const unit = rollUp.micros === DAY ? 'day' : 'hour';
    said.push(
      `Answered from counts kept by the ${unit} of ${rollUp.columns.join(', ')}: the tally needs nothing else. Events are read only at the ends of the window that are no whole ${unit}.`,
    );
  } else said.push(...explainReading(plan, stretches));
  for (const step of plan.steps.slice(counted === null ? 1 : counted.at + 1)) {
    const { answered } = traitsOf(step);
    if (answered !== null) said.push(`Line ${step.line} (${step.keyword}): ${answered}`);
  }
  return said;
}

function explainReading(plan: Plan, stretches: number): string[] {
  const { from, to } = plan.window;
  const days = Math.floor((to - 1) / DAY) - Math.floor(from / DAY) + 1;
  const found = plan.steps.flatMap((step) => (step.step === 'where' ? findersOf(step.condition) : []));
  const texts = plan.steps.some((step) => step.step === 'where' && searches(step.condition));
  const said = [
    `Reads events of ${days.toLocaleString('en')} ${days === 1 ? 'day' : 'days'}, ${date(from)} to ${date(to - 1)}; other days are not touched.`,
  ];
  if (found.length > 0)
    said.push(`Finds them by the index of ${[...new Set(found)].join(' or ')}, not by reading all.`);
  if (texts)
    said.push('Searches text in every event read: a condition on a field before it makes it quicker.');
  if (stretches > 1)
    said.push(
      `Counts the newest day first and adds up ${stretches} stretches, so that figures show at once and sharpen.`,
    );
  if (slicesOf(plan).length > 1)
    said.push('Goes from the newest day back, and stops as soon as enough rows are found.');
  return said;
}

/** Columns with an index that a condition fixes to values. */
function findersOf(condition: Condition): string[] {
  switch (condition.op) {
    case 'and':
      return condition.parts.flatMap(findersOf);
    case 'compare':
      return condition.sign === '=' &&
        condition.left.op === 'column' &&
        INDEXED.has(condition.left.slot) &&
        condition.right.op === 'literal'
        ? [condition.left.slot]
        : [];
    case 'in':
      return condition.value.op === 'column' && INDEXED.has(condition.value.slot)
        ? [condition.value.slot]
        : [];
    default:
      return [];
  }
}

function searches(condition: Condition): boolean {
  if (condition.op === 'has') return true;
  if (condition.op === 'and' || condition.op === 'or') return condition.parts.some(searches);
  return condition.op === 'not' && searches(condition.part);
}
