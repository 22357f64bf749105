import type { Json } from '../../core/base/json.js';
import { dossierPath, kindsOfColumn, type SubjectKind } from '../../core/subjects/kinds.js';

/** The dossier of a subject, under the Beam. @param search the part of the address that carries the Beam */
export const dossierAddress = (kind: SubjectKind, name: string, search: string): string =>
  dossierPath(kind, name) + search;

/** The dossier that a value of a field leads to; null where it names no subject. */
export function dossierOf(
  field: string | null,
  value: Json,
): { readonly kind: SubjectKind; readonly name: string } | null {
  const [kind] = field === null ? [] : kindsOfColumn(field);
  return kind === undefined || typeof value !== 'string' || value === '' ? null : { kind, name: value };
}
