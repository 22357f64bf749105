import type { PlanStep } from '../plan.js';
import { emitCondition } from './condition.js';
import type { Emit } from './emit-parts.js';
import { emitKept } from './keys.js';
import { column } from '../../sql/sql-writer.js';

/**
 * Left rows beside right rows of the same keys. With a distance in time both sides are cut into stretches of that
 * width, and the right side stands in its own and the two beside it: so only rows near each other meet at all.
 */
export function emitJoin(emit: Emit, step: PlanStep & { step: 'join' }, before: string): string {
  const { out } = emit;
  const { ctes, last } = emit.chain(step.steps, `${out.name()}_`);
  const right = out.name();
  const kept = emitKept(step.kept).join(', ');
  const on = step.on.map(({ left, right: other }) =>
    emitCondition(emit, { op: 'compare', sign: '=', left, right: other }),
  );
  const how = step.keepUnmatched ? 'LEFT JOIN' : 'JOIN';
  if (step.within === null) {
    return `WITH ${ctes.join(', ')}, ${right} AS (SELECT ${kept} FROM ${last})
      SELECT l.*, r.* FROM ${before} AS l ${how} ${right} AS r ON ${on.join(' AND ')}`;
  }
  const { micros, left: leftTime, right: rightTime } = step.within;
  const width = out.param(micros, 'bigint');
  const stretch = (slot: string): string => `floor(wick.micros(${column(slot)})::numeric / ${width})`;
  const [leftStretch, rightStretch] = [column(out.name()), column(out.name())];
  on.push(
    `${leftStretch} = ${rightStretch}`,
    `abs(wick.micros(${column(leftTime)}) - wick.micros(${column(rightTime)})) <= ${width}`,
  );
  return `WITH ${ctes.join(', ')},
      ${right} AS (SELECT *, ${stretch(rightTime)} + aside AS ${rightStretch}
        FROM (SELECT ${kept} FROM ${last}) AS k CROSS JOIN (VALUES (-1), (0), (1)) AS v(aside))
    SELECT l.*, r.* FROM (SELECT *, ${stretch(leftTime)} AS ${leftStretch} FROM ${before}) AS l
      ${how} ${right} AS r ON ${on.join(' AND ')}`;
}
