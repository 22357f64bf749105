import type { Pool } from 'pg';
import { formatInstant, type Instant } from '../../core/base/instant.js';
import type { PageAsk } from '../../core/wire/paging.js';
import type { NewSnapshot, Snapshot, SnapshotList, SnapshotSummary } from '../../core/wire/paths.js';
import { readPage, toPage } from '../db/pages.js';
import { Failure, notFound } from '../failure.js';
import { huntOf, type Hunts } from '../hunts/service.js';
import { ADD_SNAPSHOT, CASES_THAT_HOLD, READ_SNAPSHOTS, READ_SNAPSHOT, REMOVE_SNAPSHOT } from './sql.js';

/** Rows a snapshot keeps at most: what somebody will read, or show as evidence. */
export const MAX_KEPT = 10_000;
/** Characters of JSON a snapshot may hold. */
const MAX_CHARACTERS = 50_000_000;
type Timed<T extends { asked: string }> = Omit<T, 'asked'> & { readonly asked: Instant };

const toWire = <T extends { asked: string }>(row: Timed<T>): T =>
  ({ ...row, asked: formatInstant(row.asked) }) as unknown as T;

/** Results kept as they were, for all to see. */
export class Snapshots {
  constructor(
    private readonly pool: Pool,
    private readonly hunts: Hunts,
    private readonly now: () => Instant,
  ) {}

  /** All snapshots, the newest first. */
  async all(asked: PageAsk): Promise<SnapshotList> {
    const page = readPage(asked, 2);
    const { rows } = await this.pool.query<Timed<SnapshotSummary> & { place: [string, string] }>(
      READ_SNAPSHOTS,
      [...page.after, page.rows],
    );
    const { shown, next } = toPage(rows, asked);
    return { snapshots: shown.map((row) => toWire<SnapshotSummary>(row as Timed<SnapshotSummary>)), next };
  }

  /**
   * Runs a hunt and keeps what it gives.
   * @throws HuntError for a hunt that is refused; Failure 422 for a result that is too large
   */
  async keep(wanted: NewSnapshot, person: string, signal: AbortSignal): Promise<SnapshotSummary> {
    const moment = this.now();
    const result = await this.hunts.gather({ ...huntOf(wanted.question), limit: MAX_KEPT }, signal);
    const [columns, rows, events] = [result.columns, result.rows, result.events].map((part) =>
      JSON.stringify(part),
    );
    if ((rows?.length ?? 0) > MAX_CHARACTERS)
      throw new Failure(
        'result-too-large',
        'The result is too large to be kept. Show fewer columns, or cut it with "first".',
      );
    const { rows: made } = await this.pool.query<Timed<SnapshotSummary>>(ADD_SNAPSHOT, [
      wanted.name,
      wanted.note ?? '',
      person,
      formatInstant(moment),
      JSON.stringify(wanted.question),
      columns,
      rows,
      events,
      result.rows.length,
      result.complete,
      wanted.picture === undefined ? null : JSON.stringify(wanted.picture),
    ]);
    if (made[0] === undefined) throw new Error('The snapshot was not kept.');
    return toWire<SnapshotSummary>(made[0]);
  }

  /** @throws Failure 404 */
  async one(id: number): Promise<Snapshot> {
    const { rows } = await this.pool.query<Timed<Snapshot>>(READ_SNAPSHOT, [id]);
    if (rows[0] === undefined) throw notFound(`snapshot "${id}"`);
    return toWire<Snapshot>(rows[0]);
  }

  /** @throws Failure 404 for one that is not the person's own; 409 for one that a case holds */
  async remove(id: number, person: string): Promise<void> {
    const { rows } = await this.pool.query<{ number: string }>(CASES_THAT_HOLD, [String(id)]);
    if (rows.length > 0)
      throw new Failure(
        'held-by-case',
        `Case ${rows.map(({ number }) => number).join(', ')} holds this snapshot as evidence. Take it off there first.`,
      );
    const { rowCount } = await this.pool.query(REMOVE_SNAPSHOT, [id, person]);
    if (rowCount === 0) throw notFound(`snapshot "${id}" of yours`);
  }
}
