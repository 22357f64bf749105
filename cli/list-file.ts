import { readFileSync } from 'node:fs';
import { parseInstant, type Instant } from '../core/base/instant.js';
import { isJsonObject, type Json } from '../core/base/json.js';
import { EXPIRES } from '../core/lists/import.js';
import { listFinder } from '../core/lists/list-match.js';
import type { FindRow } from '../core/wick/in-memory/environment.js';
import { jsonToText } from '../core/text/json-text.js';
import type { ListMatch, ListRef } from '../core/wick/plan.js';
import { UsageError } from './usage.js';

export interface FileList {
  readonly ref: ListRef;
  readonly find: FindRow;
}

const isMatch = (value: unknown): value is ListMatch =>
  value === 'exact' || value === 'network' || value === 'wildcard';

/** True for a row that still holds. */
function isHeld(row: Json, now: Instant): boolean {
  const until = isJsonObject(row) ? row[EXPIRES] : undefined;
  const end = typeof until === 'string' ? parseInstant(until.trim()) : null;
  return end === null || end > now;
}

/** Reads a list: `{"match":"exact|network|wildcard","key":COLUMN,"rows":[{…}]}`; rows whose `expires` lies before now are left out. @throws UsageError */
export function readListFile(name: string, file: string, now: Instant): FileList {
  let document: Json;
  try {
    document = JSON.parse(readFileSync(file, 'utf8')) as Json;
  } catch (error) {
    throw new UsageError(
      `--list ${name}: ${file} cannot be read: ${error instanceof Error ? error.message : String(error)}`,
    );
  }
  const key = isJsonObject(document) ? document['key'] : undefined;
  const match = isJsonObject(document) ? (document['match'] ?? 'exact') : undefined;
  const written = isJsonObject(document) ? document['rows'] : undefined;
  const rows = Array.isArray(written) ? written.filter((row: Json) => isHeld(row, now)) : undefined;
  if (!isMatch(match) || typeof key !== 'string' || !Array.isArray(rows)) {
    throw new UsageError(
      `--list ${name}: ${file} must hold {"match":"exact|network|wildcard","key":COLUMN,"rows":[…]}.`,
    );
  }
  const keys = rows.map((row: Json) => (isJsonObject(row) ? (jsonToText(row[key] ?? null) ?? '') : ''));
  const find = listFinder(match, keys);
  const columns = new Set([key, ...rows.flatMap((row: Json) => (isJsonObject(row) ? Object.keys(row) : []))]);
  columns.delete(EXPIRES);
  return {
    ref: { name, match, columns: [...columns] },
    find: (text) => {
      const row = rows[find(text) ?? -1] as Json | undefined;
      return row !== undefined && isJsonObject(row) ? row : undefined;
    },
  };
}
