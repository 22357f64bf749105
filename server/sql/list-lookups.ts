import type { Pool, PoolClient } from 'pg';
import type { JsonObject } from '../../core/base/json.js';
import { memoOfText } from '../../core/base/memo.js';
import { listFinder } from '../../core/lists/list-match.js';
import type { ListLookup } from '../../core/recipes/apply.js';
import type { ListMatch } from '../../core/wick/plan.js';

/** Lists made ready for finding rows in memory. Names that are no list are left out. */
export async function loadLookups(
  client: Pool | PoolClient,
  names: readonly string[],
): Promise<Map<string, ListLookup>> {
  if (names.length === 0) return new Map();
  const { rows: lists } = await client.query<{ name: string; match: ListMatch }>(
    'SELECT name, match FROM lists WHERE name = ANY($1)',
    [names],
  );
  const { rows } = await client.query<{ list: string; key: string; cells: JsonObject }>(
    'SELECT list, key, cells FROM list_rows WHERE list = ANY($1) ORDER BY list, position',
    [names],
  );
  return new Map(
    lists.map(({ name, match }) => {
      const own = rows.filter(({ list }) => list === name);
      const find = listFinder(
        match,
        own.map(({ key }) => key),
      );
      const lookup: ListLookup = memoOfText((text) => {
        const found = find(text);
        return found === undefined ? undefined : own[found]?.cells;
      });
      return [name, lookup];
    }),
  );
}
