import { columnDef, isColumnName } from '../events/columns.js';
import { formatNetwork } from '../net/network.js';
import { parsePath, type FieldPath } from '../recipes/field-path.js';
import type { Predicate, RefHow, ValueTest } from './predicate.js';
import { toPostgres } from '../text/regex-emit.js';
import { MANY, ONE, type Wildcard } from '../text/wildcard.js';
import { unreachable } from '../base/unreachable.js';
import { asAny } from '../sql/sql-types.js';
import { column, type SqlWriter } from '../sql/sql-writer.js';

// The condition of a rule over the rows of events, true of the same events as the test that is compiled for intake.
// Null counts as false where these stand; only `not` has to make it so.

/** Columns whose values are asked as they are, so that no list has to be opened. */
const isPlainText = (name: string): boolean => isColumnName(name) && columnDef(name).type === 'text';

/** A path that goes through the lists on its way, and opens the last; `lax` is how jsonpath does that by itself. */
const listPath = (path: FieldPath): string =>
  `lax $${path.map((part) => `."${part.replace(/[\\"]/g, '\\$&')}"`).join('')}[*]`;

/** The source's own field of a name: the flat key first, then the path; null for JSON null. */
function ownField(out: SqlWriter, field: string): string {
  const name = out.param(field, 'text');
  const path = parsePath(field);
  const own = column('original');
  const flat = `${own} -> ${name}`;
  if (path.length === 1) return `NULLIF(${flat}, 'null'::jsonb)`;
  const nested = `COALESCE(${own} #> ${out.param(path, 'text[]')}, NULLIF(jsonb_path_query_array(${own}, ${out.param(listPath(path), 'jsonpath')}), '[]'::jsonb))`;
  return `NULLIF(CASE WHEN ${own} ? ${name} THEN ${flat} ELSE ${nested} END, 'null'::jsonb)`;
}

/** A canonical column as JSON; times are microseconds, as events carry them. */
function canonicalField(field: string): string | null {
  if (!isColumnName(field) || field === 'original' || field === 'raw') return null;
  const { type } = columnDef(field);
  if (type === 'time') return `to_jsonb((extract(epoch FROM ${column(field)}) * 1000000)::bigint)`;
  // Fixed words are kept as enums.
  if (type === 'text') return `to_jsonb(${column(field)}::text)`;
  return asAny(column(field), type);
}

function fieldValue(out: SqlWriter, field: string): string {
  const own = ownField(out, field);
  const canonical = canonicalField(field);
  if (canonical === null) return own;
  // An object under the name of a column says less than what its recipe made of it.
  return `CASE WHEN jsonb_typeof(${own}) = 'object' THEN COALESCE(${canonical}, ${own}) ELSE COALESCE(${own}, ${canonical}) END`;
}

/** A pattern as LIKE writes it, `\` escaping. */
const likePattern = ({ parts }: Wildcard): string =>
  parts.map((part) => (part === MANY ? '%' : part === ONE ? '_' : part.replace(/[\\%_]/g, '\\$&'))).join('');

/** A test of a text. */
function emitTextTest(out: SqlWriter, test: ValueTest & { test: 'text' | 'regex' }, text: string): string {
  if (test.test === 'regex')
    return `(${text}) COLLATE "C" ~ ${out.param(toPostgres(test.regex.tree), 'text')}`;
  const seen = test.cased ? `(${text}) COLLATE "C"` : `wick.lower(${text}) COLLATE "C"`;
  return test.pattern.parts.every((part) => typeof part === 'string')
    ? `${seen} = ${out.param(test.pattern.parts.join(''), 'text')}`
    : `${seen} LIKE ${out.param(likePattern(test.pattern), 'text')}`;
}

