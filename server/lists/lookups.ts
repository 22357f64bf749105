import type { Pool, PoolClient } from 'pg';
import type { Instant } from '../../core/base/instant.js';
import type { JsonObject } from '../../core/base/json.js';
import { memoOfText } from '../../core/base/memo.js';
import { listFinder } from '../../core/lists/list-match.js';
import type { ListLookup } from '../../core/recipes/apply.js';
import type { ListMatch } from '../../core/wick/plan.js';
import { ROWS_TO_LOOK_UP, LISTS_TO_LOOK_UP } from './sql.js';

/** Lists made ready for finding rows in memory, as they stand until a row of theirs expires. */
export interface Lookups {
  readonly lists: ReadonlyMap<string, ListLookup>;
  /** Milliseconds since 1970; Infinity when nothing expires. */
  readonly until: number;
}

/** What stands behind lists, by their names: what a list does not know is asked of it. */
export type Behind = ReadonlyMap<string, ListLookup>;

const nothingBehind: Behind = new Map();

/** Names that are no list are left out, and so are rows that have expired. */
export async function loadLookups(
  client: Pool | PoolClient,
  names: readonly string[],
  behind: Behind = nothingBehind,
): Promise<Lookups> {
  if (names.length === 0) return { lists: new Map(), until: Infinity };
  const { rows: lists } = await client.query<{ name: string; match: ListMatch }>(LISTS_TO_LOOK_UP, [names]);
  const { rows } = await client.query<{
    list: string;
    key: string;
    cells: JsonObject;
    expires: Instant | null;
  }>(ROWS_TO_LOOK_UP, [names]);
  const lookups = new Map([...behind].filter(([name]) => names.includes(name)));
  for (const { name, match } of lists) {
    const own = rows.filter(({ list }) => list === name);
    const find = listFinder(
      match,
      own.map(({ key }) => key),
    );
    const further = behind.get(name);
    const lookup: ListLookup = memoOfText((text) => {
      const found = find(text);
      return found === undefined ? further?.(text) : own[found]?.cells;
    });
    lookups.set(name, lookup);
  }
  const until = rows.reduce(
    (first, { expires }) => Math.min(first, expires === null ? Infinity : expires / 1000),
    Infinity,
  );
  return { lists: lookups, until };
}
