import { unreachable } from '../../base/unreachable.js';
import type { Aggregate, OrderKey } from '../plan.js';
import type { Emit } from './emit-parts.js';
import { emitOrder } from './order.js';
import { sqlTypes } from '../../sql/sql-types.js';

/** An aggregate as SQL over the rows of a group. @param inOrder the order rows happened in, for first and last */
export function emitAggregate(emit: Emit, aggregate: Aggregate, inOrder: readonly OrderKey[]): string {
  if (aggregate.where !== undefined)
    return `(count(*) FILTER (WHERE ${emit.condition(aggregate.where)}))::float8`;
  if (aggregate.value === undefined) return 'count(*)::float8';
  const type = aggregate.value.type;
  const x = emit.expr(aggregate.value);
  const decimal = (): string => (aggregate.integer ? `(${x})::bigint` : `wick.decimal(${x})`);
  switch (aggregate.fn) {
    case 'count':
      return aggregate.distinct ? `count(DISTINCT ${x})::float8` : `count(${x})::float8`;
    case 'sum':
      return `wick.float(sum(${decimal()})::numeric)`;
    case 'avg':
      return `wick.divide(wick.float(sum(${decimal()})::numeric), count(${x})::float8)`;
    case 'stddev':
      return `wick.deviation(count(${x}), sum(wick.decimal(${x})), sum(wick.decimal(${x}) * wick.decimal(${x})))`;
    case 'median':
    case 'percentile':
      return `percentile_cont(${emit.out.param((aggregate.percent ?? 50) / 100, 'float8')}) WITHIN GROUP (ORDER BY ${x})`;
    case 'min':
    case 'max':
      return emitExtreme(aggregate, x);
    case 'first':
    case 'last': {
      const order = emitOrder(
        aggregate.fn === 'first' ? inOrder : inOrder.map((key) => ({ ...key, descending: !key.descending })),
      );
      const listed = type === 'texts' || type === 'addresses';
      const picked = `(array_agg(${listed ? `to_jsonb(${x})` : x} ORDER BY ${order}) FILTER (WHERE ${x} IS NOT NULL))[1]`;
      return listed ? `wick.texts(${picked})::${sqlTypes[type]}` : picked;
    }
    case 'values':
      return emitValues(aggregate, x);
    default:
      return unreachable(aggregate.fn);
  }
}

function emitExtreme(aggregate: Aggregate, x: string): string {
  const least = aggregate.fn === 'min';
  switch (aggregate.value?.type) {
    case 'text':
      return `${aggregate.fn}((${x}) COLLATE "C")`;
    case 'truth':
      return least ? `bool_and(${x})` : `bool_or(${x})`;
    case 'any': {
      const way = least ? 'ASC' : 'DESC';
      return `(array_agg(${x} ORDER BY wick.rank(${x}) ${way}, wick.any_number(${x}) ${way}, wick.any_text(${x}) COLLATE "C" ${way}) FILTER (WHERE ${x} IS NOT NULL))[1]`;
    }
    default:
      return `${aggregate.fn}(${x})`;
  }
}

function emitValues(aggregate: Aggregate, x: string): string {
  switch (aggregate.value?.type) {
    case 'text':
      return `(array_agg(DISTINCT (${x}) COLLATE "C" ORDER BY (${x}) COLLATE "C") FILTER (WHERE ${x} IS NOT NULL))[1:100]`;
    case 'address':
      return `(array_agg(DISTINCT ${x} ORDER BY ${x}) FILTER (WHERE ${x} IS NOT NULL))[1:100]`;
    case 'time':
      return `wick.time_values((array_agg(DISTINCT ${x} ORDER BY ${x}) FILTER (WHERE ${x} IS NOT NULL))[1:100])`;
    case 'number':
    case 'truth':
      return `to_jsonb((array_agg(DISTINCT ${x} ORDER BY ${x}) FILTER (WHERE ${x} IS NOT NULL))[1:100])`;
    default:
      return `wick.any_values(array_agg(DISTINCT ${x}) FILTER (WHERE ${x} IS NOT NULL))`;
  }
}