/** A test of one JSON value, which may be SQL null and is never JSON null. */
function emitValueTest(out: SqlWriter, test: ValueTest, value: string): string {
  switch (test.test) {
    case 'text':
    case 'regex':
      return emitTextTest(out, test, `wick.rule_text(${value})`);
    case 'null':
      return `${value} IS NULL`;
    case 'exists':
      return `${value} IS ${test.wanted ? 'NOT ' : ''}NULL`;
    case 'network':
      return `wick.address(wick.trim(wick.any_string(${value}))) <<= ${out.param(formatNetwork(test.network), 'inet')}`;
    case 'number':
      return `wick.any_read_number(${value}) ${test.sign} ${out.param(test.value, 'float8')}`;
    case 'time-part':
      return emitValueTest(out, test.of, `wick.time_part(${value}, ${out.param(test.part, 'text')})`);
    case 'fieldref':
      throw new Error('A reference to another field is compared where the event is at hand.');
    default:
      return unreachable(test);
  }
}

const overElements = (value: string, test: (element: string) => string): string =>
  `EXISTS (SELECT 1 FROM wick.elements(${value}) AS u(v) WHERE ${test('u.v')})`;

const comparisons: Readonly<Record<RefHow, (a: string, b: string) => string>> = {
  equals: (a, b) => `${a} = ${b} COLLATE "C"`,
  startswith: (a, b) => `starts_with(${a}, ${b})`,
  endswith: (a, b) => `right(${a}, length(${b})) = ${b} COLLATE "C"`,
  contains: (a, b) => `strpos(${a}, ${b}) > 0`,
};

function emitReference(out: SqlWriter, field: string, test: ValueTest & { test: 'fieldref' }): string {
  const text = (v: string): string =>
    test.cased ? `wick.rule_text(${v})` : `wick.lower(wick.rule_text(${v}))`;
  return `EXISTS (SELECT 1 FROM wick.elements(${fieldValue(out, field)}) AS a(v), wick.elements(${fieldValue(out, test.field)}) AS b(v) WHERE ${comparisons[test.how](text('a.v'), text('b.v'))})`;
}

function emitField(out: SqlWriter, field: string, test: ValueTest): string {
  if (test.test === 'fieldref') return emitReference(out, field, test);
  // A field is there whatever its list holds, or if that is empty.
  if (test.test === 'exists') return emitValueTest(out, test, `(${fieldValue(out, field)})`);
  const each = (value: string): string => overElements(value, (v) => emitValueTest(out, test, v));
  if (!isPlainText(field) || (test.test !== 'text' && test.test !== 'regex'))
    return each(fieldValue(out, field));
  // Few sources have fields of their own under our names; what is in the column need not be opened.
  const own = ownField(out, field);
  return `CASE WHEN ${own} IS NULL OR (jsonb_typeof(${own}) = 'object' AND ${column(field)} IS NOT NULL) THEN ${emitTextTest(out, test, `${column(field)}::text`)} ELSE ${each(own)} END`;
}

/**
 * The condition of a rule as SQL over the columns of events.
 * @param out takes the values
 */
export function emitPredicate(out: SqlWriter, predicate: Predicate): string {
  switch (predicate.op) {
    case 'always':
      return predicate.holds ? 'TRUE' : 'FALSE';
    case 'and':
    case 'or':
      return predicate.parts.length === 0
        ? predicate.op === 'and'
          ? 'TRUE'
          : 'FALSE'
        : `(${predicate.parts.map((part) => emitPredicate(out, part)).join(predicate.op === 'and' ? ' AND ' : ' OR ')})`;
    case 'not':
      return `NOT COALESCE(${emitPredicate(out, predicate.part)}, FALSE)`;
    case 'field':
      return emitField(out, predicate.field, predicate.test);
    case 'keyword': {
      const found = `EXISTS (SELECT 1 FROM wick.leaves(${column('message')}, ${column('original')}) AS u(v) WHERE ${emitTextTest(out, predicate.test, 'u.v')})`;
      return predicate.record === true
        ? `(${found} OR ${emitTextTest(out, predicate.test, column('raw'))})`
        : found;
    }
    default:
      return unreachable(predicate);
  }
}
