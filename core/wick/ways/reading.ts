import { DAY, formatInstant } from '../../base/instant.js';
import { unreachable } from '../../base/unreachable.js';
import { walkPlan } from '../children.js';
import type { Condition, Plan } from '../plan.js';

/** Columns that the store finds events by. */
const INDEXED: ReadonlySet<string> = new Set(['user', 'src_ip', 'host']);

/** The day of a moment, in UTC. */
export const dayText = (time: number): string => formatInstant(time).slice(0, 10);

/** How events are read for a plan, in words: which days, by which index, and whether texts are searched. */
export function readingWords(plan: Plan): string[] {
  const { from, to } = plan.window;
  const days = Math.floor((to - 1) / DAY) - Math.floor(from / DAY) + 1;
  const found = plan.steps.flatMap((step) => (step.step === 'where' ? findersOf(step.condition) : []));
  const texts = plan.steps.some((step) => step.step === 'where' && searches(step.condition));
  const said = [
    `Reads events of ${days.toLocaleString('en')} ${days === 1 ? 'day' : 'days'}, ${dayText(from)} to ${dayText(to - 1)}; other days are not touched.`,
  ];
  if (found.length > 0)
    said.push(`Finds them by the index of ${[...new Set(found)].join(' or ')}, not by reading all.`);
  if (texts)
    said.push('Searches text in every event read: a condition on a field before it makes it quicker.');
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
    case 'always':
    case 'or':
    case 'not':
    case 'between':
    case 'in-list':
    case 'like':
    case 'matches':
    case 'within':
    case 'null':
    case 'has':
    case 'meets':
      return [];
    default:
      return unreachable(condition);
  }
}

/** Whether a condition searches texts as a whole. */
const searches = (condition: Condition): boolean =>
  [...walkPlan([condition])].some((node) => 'op' in node && node.op === 'has');
