import { lowerText } from '../text/letters.js';
import { addressKey, type AddressKey } from '../net/address.js';
import { maskKey, parseNetwork } from '../net/network.js';
import { parseWildcard, wildcardTest } from '../text/wildcard.js';
import type { ListMatch } from '../wick/plan.js';

/** How a text is spelled in an exact list: trimmed, in small letters. */
export const foldKey = (text: string): string => lowerText(text.trim());

/**
 * Finds the row of a list that a text belongs to.
 * @returns the position of the row, or undefined
 */
export type ListFinder = (text: string) => number | undefined;

/**
 * Makes a list ready for finding. Of several rows: the first of equal keys, the longest network, the pattern
 * with most literal characters.
 * @param keys the key of each row; keys that do not suit the match are skipped
 */
export function listFinder(match: ListMatch, keys: readonly string[]): ListFinder {
  switch (match) {
    case 'exact':
      return exactFinder(keys);
    case 'network':
      return networkFinder(keys);
    case 'wildcard':
      return wildcardFinder(keys);
  }
}

function exactFinder(keys: readonly string[]): ListFinder {
  const rows = new Map<string, number>();
  keys.forEach((key, row) => {
    const folded = foldKey(key);
    if (!rows.has(folded)) rows.set(folded, row);
  });
  return (text) => rows.get(foldKey(text));
}

function networkFinder(keys: readonly string[]): ListFinder {
  // Rows by masked key, for each length of prefix of each family, longest first.
  const byPrefix = new Map<string, Map<AddressKey, number>>();
  keys.forEach((key, row) => {
    const network = parseNetwork(key.trim());
    if (network === null) return;
    const name = `${network.key[0]}/${network.prefix}`;
    const rows = byPrefix.get(name) ?? new Map<AddressKey, number>();
    if (!rows.has(network.key)) rows.set(network.key, row);
    byPrefix.set(name, rows);
  });
  const lengths = Array.from(byPrefix, ([name, rows]) => ({
    family: name[0],
    prefix: Number(name.slice(2)),
    rows,
  })).sort((a, b) => b.prefix - a.prefix);
  return (text) => {
    const key = addressKey(text.trim());
    if (key === null) return undefined;
    for (const { family, prefix, rows } of lengths) {
      const row = family === key[0] ? rows.get(maskKey(key, prefix)) : undefined;
      if (row !== undefined) return row;
    }
    return undefined;
  };
}

function wildcardFinder(keys: readonly string[]): ListFinder {
  const patterns = keys
    .map((key, row) => {
      const wildcard = parseWildcard(foldKey(key), '*', '?');
      return {
        row,
        test: wildcardTest(wildcard),
        literals: wildcard.parts.filter((part) => typeof part === 'string').length,
      };
    })
    .sort((a, b) => b.literals - a.literals || a.row - b.row);
  return (text) => {
    const folded = foldKey(text);
    return patterns.find(({ test }) => test(folded))?.row;
  };
}
