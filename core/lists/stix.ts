import { isJsonObject, type Json, type JsonObject } from '../base/json.js';

// Indicators of STIX 2.1 (OASIS), section 4.7, with patterns of section 9: every comparison of a value for equality,
// or of an address for lying in a network, becomes a row. What a pattern says beyond that (AND, FOLLOWEDBY, WITHIN)
// a list cannot hold, and it is told.

/** `ipv4-addr:value = '198.51.100.3'`, `file:hashes.'SHA-256' = '…'`, `ipv4-addr:value ISSUBSET '198.51.100.0/24'` */
const COMPARISON =
  /([a-z0-9-]{1,100}):([\w.'-]{1,200})\s{0,10}(=|ISSUBSET)\s{0,10}'((?:[^'\\]|\\.){0,2000})'/g;
const BEYOND = /\b(?:AND|FOLLOWEDBY|WITHIN|REPEATS|NOT|LIKE|MATCHES)\b/;

const text = (value: Json | undefined): string | null => (typeof value === 'string' ? value : null);

/** The rows of one indicator: none where it is revoked; and what a list cannot hold of it. */
export function rowsOfIndicator(indicator: JsonObject): { rows: JsonObject[]; mistake: string | null } {
  const name = text(indicator['name']) ?? text(indicator['id']) ?? 'an indicator';
  const pattern = text(indicator['pattern']) ?? '';
  if (text(indicator['pattern_type']) !== 'stix' && indicator['pattern_type'] !== undefined)
    return {
      rows: [],
      mistake: `${name}: its pattern is "${text(indicator['pattern_type']) ?? 'unnamed'}", not STIX`,
    };
  if (indicator['revoked'] === true) return { rows: [], mistake: null };
  const labels = indicator['indicator_types'] ?? indicator['labels'] ?? null;
  const rows = Array.from(
    pattern.matchAll(COMPARISON),
    ([, kind = '', property = '', , value = '']): JsonObject => ({
      value: value.replace(/\\(.)/g, '$1'),
      kind: property.startsWith('hashes') ? property.replace(/^hashes\.?'?|'$/g, '').toLowerCase() : kind,
      name,
      ...(Array.isArray(labels) && {
        labels: (labels as readonly Json[]).flatMap((label) => text(label) ?? []).join(' '),
      }),
      ...(typeof indicator['confidence'] === 'number' && { confidence: indicator['confidence'] }),
      ...(typeof indicator['valid_from'] === 'string' && { valid_from: indicator['valid_from'] }),
      ...(typeof indicator['valid_until'] === 'string' && { expires: indicator['valid_until'] }),
    }),
  );
  if (rows.length === 0) return { rows, mistake: `${name}: no value could be read from its pattern` };
  // Taken apart, the values of a pattern that joins them match more than it does.
  return {
    rows,
    mistake: BEYOND.test(pattern.replace(/'(?:[^'\\]|\\.)*'/g, ''))
      ? `${name}: only the values of its pattern are taken`
      : null,
  };
}

/** The values of the indicators of a bundle, with their names and until when they hold. */
export function readStixBundle(bundle: JsonObject): { rows: JsonObject[]; mistakes: string[] } {
  const objects = Array.isArray(bundle['objects']) ? (bundle['objects'] as readonly Json[]) : [];
  const rows: JsonObject[] = [];
  const mistakes: string[] = [];
  for (const indicator of objects.filter(isJsonObject).filter((object) => object['type'] === 'indicator')) {
    const found = rowsOfIndicator(indicator);
    rows.push(...found.rows);
    if (found.mistake !== null) mistakes.push(found.mistake);
  }
  return { rows, mistakes };
}
