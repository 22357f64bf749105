import { isColumnName } from '../events/columns.js';

/** A condition that names one value of one field. */
export interface Carried {
  readonly field: string;
  readonly value: string;
}

const SIMPLE = /^([a-z_]+) = (?:'((?:[^']|'')*)'|(-?\d+(?:\.\d+)?|true|false))$/;

/** A carried condition of the plain form `field = 'value'`; null for any other. */
export function readCarriedCondition(condition: string): Carried | null {
  const [, field = '', quoted, bare] = SIMPLE.exec(condition.trim()) ?? [];
  if (!isColumnName(field)) return null;
  const value = quoted?.replaceAll("''", "'") ?? bare;
  return value === undefined ? null : { field, value };
}
