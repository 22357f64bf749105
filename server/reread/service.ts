import type { Pool } from 'pg';
import { formatInstant, type Instant } from '../../core/base/instant.js';
import type { Reread } from '../../core/wire/rereads.js';
import { Failure, notFound } from '../failure.js';

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
    const { rows } = await this.pool.query<Row>(
      `SELECT id, source, recipe, version, discard, state, by, created, ended, total, done, changed, unreadable, discarded, reasons, error
         FROM rereads WHERE source = $1 ORDER BY id DESC LIMIT $2`,
      [source, MOST],
    );
    return rows.map((row) => ({
      ...row,
      created: formatInstant(row.created),
      ended: row.ended === null ? null : formatInstant(row.ended),
      reasons: Object.values(row.reasons),
    }));
  }

  /** Begins with the newest version of the source's recipe. @throws Failure 404; 409 while one is at work */
  async begin(source: string, discard: boolean, by: string): Promise<number> {
    const { rows } = await this.pool.query<{ id: number }>(
      `INSERT INTO rereads (source, recipe, version, discard, by)
       SELECT s.name, s.recipe, (SELECT max(version) FROM recipes WHERE name = s.recipe), $2, $3 FROM sources s WHERE s.name = $1
       ON CONFLICT (source) WHERE state IN ('waiting', 'running') DO NOTHING RETURNING id`,
      [source, discard, by],
    );
    if (rows[0] !== undefined) return rows[0].id;
    const there = await this.pool.query('SELECT 1 FROM sources WHERE name = $1', [source]);
    if (there.rowCount === 0) throw notFound(`source "${source}"`);
    throw new Failure(
      'running',
      'Records of this source are being read again already. Wait, or stop that first.',
    );
  }

  /** Ends a work; what it has done stays. @throws Failure 404 when it has ended already */
  async stop(id: number): Promise<void> {
    const { rowCount } = await this.pool.query(
      `UPDATE rereads SET state = 'stopped', ended = now() WHERE id = $1 AND state IN ('waiting', 'running')`,
      [id],
    );
    if (rowCount === 0) throw notFound('such work any more: it has ended');
  }
}
