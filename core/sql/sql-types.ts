import { unreachable } from '../base/unreachable.js';
import type { ValueType } from '../events/types.js';

/** The PostgreSQL type that holds each type of the language. */
export const sqlTypes: Readonly<Record<ValueType, string>> = {
  text: 'text',
  number: 'float8',
  time: 'timestamptz',
  address: 'inet',
  truth: 'boolean',
  texts: 'text[]',
  addresses: 'inet[]',
  any: 'jsonb',
};

/** SQL of any type as text, spelled as the language spells it. */
export function asText(sql: string, type: ValueType): string {
  switch (type) {
    case 'text':
      return sql;
    case 'number':
      return `wick.number_text(${sql})`;
    case 'time':
      return `wick.time_text(${sql})`;
    case 'address':
      return `host(${sql})`;
    case 'truth':
      return `(${sql})::text`;
    case 'texts':
    case 'addresses':
      return `wick.json_text(to_jsonb(${sql}))`;
    case 'any':
      return `wick.any_text(${sql})`;
    default:
      return unreachable(type);
  }
}

/** SQL of any type as jsonb; times and addresses become text. */
export function asAny(sql: string, type: ValueType): string {
  if (type === 'any') return sql;
  return `to_jsonb(${type === 'time' || type === 'address' ? asText(sql, type) : sql})`;
}
