import type { Pool } from 'pg';
import { formatInstant, type Instant } from '../../core/base/instant.js';
import type { Reread } from '../../core/wire/rereads.js';
import { Failure, notFound } from '../failure.js';
import { BEGIN_WORK, STOP_WORK, FIND_SOURCE, WORKS_OF_SOURCE } from './sql.js';

/** Works of a source that are told of, the newest first. */
const MOST = 10;

interface Row extends Omit<Reread, 'created' | 'ended' | 'reasons'> {
  readonly created: Instant;
  readonly ended: Instant | null;
  readonly reasons: Readonly<Record<string, string>>;
}

/** Asks for stored records to be read again, and tells how far that has come. */
export class Rereads {
  constructor(private readonly pool: Pool) {}

  async of(source: string): Promise<Reread[]> {
    const { rows } = await this.pool.query<Row>(WORKS_OF_SOURCE, [source, MOST]);
    return rows.map((row) => ({
      ...row,
      created: formatInstant(row.created),
      ended: row.ended === null ? null : formatInstant(row.ended),
      reasons: Object.values(row.reasons),
    }));
  }

  /** Begins with the newest version of the source's recipe. @throws Failure 404; 409 while one is at work */
  async begin(source: string, discard: boolean, by: string): Promise<number> {
    const { rows } = await this.pool.query<{ id: number }>(BEGIN_WORK, [source, discard, by]);
    if (rows[0] !== undefined) return rows[0].id;
    const there = await this.pool.query(FIND_SOURCE, [source]);
    if (there.rowCount === 0) throw notFound(`source "${source}"`);
    throw new Failure(
      'running',
      'Records of this source are being read again already. Wait, or stop that first.',
    );
  }

  /** Ends a work; what it has done stays. @throws Failure 404 when it has ended already */
  async stop(id: number): Promise<void> {
    const { rowCount } = await this.pool.query(STOP_WORK, [id]);
    if (rowCount === 0) throw notFound('such work any more: it has ended');
  }
}
