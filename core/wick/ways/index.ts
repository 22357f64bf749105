import type { Plan } from '../plan.js';
import { traitsOf } from '../steps/index.js';
import { countsWay } from './counts.js';
import { growingWay } from './growing.js';
import { newestFirstWay } from './newest-first.js';
import { sightingsWay } from './sightings.js';
import { statementWay } from './statement.js';
import { substitutesOf, type Substitutes } from './substitutes.js';
import { isNo, type Facts, type Merger, type No, type Part, type Way } from './way.js';

/** A part as it is asked: which of its steps are answered by what is kept beside the events. */
export interface AnswerPart extends Part {
  readonly substitutes: Substitutes;
}

/** A way as it was chosen for a plan: what is asked, and the record of the choice. */
export interface Answer {
  readonly way: string;
  readonly plan: Plan;
  readonly parts: readonly AnswerPart[];
  readonly makeMerger: () => Merger | null;
  /** The first step whose passing rows the merger counts. */
  readonly countsFrom: number;
  /** How the hunt is answered, in words. */
  readonly words: readonly string[];
  /** The ways that come before it, and why they do not do. */
  readonly passedOver: readonly { readonly way: string; readonly because: string }[];
}

/** A way as the registry holds it: what it notes of a plan is its own matter. */
interface Choice {
  readonly name: string;
  readonly choose: (plan: Plan, facts: Facts) => Omit<Answer, 'passedOver'> | No;
}

function choiceOf<Found extends object>(way: Way<Found>): Choice {
  return {
    name: way.name,
    choose(plan, facts) {
      const found = way.applies(plan, facts);
      if (isNo(found)) return found;
      const parts = way
        .parts(found, plan)
        .map((part) => ({ ...part, substitutes: substitutesOf(part.plan.steps) }));
      return {
        way: way.name,
        plan,
        parts,
        makeMerger: () => way.merge(found, plan),
        countsFrom: way.countsFrom?.(found) ?? 0,
        words: [...way.words(found, plan), ...stepWords(plan, way.told(found), parts)],
      };
    },
  };
}

/** What steps after those that are told already have to say; a step that something kept stands for says nothing. */
function stepWords(plan: Plan, told: number, parts: readonly AnswerPart[]): string[] {
  const stoodFor = parts[0]?.substitutes;
  return plan.steps.slice(told + 1).flatMap((step) => {
    const { answered } = traitsOf(step);
    return answered === null || stoodFor?.get(step)?.by === 'counts'
      ? []
      : [`Line ${step.line} (${step.keyword}): ${answered}`];
  });
}

/** Every way of answering, in the order they are tried. */
const ways: readonly Choice[] = [
  choiceOf(countsWay),
  choiceOf(sightingsWay),
  choiceOf(newestFirstWay),
  choiceOf(growingWay),
  choiceOf(statementWay),
];

/**
 * Chooses the way in which a plan is answered: the first that applies.
 * @param without ways that have been tried, and could not
 */
export function chooseWay(plan: Plan, facts: Facts, without: ReadonlySet<string> = new Set()): Answer {
  const passedOver: { way: string; because: string }[] = [];
  for (const { name, choose } of ways) {
    if (without.has(name)) {
      passedOver.push({ way: name, because: 'it was tried, and would have had to hold too much' });
      continue;
    }
    const found = choose(plan, facts);
    if (!isNo(found)) return { ...found, passedOver };
    passedOver.push({ way: name, because: found.no });
  }
  throw new Error('One statement does for every plan.');
}
