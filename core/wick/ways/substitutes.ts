import { childrenOf } from '../children.js';
import type { PlanStep } from '../plan.js';
import { countableTally, type Countable } from './counts.js';
import { keptDebut, type KeptDebut } from './sightings.js';

/** What is kept beside the events and stands for a step, with the steps before it. */
export type Substitute =
  | { readonly by: 'counts'; readonly countable: Countable; readonly at: number }
  | { readonly by: 'sightings'; readonly kept: KeptDebut };

/** The steps that something kept stands for, those on the other side of joins among them. */
export type Substitutes = ReadonlyMap<PlanStep, Substitute>;

/** The substitute in one chain of steps; null where every step is answered from events. */
export function substituteIn(steps: readonly PlanStep[]): readonly [PlanStep, Substitute] | null {
  const counted = countableTally(steps);
  const tally = counted === null ? undefined : steps[counted.at];
  if (counted !== null && tally !== undefined) return [tally, { by: 'counts', ...counted }];
  const kept = keptDebut(steps);
  return kept === null ? null : [kept.step, { by: 'sightings', kept }];
}

/** Where what is kept beside the events can stand for them: the one decision that statements and words go by. */
export function substitutesOf(steps: readonly PlanStep[]): Substitutes {
  const own = substituteIn(steps);
  const inner = steps
    .map((step) => childrenOf(step).filter((child): child is PlanStep => 'step' in child))
    .filter((chain) => chain.length > 0);
  return new Map([...(own === null ? [] : [own]), ...inner.flatMap((chain) => [...substitutesOf(chain)])]);
}
