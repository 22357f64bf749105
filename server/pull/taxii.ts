import type { Pool, PoolClient } from 'pg';
import { isJsonObject, type Json, type JsonObject } from '../../core/base/json.js';
import { kindOfIndicator, refanged } from '../../core/lists/indicator-kinds.js';
import { rowsOfIndicator } from '../../core/lists/stix.js';
import { PullFailure } from './pull-failure.js';
import { PUT_INDICATORS, ROWS_OF_LIST } from './sql.js';

// Indicators of a collection over TAXII 2.1 (OASIS), sections 3.4, 5.4: asked for what was added since the last time, page
// by page, as they stand now. What is revoked has no rows any more.

/** The media type of the protocol (section 1.6.8). */
export const TAXII_TYPE = 'application/taxii+json;version=2.1';

/** Objects asked for at once. */
const AT_ONCE = 500;

/** A page of a collection. */
export interface Envelope {
  readonly objects: readonly JsonObject[];
  readonly more: boolean;
  /** Where the next page begins; null where it is asked for by the date. */
  readonly next: string | null;
  /** When the last object of this page was added. */
  readonly addedLast: string | null;
}

/** The address of a page. @param collection the address of the collection, with or without `objects/` */
export function objectsAddress(collection: string, since: string | null, next: string | null): string {
  const url = new URL(collection);
  if (!/\/objects\/?$/.test(url.pathname)) url.pathname = `${url.pathname.replace(/\/$/, '')}/objects/`;
  url.searchParams.set('limit', String(AT_ONCE));
  url.searchParams.set('match[type]', 'indicator');
  // All versions come one after another; of one indicator the newest counts.
  if (since !== null) url.searchParams.set('added_after', since);
  if (next !== null) url.searchParams.set('next', next);
  return url.toString();
}

/** Takes a page apart. @throws PullFailure where it is no envelope */
export function readEnvelope(text: string, addedLast: string | undefined): Envelope {
  let envelope: Json;
  try {
    envelope = JSON.parse(text) as Json;
  } catch (error) {
    throw new PullFailure('The answer is no JSON.', null, error);
  }
  const objects = isJsonObject(envelope) ? (envelope['objects'] ?? []) : null;
  if (!isJsonObject(envelope) || !Array.isArray(objects))
    throw new PullFailure('The answer is no TAXII envelope: give the address of a collection.');
  const { next } = envelope;
  return {
    objects: (objects as readonly Json[]).filter(isJsonObject),
    more: envelope['more'] === true,
    next: typeof next === 'string' && next !== '' ? next.slice(0, 4000) : null,
    addedLast: addedLast !== undefined && !Number.isNaN(Date.parse(addedLast)) ? addedLast : null,
  };
}

/** Writes indicators down as they stand now; older versions change nothing. */
export async function keepIndicators(
  client: PoolClient,
  list: string,
  objects: readonly JsonObject[],
): Promise<void> {
  const newest = new Map<string, { readonly modified: string; readonly rows: readonly JsonObject[] }>();
  for (const object of objects) {
    const { type, id, modified, created } = object;
    if (type !== 'indicator' || typeof id !== 'string') continue;
    const at = typeof modified === 'string' ? modified : typeof created === 'string' ? created : '';
    const known = newest.get(id);
    if (known !== undefined && known.modified > at) continue;
    newest.set(id, { modified: at, rows: rowsOfIndicator(object).rows });
  }
  if (newest.size === 0) return;
  const all = [...newest];
  await client.query(PUT_INDICATORS, [
    list,
    all.map(([id]) => id),
    all.map(([, { modified }]) => modified),
    all.map(([, { rows }]) => JSON.stringify(rows)),
  ]);
}

/** The rows of a list as its indicators stand now. @param kind those that it takes; null for all */
export async function currentRows(
  pool: Pool,
  list: string,
  kind: string | null,
  most: number,
): Promise<readonly JsonObject[]> {
  const { rows } = await pool.query<{ row: JsonObject }>(ROWS_OF_LIST, [list, most + 1]);
  if (rows.length > most)
    throw new PullFailure(`Its indicators have more than ${most.toLocaleString('en')} values.`);
  return rows.flatMap(({ row }) => {
    const value = row['value'];
    if (typeof value !== 'string') return [];
    return kind === null || kindOfIndicator(value) === kind ? [{ ...row, value: refanged(value) }] : [];
  });
}
