import { formatInstant, SECOND } from '../../base/instant.js';
import { zoneOffsets } from '../../text/zones.js';
import type { FunctionName } from '../functions.js';
import type { Expr } from '../plan.js';
import type { Emit } from './emit-parts.js';
import { asText } from '../../sql/sql-types.js';
import type { SqlWriter } from '../../sql/sql-writer.js';

type Call = Expr & { op: 'call' };
type EmitCall = (emit: Emit, call: Call) => string;

const NULL_EXPR: Expr = { op: 'literal', type: 'any', value: null };
const arg = (call: Call, at: number): Expr => call.args[at] ?? NULL_EXPR;

/** An argument that functions of text take: of `any`, only texts count. */
function text(emit: Emit, call: Call, at: number): string {
  const expr = arg(call, at);
  const sql = emit.expr(expr);
  return expr.type === 'text' ? sql : `wick.any_string(${sql})`;
}

function time(emit: Emit, call: Call, at: number): string {
  const expr = arg(call, at);
  const sql = emit.expr(expr);
  if (expr.type === 'time') return sql;
  return `wick.instant(${expr.type === 'text' ? sql : `wick.any_string(${sql})`})`;
}

function address(emit: Emit, call: Call, at: number): string {
  const expr = arg(call, at);
  const sql = emit.expr(expr);
  if (expr.type === 'address') return sql;
  return `wick.address(${expr.type === 'text' ? sql : `wick.any_string(${sql})`})`;
}

const number = (emit: Emit, call: Call, at: number): string => emitNumber(emit, arg(call, at));

const onText =
  (sql: (text: string) => string): EmitCall =>
  (emit, call) =>
    sql(text(emit, call, 0));
const onNumber =
  (sql: (number: string) => string): EmitCall =>
  (emit, call) =>
    sql(number(emit, call, 0));

const clockPart =
  (part: 'hour' | 'isodow'): EmitCall =>
  (emit, call) => {
    const zone = call.fixed?.zone ?? 'UTC';
    if (zone === 'UTC') return `extract(${part} FROM ${time(emit, call, 0)} AT TIME ZONE 'UTC')::float8`;
    const { starts, offsets } = zoneOffsets(zone);
    const at = emit.out.param(starts.map(formatInstant), 'timestamptz[]');
    const seconds = emit.out.param(
      offsets.map((offset) => offset / SECOND),
      'float8[]',
    );
    return `extract(${part} FROM wick.local_time(${time(emit, call, 0)}, ${at}, ${seconds}))::float8`;
  };

/** Each function as SQL; the in-memory twin of each is in `in-memory/functions.ts`. */
export const emitFunctions: { readonly [F in Exclude<FunctionName, 'if'>]: EmitCall } = {
  lower: onText((sql) => `wick.lower(${sql})`),
  upper: onText((sql) => `wick.upper(${sql})`),
  trim: onText((sql) => `wick.trim(${sql})`),
  length: onText((sql) => `length(${sql})::float8`),
  substr: (emit, call) =>
    call.args.length > 2
      ? `wick.substr(${text(emit, call, 0)}, ${number(emit, call, 1)}, ${number(emit, call, 2)})`
      : `wick.substr(${text(emit, call, 0)}, ${number(emit, call, 1)})`,
  split: (emit, call) =>
    `wick.split(${text(emit, call, 0)}, ${text(emit, call, 1)}, ${number(emit, call, 2)})`,
  replace: (emit, call) =>
    `wick.replace(${text(emit, call, 0)}, ${text(emit, call, 1)}, ${text(emit, call, 2)})`,
  concat: (emit, call) => `wick.bounded(concat(${call.args.map((_, i) => text(emit, call, i)).join(', ')}))`,
  coalesce: (emit, call) => `COALESCE(${call.args.map((part) => emit.expr(part)).join(', ')})`,
  number: (emit, call) => {
    const expr = arg(call, 0);
    const sql = emit.expr(expr);
    if (expr.type === 'number') return sql;
    if (expr.type === 'text') return `wick.number(${sql})`;
    return expr.type === 'any' ? `wick.any_read_number(${sql})` : 'NULL::float8';
  },
  text: (emit, call) => asText(emit.expr(arg(call, 0)), arg(call, 0).type),
  round: (emit, call) =>
    `wick.round(${number(emit, call, 0)}, ${call.args.length > 1 ? number(emit, call, 1) : '0'})`,
  floor: onNumber((sql) => `floor(${sql})`),
  ceil: onNumber((sql) => `ceil(${sql})`),
  abs: onNumber((sql) => `abs(${sql})`),
  hour: clockPart('hour'),
  weekday: clockPart('isodow'),
  bucket: (emit, call) => emitBucket(emit.out, time(emit, call, 0), call.fixed?.micros ?? 1_000_000),
  network: (emit, call) => `wick.network(${address(emit, call, 0)}, ${number(emit, call, 1)})`,
  distance_km: (emit, call) =>
    `wick.distance_km(${[0, 1, 2, 3].map((at) => number(emit, call, at)).join(', ')})`,
  similarity: (emit, call) => `wick.similarity(${text(emit, call, 0)}, ${text(emit, call, 1)})`,
  entropy: onText((sql) => `wick.entropy(${sql})`),
  seconds_between: (emit, call) =>
    `(extract(epoch FROM (${time(emit, call, 1)} - ${time(emit, call, 0)}))::float8)`,
  decode_base64: onText((sql) => `wick.decode_base64(${sql})`),
};

/** A value as float8; of `any`, only numbers count. */
export function emitNumber(emit: Emit, expr: Expr): string {
  const sql = emit.expr(expr);
  if (expr.type === 'number') return sql;
  return expr.type === 'any' ? `wick.any_number(${sql})` : `NULL::float8`;
}

/** The start of the bucket a time lies in, counted from Monday 1970-01-05. */
export function emitBucket(out: SqlWriter, time: string, micros: number): string {
  const call = (): string => `wick.bucket(${time}, ${out.param(micros, 'bigint')})`;
  // An expression is written once, however deep it stands; a column may stand three times.
  if (!/^"?[a-z0-9_.]+"?$/i.test(time)) return call();
  // Written out for times after the origin: PostgreSQL calls the function for every row, which is five times slower.
  const origin = `'1970-01-05 00:00:00+00'::timestamptz`;
  const width = out.param(`${micros} microseconds`, 'interval');
  return `(CASE WHEN ${time} >= ${origin} THEN date_bin(${width}, ${time}, ${origin}) ELSE ${call()} END)`;
}
