import type { Pool, PoolClient } from 'pg';
import { formatInstant, type Instant, parseInstant } from '../../core/base/instant.js';
import type { Json, JsonObject } from '../../core/base/json.js';
import { EXPIRES, type ImportedRows, ImportError, importRows } from '../../core/lists/import.js';
import { foldKey } from '../../core/lists/list-match.js';
import { mixedColumn, partByKind } from '../../core/lists/indicator-kinds.js';
import { suggestKey } from '../../core/lists/suggest-key.js';
import { formatNetwork, parseNetwork } from '../../core/net/network.js';
import { jsonToText } from '../../core/text/json-text.js';
import type { ListContent, ListImported, ListPage, ListPreview, ListSummary } from '../../core/wire/lists.js';
import { bumpConfig } from '../db/config-versions.js';
import { transaction } from '../db/transaction.js';
import { Failure, notFound } from '../failure.js';
import { addChange } from '../trail/changes.js';
import {
  ADD_ROWS,
  PUT_LIST,
  TOUCH_LIST,
  HOLD_LIST,
  NEXT_POSITION,
  COUNT_ROWS,
  COLUMNS_OF_LIST,
  FIND_ROWS,
  KEY_OF_LIST,
  REMOVE_ROWS_OF_KEYS,
  REMOVE_ROWS,
  REMOVE_ALL_ROWS,
  REMOVE_LIST,
  REMOVE_PULL_OF_LIST,
  LIST_SUMMARIES,
  MAKE_LIST,
} from './sql.js';

const PREVIEW_ROWS = 20;
export const LIST_PAGE = 200;

/** A wildcard key as a LIKE pattern: `*` any run, `?` one character, everything else itself. */
const likePattern = (key: string): string =>
  foldKey(key)
    .replace(/[\\%_]/g, '\\$&')
    .replaceAll('*', '%')
    .replaceAll('?', '_');

interface SummaryRow {
  readonly name: string;
  readonly description: string;
  readonly match: ListSummary['match'];
  readonly key_column: string;
  readonly updated: Instant;
  readonly rows: number;
  readonly expired: number;
  readonly bytes: number;
  readonly used_by: ListSummary['usedBy'];
  readonly columns: readonly string[];
}

const toSummary = (row: SummaryRow): ListSummary => ({
  name: row.name,
  description: row.description,
  match: row.match,
  key: row.key_column,
  rows: row.rows,
  expired: row.expired,
  bytes: row.bytes,
  updated: formatInstant(row.updated),
  usedBy: row.used_by,
  columns: [...row.columns],
});

interface Record {
  readonly position: number;
  readonly key: string;
  readonly folded: string;
  readonly network: string | null;
  readonly pattern: string | null;
  readonly expires: string | null;
  readonly cells: JsonObject;
}

/** Rows as they are stored. @param first the position of the first @throws Failure 422 naming the row */
function toRecords(
  rows: readonly JsonObject[],
  { match, key: column }: Pick<ListContent, 'match' | 'key'>,
  first: number,
): Record[] {
  return rows.map((row, i) => {
    const refuse = (why: string): never => {
      throw new Failure('bad-list', `Row ${i + 1}${why}`);
    };
    const key = jsonToText(row[column] ?? null)?.trim() ?? '';
    if (key === '') return refuse(` has no "${column}".`);
    const network = match === 'network' ? parseNetwork(key) : null;
    if (match === 'network' && network === null)
      return refuse(`: "${key}" is no network such as 10.0.0.0/8.`);
    const until = jsonToText(row[EXPIRES] ?? null)?.trim() ?? '';
    const expires = until === '' ? null : parseInstant(until);
    if (until !== '' && expires === null)
      return refuse(`: "${EXPIRES}" is no time such as 2027-01-31 or 2027-01-31T12:00:00Z: "${until}".`);
    return {
      position: first + i,
      key,
      folded: foldKey(key),
      network: network && formatNetwork(network),
      pattern: match === 'wildcard' ? likePattern(key) : null,
      expires: expires === null ? null : formatInstant(expires),
      cells: row,
    };
  });
}

async function insertRows(client: PoolClient, list: string, records: readonly Record[]): Promise<void> {
  await client.query(ADD_ROWS, [list, JSON.stringify(records)]);
}

/** Marks a list as changed, for all that hold it in memory. */
async function touch(client: PoolClient, list: string): Promise<void> {
  await client.query(TOUCH_LIST, [list]);
  await bumpConfig(client, 'sources');
}

