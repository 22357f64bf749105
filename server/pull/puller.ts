import type { Pool } from 'pg';
import type { JsonObject } from '../../core/base/json.js';
import type { Instant } from '../../core/base/instant.js';
import { Occurrences } from '../../core/events/occurrences.js';
import { importRows, ImportError } from '../../core/lists/import.js';
import { Failure } from '../failure.js';
import type { SourceCatalogue } from '../intake/catalogue.js';
import type { RecordWriter } from '../intake/record-writer.js';
import { BATCH_RECORDS } from '../intake/store-records.js';
import type { Seal } from '../seal.js';
import type { Lists } from '../lists/service.js';
import { movePull, releasePull, takeDuePull, type PullEnd, type PullRow } from './sql.js';
import { fetchPage, PullFailure, type Page } from './fetch-page.js';

/** Pages of one run; what is left is fetched by the next, which follows at once. */
const MAX_PAGES = 200;
/** Rows of a list that is pulled, as many as one that is put may have. */
const MAX_ROWS = 200_000;
const MAX_PAUSE = 3600;

export interface PullerParts {
  readonly pool: Pool;
  readonly catalogue: SourceCatalogue;
  readonly store: RecordWriter;
  readonly lists: Lists;
  readonly seal: Seal;
  readonly now: () => Instant;
}

/** Fetches what is set up to be fetched. */
export class Puller {
  constructor(private readonly parts: PullerParts) {}

  /** Runs every pull that is due, one after another. @returns how many ran */
  async runDue(stop: AbortSignal): Promise<number> {
    for (let ran = 0; ; ran++) {
      const taken = stop.aborted ? undefined : await takeDuePull(this.parts.pool);
      if (taken === undefined) return ran;
      await this.run(taken, stop);
    }
  }

  /** Runs a pull that was taken, and lets go of it again whatever happens. */
  async run(taken: PullRow, stop: AbortSignal): Promise<void> {
    let end: PullEnd;
    try {
      const ran = taken.into === 'source' ? await this.records(taken, stop) : await this.rows(taken, stop);
      end = { ...ran, error: null, pause: ran.more ? 0 : taken.every_seconds };
    } catch (error) {
      if (!(error instanceof PullFailure || error instanceof Failure)) {
        await releasePull(this.parts.pool, taken, {
          fetched: 0,
          etag: null,
          error: 'It could not be stored; it is tried again.',
          pause: taken.every_seconds,
        });
        throw error;
      }
      const after = error instanceof PullFailure ? error.retryAfter : null;
      end = {
        fetched: 0,
        etag: null,
        error: error.message,
        pause: after ?? Math.min(taken.every_seconds * 2 ** Math.min(taken.failures, 10), MAX_PAUSE),
      };
    }
    // Stopped on the way: whoever starts next goes on from the cursor at once.
    await releasePull(this.parts.pool, taken, stop.aborted ? { ...end, error: null, pause: 0 } : end);
  }

  private page(taken: PullRow, cursor: string | null, etag: string | null, stop: AbortSignal): Promise<Page> {
    const token = taken.token === null ? null : this.parts.seal.open(taken.token);
    if (taken.token !== null && token === null)
      throw new PullFailure('The token cannot be read any more. Enter it again.');
    return fetchPage(
      {
        address: taken.address,
        token,
        cursor,
        cursorParameter: taken.cursor_parameter,
        items: taken.items,
        next: taken.next,
        etag,
        allowPrivate: taken.allow_private,
      },
      stop,
    );
  }

  /**
   * Records for a source. The cursor moves only after what came before it is committed; a page that is fetched twice
   * holds records that are known.
   */
  private async records(
    taken: PullRow,
    stop: AbortSignal,
  ): Promise<{ fetched: number; etag: null; more: boolean }> {
    const { pool, catalogue, store, now } = this.parts;
    const source = await catalogue.find(taken.name);
    if (source === undefined) throw new PullFailure(`There is no source "${taken.name}" any more.`);
    let { cursor } = taken;
    let fetched = 0;
    for (let pages = 0; pages < MAX_PAGES && !stop.aborted; pages++) {
      const { items, next } = await this.page(taken, cursor, null, stop);
      // A page is a delivery of its own: feeds overlap, and give a record on two pages.
      const occurrences = new Occurrences();
      for (let from = 0; from < items.length; from += BATCH_RECORDS) {
        const batch = items.slice(from, from + BATCH_RECORDS);
        await store.store(source, batch, now(), { marks: batch.map((item) => occurrences.mark(item)) });
      }
      fetched += items.length;
      const moved = next !== null && next !== cursor;
      cursor = next ?? cursor;
      const goesOn = await movePull(pool, taken, cursor, items.length);
      if (!goesOn || !moved || items.length === 0) return { fetched, etag: null, more: false };
    }
    return { fetched, etag: null, more: true };
  }

  /** The rows of a list: fetched whole, then put in place of those that were there. */
  private async rows(
    taken: PullRow,
    stop: AbortSignal,
  ): Promise<{ fetched: number; etag: string | null; more: boolean }> {
    const { pool, lists } = this.parts;
    const items: string[] = [];
    let cursor: string | null = null;
    let mark: string | null = null;
    for (let pages = 0; ; pages++) {
      const page: Page = await this.page(taken, cursor, pages === 0 ? taken.etag : null, stop);
      if (page.unchanged) return { fetched: 0, etag: taken.etag, more: false };
      items.push(...page.items);
      if (items.length > MAX_ROWS)
        throw new PullFailure(`It holds more than ${MAX_ROWS.toLocaleString('en')} rows.`);
      if (pages >= MAX_PAGES)
        throw new PullFailure(
          `It comes in more than ${MAX_PAGES} pages. Ask for larger ones in the address.`,
        );
      // Keeps it while page after page is fetched.
      if (!(await movePull(pool, taken, null, 0))) return { fetched: 0, etag: null, more: false };
      // Only where one answer is the whole does its mark say that nothing has changed.
      if (pages === 0) mark = page.etag;
      if (page.next === null || page.next === cursor || page.items.length === 0) break;
      cursor = page.next;
      mark = null;
    }
    // An empty answer is more likely a mistake over there than a company without people.
    if (items.length === 0) throw new PullFailure('The answer holds no rows; the list was left as it is.');
    await lists.replaceRows(taken.name, readRows(items));
    await movePull(pool, taken, null, items.length);
    return { fetched: items.length, etag: mark, more: false };
  }
}

function readRows(items: readonly string[]): readonly JsonObject[] {
  try {
    return importRows(`[${items.join(',')}]`).rows;
  } catch (error) {
    if (error instanceof ImportError) throw new PullFailure(error.message, null, error);
    throw error;
  }
}
