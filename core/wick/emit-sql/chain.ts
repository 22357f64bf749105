import type { PlanStep } from '../plan.js';
import { traitsOf } from '../steps/index.js';
import { emitCountedTally } from './counts.js';
import type { Emit } from './emit-parts.js';
import { emitDebut } from './debut.js';
import { emitStep } from './steps.js';
import { Weights } from './weights.js';

export const withQueries = (ctes: readonly string[]): string =>
  ctes.length === 0 ? '' : `WITH ${ctes.join(',\n')}\n`;

/** A query whose columns are made once, however often they are named: PostgreSQL does not look into one with an offset. */
export const computedOnce = (name: string, before: string): string =>
  `${name} AS NOT MATERIALIZED (SELECT * FROM ${before} OFFSET 0)`;

/**
 * The steps as named queries, each over the one before; those that counts or sightings can stand for are answered
 * by them.
 * @param prefix what the names begin with
 */
export function emitChain(
  emit: Emit,
  steps: readonly PlanStep[],
  prefix = 's',
): { ctes: string[]; last: string } {
  const ctes: string[] = [];
  let name = '';
  const { substitutes } = emit.supplied;
  // Counts stand for the steps before the tally as well.
  const counted = steps.findIndex((step) => substitutes.get(step)?.by === 'counts');
  const weights = new Weights();
  for (const [i, step] of steps.entries()) {
    if (i < counted) continue;
    const next = `${prefix}${i + 1}`;
    if (weights.isHeavy(step)) {
      ctes.push(computedOnce(`${next}_before`, name));
      name = `${next}_before`;
      weights.reset();
    }
    weights.note(step);
    const how = traitsOf(step).passesOn ? 'NOT MATERIALIZED ' : '';
    const instead = substitutes.get(step);
    const sql =
      instead?.by === 'counts' && step.step === 'tally'
        ? emitCountedTally(emit, instead.countable, step)
        : instead?.by === 'sightings'
          ? emitDebut(emit, instead.kept.step, name, instead.kept)
          : emitStep(emit, step, name);
    ctes.push(`${next} AS ${how}(${sql})`);
    name = next;
  }
  return { ctes, last: name };
}