/** Adds rows behind those that are there; one with the key of another takes its place. */
async function addRows(
  client: PoolClient,
  list: string,
  rows: readonly JsonObject[],
  shape: Pick<ListContent, 'match' | 'key'>,
): Promise<void> {
  const { rows: last } = await client.query<{ next: number }>(NEXT_POSITION, [list]);
  const records = toRecords(rows, shape, last[0]?.next ?? 0);
  await client.query(REMOVE_ROWS_OF_KEYS, [list, records.map(({ folded }) => folded)]);
  await insertRows(client, list, records);
}

function read(text: string, heading?: boolean): ImportedRows {
  try {
    return importRows(text, heading);
  } catch (error) {
    if (error instanceof ImportError) throw new Failure('not-readable', error.message, { cause: error });
    throw error;
  }
}

/** Rows that were added and taken out, in words; the keys of the first few by name. */
function describeRows({
  add = [],
  remove = [],
}: {
  readonly add?: readonly Json[];
  readonly remove?: readonly number[];
}): string {
  const first = add.slice(0, 3).map((row) => JSON.stringify(row).slice(0, 80));
  return [
    ...(add.length > 0 ? [`added ${add.length} rows (${first.join(' ')}${add.length > 3 ? ' …' : ''})`] : []),
    ...(remove.length > 0 ? [`took out ${remove.length} rows`] : []),
  ].join(', ');
}

/** What is imported, and how. */
type ImportAsk = Pick<ListContent, 'match' | 'key' | 'description'> & {
  readonly text: string;
  readonly how: 'replace' | 'add';
  readonly heading?: boolean;
  readonly split?: boolean;
};

export class Lists {
  constructor(private readonly pool: Pool) {}

  async all(): Promise<ListSummary[]> {
    return (await this.pool.query<SummaryRow>(`${LIST_SUMMARIES} ORDER BY l.name`)).rows.map(toSummary);
  }

  /** A piece of a list. @param search finds rows that hold it in any cell, whatever the case @throws Failure 404 */
  async page(name: string, search: string, from: number): Promise<ListPage> {
    const [summary, columns, rows] = await Promise.all([
      this.pool.query<SummaryRow>(`${LIST_SUMMARIES} WHERE l.name = $1`, [name]),
      this.pool.query<{ column: string }>(COLUMNS_OF_LIST, [name]),
      this.pool.query<{ position: number; cells: JsonObject; expires: Instant | null; found: number }>(
        FIND_ROWS,
        [name, search, from, LIST_PAGE],
      ),
    ]);
    const [list] = summary.rows;
    if (list === undefined) throw notFound(`list "${name}"`);
    const others = columns.rows.map(({ column }) => column).filter((column) => column !== list.key_column);
    return {
      list: toSummary(list),
      columns: [list.key_column, ...others.filter((column) => column !== EXPIRES)],
      found: rows.rows[0]?.found ?? 0,
      rows: rows.rows.map(({ position, cells, expires }) => ({
        position,
        cells,
        expires: expires === null ? null : formatInstant(expires),
      })),
    };
  }

  /** Puts a list in place of what stood under its name. @throws Failure 422 for a key that does not suit the match */
  async put(name: string, content: ListContent): Promise<void> {
    const records = toRecords(content.rows as readonly JsonObject[], content, 0);
    await transaction(this.pool, async (client) => {
      await client.query(PUT_LIST, [name, content.match, content.key, content.description ?? null]);
      await client.query(REMOVE_ALL_ROWS, [name]);
      await insertRows(client, name, records);
      await addChange(client, 'list', name, `put in place, ${records.length} rows`);
      await touch(client, name);
    });
  }

  /**
   * Makes a list where there is none of its name; one that is there stays as it is, whoever made it meanwhile.
   * @returns the column of its keys
   */
  async ensure(name: string, shape: Omit<ListContent, 'rows'>): Promise<string> {
    return transaction(this.pool, async (client) => {
      const { rowCount } = await client.query(MAKE_LIST, [
        name,
        shape.match,
        shape.key,
        shape.description ?? null,
      ]);
      if (rowCount === 1) {
        await addChange(client, 'list', name, 'made');
        await touch(client, name);
      }
      const { rows } = await client.query<Pick<ListContent, 'key'>>(KEY_OF_LIST, [name]);
      return rows[0]?.key ?? shape.key;
    });
  }

