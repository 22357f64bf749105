import type { Pool } from 'pg';
import { formatInstant, type Instant } from '../../core/base/instant.js';
import { foldKey } from '../../core/lists/list-match.js';
import { formatNetwork, parseNetwork } from '../../core/net/network.js';
import { jsonToText } from '../../core/text/json-text.js';
import type { Json } from '../../core/base/json.js';
import type { ListContent, ListSummary } from '../../core/wire/lists.js';
import { Failure } from '../http/failure.js';
import { bumpConfig } from '../sql/config.js';
import { transaction } from '../store/transaction.js';

/** A wildcard key as a LIKE pattern: `*` any run, `?` one sign, everything else itself. */
const likePattern = (key: string): string =>
  foldKey(key)
    .replace(/[\\%_]/g, '\\$&')
    .replaceAll('*', '%')
    .replaceAll('?', '_');

export class Lists {
  constructor(private readonly pool: Pool) {}

  async all(): Promise<ListSummary[]> {
    const { rows } = await this.pool.query<{
      name: string;
      match: ListSummary['match'];
      key_column: string;
      updated: Instant;
      rows: number;
    }>(
      'SELECT l.name, l.match, l.key_column, l.updated, (SELECT count(*) FROM list_rows r WHERE r.list = l.name) AS rows FROM lists l ORDER BY l.name',
    );
    return rows.map((row) => ({
      name: row.name,
      match: row.match,
      key: row.key_column,
      rows: row.rows,
      updated: formatInstant(row.updated),
    }));
  }

  /** Puts a list in place of what stood under its name. @throws Failure 422 for a key that does not suit the match */
  async put(name: string, content: ListContent): Promise<void> {
    const records = content.rows.map((row, position) => {
      const key = jsonToText((row as Record<string, Json>)[content.key] ?? null);
      if (key === null || key.trim() === '')
        throw new Failure(422, 'bad-list', `Row ${position + 1} has no "${content.key}".`);
      const network = content.match === 'network' ? parseNetwork(key.trim()) : null;
      if (content.match === 'network' && network === null)
        throw new Failure(422, 'bad-list', `Row ${position + 1}: "${key}" is no network such as 10.0.0.0/8.`);
      return {
        position,
        key,
        folded: foldKey(key),
        network: network && formatNetwork(network),
        pattern: content.match === 'wildcard' ? likePattern(key) : null,
        cells: row,
      };
    });
    await transaction(this.pool, async (client) => {
      await client.query('DELETE FROM lists WHERE name = $1', [name]);
      await client.query('INSERT INTO lists (name, match, key_column) VALUES ($1, $2, $3)', [
        name,
        content.match,
        content.key,
      ]);
      await client.query(
        `INSERT INTO list_rows (list, position, key, folded, network, pattern, cells)
         SELECT $1, r.position, r.key, r.folded, r.network, r.pattern, r.cells
           FROM jsonb_to_recordset($2) AS r(position int, key text, folded text, network inet, pattern text, cells jsonb)`,
        [name, JSON.stringify(records)],
      );
      // Recipes look rows up in memory, and must take the new ones.
      await bumpConfig(client, 'sources');
    });
  }
}
