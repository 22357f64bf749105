import { isJsonObject, type JsonObject } from '../base/json.js';
import { canonicalAddress } from '../net/address.js';
import { parseNetwork } from '../net/network.js';
import type { ListMatch } from '../wick/plan.js';

// Indicators of several kinds in one text. Each kind is compared otherwise, so each becomes a list of its own.

export const indicatorKinds = [
  'addresses',
  'networks',
  'domains',
  'urls',
  'hashes',
  'mail',
  'others',
] as const;
export type IndicatorKind = (typeof indicatorKinds)[number];

/** How the values of a kind are compared. */
export const matchOfKind: Readonly<Record<IndicatorKind, ListMatch>> = {
  addresses: 'network',
  networks: 'network',
  // A star in a name or an address stands for any run of characters; without one the whole is compared.
  domains: 'wildcard',
  urls: 'wildcard',
  hashes: 'exact',
  mail: 'exact',
  others: 'exact',
};

/** Lengths of hexadecimal digests: MD5, SHA-1, SHA-224, SHA-256, SHA-384, SHA-512. */
const DIGESTS: ReadonlySet<number> = new Set([32, 40, 56, 64, 96, 128]);
const LABEL = '(?:\\*|[\\p{L}\\p{N}_](?:[\\p{L}\\p{N}_-]{0,61}[\\p{L}\\p{N}_])?)';
const DOMAIN = new RegExp(`^(?:${LABEL}\\.){1,20}[\\p{L}][\\p{L}\\p{N}-]{1,62}\\.?$`, 'u');

/** An indicator as it is meant: many are written so that nobody follows them by accident. */
export const refanged = (text: string): string =>
  text
    .trim()
    .replace(/\[(?:\.|dot)\]|\(\.\)|\{\.\}/gi, '.')
    .replace(/\[(?:@|at)\]/gi, '@')
    .replace(/\[:\/\/\]/g, '://')
    .replace(/\[:\]/g, ':')
    .replace(/^hxxp(s?):/i, 'http$1:');

/** The kind of an indicator by how it is written. */
export function kindOfIndicator(text: string): IndicatorKind {
  const value = refanged(text);
  if (canonicalAddress(value) !== null) return 'addresses';
  if (value.includes('/') && parseNetwork(value) !== null) return 'networks';
  if (/^[0-9a-f]+$/i.test(value) && DIGESTS.has(value.length)) return 'hashes';
  if (/^[a-z][a-z0-9+.-]{1,15}:\/\/\S+$/i.test(value)) return 'urls';
  if (/^[^\s@<>"]{1,64}@[^\s@<>"]{3,255}$/.test(value)) return 'mail';
  return value.length <= 255 && DOMAIN.test(value) ? 'domains' : 'others';
}

/** Rows of one kind, ready to be a list. */
export interface KindRows {
  readonly kind: IndicatorKind;
  readonly match: ListMatch;
  readonly rows: readonly JsonObject[];
}

/**
 * Parts rows by the kind of indicator that a column holds; values are kept as they are meant. Rows without a value are
 * left out.
 */
export function partByKind(rows: readonly JsonObject[], key: string): readonly KindRows[] {
  const found = new Map<IndicatorKind, JsonObject[]>();
  for (const row of rows) {
    const value = row[key];
    if (!isJsonObject(row) || typeof value !== 'string' || value.trim() === '') continue;
    const kind = kindOfIndicator(value);
    const of = found.get(kind) ?? [];
    found.set(kind, of);
    of.push({ ...row, [key]: refanged(value) });
  }
  return indicatorKinds.flatMap((kind) => {
    const of = found.get(kind);
    return of === undefined ? [] : [{ kind, match: matchOfKind[kind], rows: of }];
  });
}

/** So many values of one column are enough to see what it holds. */
const SAMPLE = 2000;
/** A column of indicators holds few values that are none. */
const MOST = 0.9;

/** The column that holds indicators of several kinds; null where none does. */
export function mixedColumn(columns: readonly string[], rows: readonly JsonObject[]): string | null {
  for (const column of columns) {
    const values = rows.slice(0, SAMPLE).flatMap((row) => {
      const value = row[column];
      return typeof value === 'string' && value.trim() !== '' ? [kindOfIndicator(value)] : [];
    });
    const known = values.filter((kind) => kind !== 'others');
    if (known.length < 2 || known.length < values.length * MOST) continue;
    if (new Set(known).size > 1) return column;
  }
  return null;
}
