import type { Pool } from 'pg';
import { formatInstant, type Instant } from '../../core/base/instant.js';
import type { SetAsideList, SetAsideRetried } from '../../core/wire/sources.js';
import { transaction } from '../db/transaction.js';
import { Failure, notFound } from '../failure.js';
import type { SourceCatalogue } from '../intake/catalogue.js';
import type { RecordWriter } from '../intake/record-writer.js';
import { NOTE_DISCARDED, READ_GROUPS, NEWEST_ASIDE, RECORDS_ASIDE, DISCARD_GROUP } from './sql.js';

const MAX_GROUPS = 50;
const EXAMPLES = 3;
/** Records tried again in one transaction. */
const RETRY_AT_ONCE = 2000;

interface Waiting {
  readonly id: number;
  readonly raw: string;
  readonly received: Instant;
  /** What told it from identical records of its delivery. */
  readonly mark: Buffer;
}

/** Records that could not be read: looked at, tried again with the recipe of today, taken out, or thrown away. */
export class SetAside {
  constructor(
    private readonly pool: Pool,
    private readonly catalogue: SourceCatalogue,
    private readonly store: RecordWriter,
  ) {}

  /** The groups of a source, the largest first. */
  async groups(source: string): Promise<SetAsideList> {
    const { rows } = await this.pool.query<{
      group: string;
      code: string;
      reason: string;
      records: number;
      first: Instant;
      last: Instant;
      examples: string[];
      total: number;
    }>(READ_GROUPS, [source, EXAMPLES, MAX_GROUPS]);
    return {
      total: rows[0]?.total ?? 0,
      groups: rows.map(({ total: _, ...row }) => ({
        ...row,
        first: formatInstant(row.first),
        last: formatInstant(row.last),
      })),
    };
  }

  /** The records of a group as they came, oldest first, in pieces. */
  async *records(source: string, group: string | undefined): AsyncGenerator<Waiting[]> {
    // What is set aside meanwhile, by trying again for one, is not looked at: it would never end.
    const { rows: newest } = await this.pool.query<{ id: number }>(NEWEST_ASIDE, [source]);
    const last = newest[0]?.id ?? 0;
    let after = 0;
    for (;;) {
      const { rows } = await this.pool.query<Waiting>(RECORDS_ASIDE, [
        source,
        after,
        last,
        group ?? null,
        RETRY_AT_ONCE,
      ]);
      if (rows.length === 0) return;
      after = rows.at(-1)?.id ?? after;
      yield rows;
    }
  }

  /**
   * Reads the records again, with the recipe as it is now. Those that can be read become events that came in when they
   * did; the others stay, with the reason of today.
   * @throws Failure 404
   */
  async retry(name: string, group: string | undefined): Promise<SetAsideRetried> {
    const source = await this.catalogue.find(name);
    if (source === undefined) throw notFound(`source "${name}"`);
    const total = { tried: 0, stored: 0, known: 0, discarded: 0, setAside: 0 };
    for await (const waiting of this.records(name, group)) {
      const result = await this.store.store(
        source,
        waiting.map(({ raw }) => raw),
        (position) => waiting[position]?.received ?? 0,
        {
          waiting: waiting.map(({ id }) => id),
          marks: waiting.map(({ mark }) => mark.toString()),
        },
      );
      total.tried += waiting.length;
      total.stored += result.stored;
      total.known += result.known;
      total.discarded += result.discarded;
      total.setAside += result.setAside;
    }
    return total;
  }

  /** Throws a group away, and keeps who did so and why. @throws Failure 404 when nothing of it is there */
  async discard(source: string, group: string, because: string, by: string): Promise<number> {
    return transaction(this.pool, async (client) => {
      const { rowCount } = await client.query(DISCARD_GROUP, [source, group]);
      const records = rowCount ?? 0;
      if (records === 0)
        throw new Failure('not-found', 'Nothing of this group is set aside any more. Reload to see what is.');
      await client.query(NOTE_DISCARDED, [source, group, records, because, by]);
      return records;
    });
  }
}
