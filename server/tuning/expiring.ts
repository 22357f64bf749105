import type { Pool } from 'pg';
import { DAY, formatInstant, type Instant, parseInstant } from '../../core/base/instant.js';
import type { JsonObject } from '../../core/base/json.js';
import type { Expiring, Renewal } from '../../core/wire/expiring.js';
import { invalid, notFound } from '../failure.js';
import type { Lists } from '../lists/service.js';
import { EXPIRING_ROWS, ROW_OF_VALUE } from './sql.js';

/** It may be renewed for so long at most: what nobody looks at again is no exception any more. */
const MAX_RENEWED = 366 * DAY;

/** What rules leave out for a time, and what becomes of it when that is over. */
export class ExpiringExclusions {
  constructor(
    private readonly pool: Pool,
    private readonly lists: Lists,
    private readonly now: () => Instant,
  ) {}

  /** What runs out within a week, or has within the last month, the soonest first. */
  async all(): Promise<Expiring[]> {
    // What has run out is what the database says has: rules ask it.
    const { rows } = await this.pool.query<Omit<Expiring, 'expires'> & { expires: Instant }>(EXPIRING_ROWS);
    return rows.map(({ expires, ...row }) => ({ ...row, expires: formatInstant(expires) }));
  }

  /**
   * Lets a row hold on until a moment, or takes it out.
   * @throws Failure 400 for a moment that is past, or further than a year; 404 for a value that is not on the list
   */
  async renew({ list, value, until }: Renewal): Promise<void> {
    const { rows } = await this.pool.query<{ position: number; cells: JsonObject }>(ROW_OF_VALUE, [
      list,
      value,
    ]);
    const [row] = rows;
    if (row === undefined) throw notFound(`"${value}" on the list "${list}"`);
    if (until === null) {
      await this.lists.changeRows(list, { remove: [row.position] });
      return;
    }
    const at = parseInstant(until);
    if (at === null || at <= this.now() || at > this.now() + MAX_RENEWED)
      throw invalid(`"until" is a moment within a year from now, ISO 8601.`);
    await this.lists.changeRows(list, { add: [{ ...row.cells, expires: formatInstant(at) }] });
  }
}
