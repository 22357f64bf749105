import type { BlankPattern, PlanStep, ReadAs } from '../plan.js';
import { LITERAL_SPACE } from '../../text/blanks.js';
import type { Emit } from './emit-parts.js';
import { emitRecordset } from './recordset.js';
import { column } from '../../sql/sql-writer.js';

/** The slot that holds the text which prepared cuts belong to. */
export const CUT_FROM = 'cut_from';

const readers: Readonly<Record<ReadAs, (sql: string) => string>> = {
  text: (sql) => sql,
  number: (sql) => `wick.number(${sql})`,
  address: (sql) => `wick.address(${sql})`,
};

const WHITE = '[ \\t\\n\\v\\f\\r]';
const NOT_WHITE = '[^ \\t\\n\\v\\f\\r]';

/**
 * A pattern of literals and blanks as a PostgreSQL regular expression. Every repeat takes as little as it can, so
 * that the whole does (manual, section 9.7.3.5); looking ahead makes white space and the last blank take all.
 */
export function blanksToPostgres({ literals, rest, endsInBlank }: BlankPattern): string {
  const spelled = literals.map((literal) =>
    literal
      .split(LITERAL_SPACE)
      .map((part) =>
        Array.from(part, (sign) => `\\U${(sign.codePointAt(0) ?? 0).toString(16).padStart(8, '0')}`).join(''),
      )
      .join(`${WHITE}+?(?!${WHITE})`),
  );
  const last = rest ? '(.+?)\\Z' : `(${NOT_WHITE}+?)(?=${WHITE}|\\Z)`;
  return spelled.join('(.+?)') + (endsInBlank ? last : '');
}

/** The rows before with the columns cut out of a text. */
export function emitRead(emit: Emit, step: PlanStep & { step: 'read' }, before: string): string {
  const text = emit.expr(step.value);
  const cut = (sql: (i: number) => string): string =>
    step.columns.map(({ column: { slot }, as }, i) => `, ${readers[as](sql(i))} AS ${column(slot)}`).join('');
  if (step.by.how === 'blanks') {
    const pattern = emit.out.param(blanksToPostgres(step.by.pattern), 'text');
    return `SELECT b.*${cut((i) => `v.cut[${i + 1}]`)} FROM ${before} AS b
      CROSS JOIN LATERAL (SELECT regexp_match((${text}) COLLATE "C", ${pattern}) AS cut OFFSET 0) AS v`;
  }
  const prepared = emitRecordset(emit, step, [
    { slot: CUT_FROM, type: 'text' },
    ...step.columns.map(({ column: { slot } }) => ({ slot, type: 'text' as const })),
  ]);
  return `SELECT b.*${cut((i) => `p.${column(step.columns[i]?.column.slot ?? '')}`)} FROM ${before} AS b
    LEFT JOIN ${prepared} ON p.${column(CUT_FROM)} = (${text})`;
}
