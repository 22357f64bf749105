import { unreachable } from '../../base/unreachable.js';
import type { ListMatch, PlanStep } from '../plan.js';
import type { Emit } from './emit-parts.js';
import { asText } from '../../sql/sql-types.js';
import { column } from '../../sql/sql-writer.js';

/** How a row of a list is found by the text or address `v.looked`, and which of several goes before. */
function findRow(match: ListMatch, isAddress: boolean): { where: string; first: string } {
  switch (match) {
    case 'exact':
      return { where: 'k.folded = wick.lower(wick.trim(v.looked))', first: 'k.position' };
    case 'network':
      return {
        where: `k.network >>= ${isAddress ? 'v.looked' : 'wick.address(v.looked)'}`,
        first: 'masklen(k.network) DESC, k.position',
      };
    case 'wildcard':
      // The pattern with most characters that are no wildcards says most.
      return {
        where: 'wick.lower(wick.trim(v.looked)) LIKE k.pattern',
        first: `length(translate(k.folded, '*?', '')) DESC, k.position`,
      };
    default:
      return unreachable(match);
  }
}

/** The rows before, each with the columns of the row of a list that its value belongs to. */
export function emitLookUp(
  emit: Emit,
  { value, list, columns }: PlanStep & { step: 'look' },
  before: string,
): string {
  const sql = emit.expr(value);
  const isAddress = value.type === 'address' && list.match === 'network';
  const text =
    value.type === 'any'
      ? `CASE WHEN jsonb_typeof(${sql}) IN ('array', 'object') THEN NULL ELSE ${asText(sql, 'any')} END`
      : asText(sql, value.type);
  const { where, first } = findRow(list.match, isAddress);
  const added = columns.map(
    (one) =>
      `wick.any_text(NULLIF(l.cells -> ${emit.out.param(one.from, 'text')}, 'null'::jsonb)) AS ${column(one.column.slot)}`,
  );
  return `SELECT b.*${added.map((one) => `, ${one}`).join('')} FROM ${before} AS b
    CROSS JOIN LATERAL (SELECT ${isAddress ? sql : text} AS looked) AS v
    LEFT JOIN LATERAL (SELECT k.cells FROM wick.list_rows k WHERE k.list = ${emit.out.param(list.name, 'text')} AND ${where}
      ORDER BY ${first} LIMIT 1) AS l ON TRUE`;
}
