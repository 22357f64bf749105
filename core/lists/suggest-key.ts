import type { JsonObject } from '../base/json.js';
import { canonicalAddress } from '../net/address.js';
import { parseNetwork } from '../net/network.js';
import { jsonToText } from '../text/json-text.js';
import type { ListMatch } from '../wick/plan.js';

const KEY_NAMES = ['key', 'id', 'value', 'user', 'login', 'name', 'address', 'network', 'ip', 'host', 'code'];

/** The column that is most likely the key of these rows, and how it is matched. */
export function suggestKey(
  columns: readonly string[],
  rows: readonly JsonObject[],
): { key: string; match: ListMatch } {
  const textsOf = (column: string): string[] =>
    rows.map((row) => jsonToText(row[column] ?? null)?.trim() ?? '').filter((text) => text !== '');
  // A key is there in every row and says something different in each.
  const full = columns.filter((column) => textsOf(column).length === rows.length);
  const unique = full.filter((column) => new Set(textsOf(column)).size === rows.length);
  const candidates = unique.length > 0 ? unique : full.length > 0 ? full : columns;
  const key =
    KEY_NAMES.map((name) => candidates.find((column) => column.toLowerCase() === name)).find(Boolean) ??
    candidates[0] ??
    '';
  const texts = textsOf(key);
  const isNetwork = texts.length > 0 && texts.every((text) => parseNetwork(text) !== null);
  if (isNetwork && texts.some((text) => canonicalAddress(text) === null)) return { key, match: 'network' };
  return { key, match: texts.some((text) => /[*?]/.test(text)) ? 'wildcard' : 'exact' };
}