  /** Puts rows in place of those a list has; its key and match stay. @throws Failure 404, 422 */
  async replaceRows(name: string, rows: readonly JsonObject[]): Promise<void> {
    const { rows: shapes } = await this.pool.query<Pick<ListContent, 'match' | 'key'>>(KEY_OF_LIST, [name]);
    const [shape] = shapes;
    if (shape === undefined) throw notFound(`list "${name}"`);
    await this.put(name, { ...shape, rows: [...rows] });
  }

  /** What an import of a text would bring. @throws Failure 422 */
  preview(text: string, heading?: boolean): ListPreview {
    const { rows, shape, columns, mistakes, notes = [], headed = null } = read(text, heading);
    const mixed = mixedColumn(columns, rows);
    const kinds = mixed === null ? [] : partByKind(rows, mixed);
    return {
      shape,
      columns: [...columns],
      mistakes: [...mistakes],
      notes: [...notes],
      headed,
      rows: rows.slice(0, PREVIEW_ROWS),
      total: rows.length,
      mixed,
      kinds: kinds.map((one) => ({ kind: one.kind, match: one.match, rows: one.rows.length })),
      ...suggestKey(columns, rows.slice(0, 2000)),
    };
  }

  /** Takes in the rows of a text; makes the lists that are not there. @throws Failure 422 */
  async import(name: string, ask: ImportAsk): Promise<ListImported> {
    const { rows, mistakes } = read(ask.text, ask.heading);
    const parts =
      ask.split === true
        ? partByKind(rows, ask.key).map((part) => ({
            name: `${name}-${part.kind}`,
            match: part.match,
            rows: part.rows,
          }))
        : [{ name, match: ask.match, rows }];
    let total = 0;
    for (const part of parts) total += await this.takeIn(part.name, { ...ask, match: part.match }, part.rows);
    return { rows: total, mistakes: [...mistakes], lists: parts.map((part) => part.name) };
  }

  /** @returns how many rows the list has now */
  private async takeIn(
    name: string,
    { match, key, description, how }: Omit<ImportAsk, 'text'>,
    rows: readonly JsonObject[],
  ): Promise<number> {
    const { rows: there } = await this.pool.query<Pick<ListContent, 'match'> & { key: string }>(KEY_OF_LIST, [
      name,
    ]);
    const [shape] = there;
    if (how === 'replace' || shape === undefined)
      await this.put(name, {
        match,
        key,
        ...(description !== undefined && { description }),
        rows: [...rows],
      });
    else
      await transaction(this.pool, async (client) => {
        await addRows(client, name, rows, shape);
        await addChange(client, 'list', name, `took in ${rows.length} rows`);
        await touch(client, name);
      });
    const { rows: now } = await this.pool.query<{ rows: number }>(COUNT_ROWS, [name]);
    return now[0]?.rows ?? 0;
  }

  /** Adds rows and takes rows out. @throws Failure 404, 422 */
  async changeRows(
    name: string,
    change: { add?: readonly Json[]; remove?: readonly number[] },
  ): Promise<void> {
    await transaction(this.pool, async (client) => {
      const { rows } = await client.query<Pick<ListContent, 'match' | 'key'>>(HOLD_LIST, [name]);
      const [shape] = rows;
      if (shape === undefined) throw notFound(`list "${name}"`);
      await client.query(REMOVE_ROWS, [name, change.remove ?? []]);
      await addRows(client, name, (change.add ?? []) as readonly JsonObject[], shape);
      await addChange(client, 'list', name, describeRows(change));
      await touch(client, name);
    });
  }

  /** Removes a list. @throws Failure 404; 409 while something rests on it */
  async remove(name: string): Promise<void> {
    const { rows } = await this.pool.query<SummaryRow>(`${LIST_SUMMARIES} WHERE l.name = $1`, [name]);
    const [list] = rows;
    if (list === undefined) throw notFound(`list "${name}"`);
    if (list.used_by.length > 0)
      throw new Failure(
        'in-use',
        `"${name}" is used by ${list.used_by.map((user) => `the ${user.what} "${user.name}"`).join(', ')}. Change that first.`,
      );
    await transaction(this.pool, async (client) => {
      await client.query(REMOVE_LIST, [name]);
      await addChange(client, 'list', name, 'removed');
      await client.query(REMOVE_PULL_OF_LIST, [name]);
      await bumpConfig(client, 'sources');
    });
  }
}
