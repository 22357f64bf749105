import type { Pool } from 'pg';
import type { JsonObject } from '../../core/base/json.js';
import { formatInstant, SECOND, type Instant } from '../../core/base/instant.js';
import { Occurrences } from '../../core/events/occurrences.js';
import { importRows, ImportError } from '../../core/lists/import.js';
import { Failure } from '../failure.js';
import type { SourceCatalogue } from '../intake/catalogue.js';
import type { RecordWriter } from '../intake/record-writer.js';
import { BATCH_RECORDS } from '../intake/store-records.js';
import type { Seal } from '../seal.js';
import type { Lists } from '../lists/service.js';
import {
  COVERED_TO,
  FORGET_INDICATORS,
  movePull,
  releasePull,
  takeDuePull,
  type PullEnd,
  type PullRow,
} from './sql.js';
import { transaction } from '../db/transaction.js';
import { AccessTokens, type ClientCredentials } from './access-token.js';
import { type AddressRequest, fetchAnswer, type FetchedAnswer, type Page, readPage } from './fetch-page.js';
import { nextLink } from './next-link.js';
import { PullFailure } from './pull-failure.js';
import { currentRows, keepIndicators, objectsAddress, readEnvelope, TAXII_TYPE } from './taxii.js';

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
  private readonly tokens = new AccessTokens();

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
      const ran = await this.fetch(taken, stop);
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

  private fetch(
    taken: PullRow,
    stop: AbortSignal,
  ): Promise<{ fetched: number; etag: string | null; more: boolean }> {
    if (taken.into === 'source') return this.records(taken, stop);
    return taken.speaks === 'taxii' ? this.indicators(taken, stop) : this.rows(taken, stop);
  }

  /** The token an address is asked with; null where none is set up. @throws PullFailure */
  private async tokenFor(taken: PullRow, stop: AbortSignal): Promise<string | null> {
    const secret = taken.token === null ? null : this.parts.seal.open(taken.token);
    if (taken.token !== null && secret === null)
      throw new PullFailure('The token cannot be read any more. Enter it again.');
    return taken.token_address === '' || secret === null
      ? secret
      : this.tokens.get(clientOf(taken, secret), stop);
  }

  /** Asks an address; once more with a new access token where the one at hand is refused. */
  private async ask(
    taken: PullRow,
    request: Pick<AddressRequest, 'address' | 'etag' | 'accept'>,
    stop: AbortSignal,
  ): Promise<FetchedAnswer> {
    const once = async (): Promise<FetchedAnswer> =>
      fetchAnswer(
        { ...request, token: await this.tokenFor(taken, stop), allowPrivate: taken.allow_private },
        stop,
      );
    try {
      return await once();
    } catch (error) {
      const secret = taken.token === null ? null : this.parts.seal.open(taken.token);
      if (
        !(error instanceof PullFailure && error.refusedToken) ||
        taken.token_address === '' ||
        secret === null
      )
        throw error;
      this.tokens.forget(clientOf(taken, secret));
      return once();
    }
  }

  private async page(
    taken: PullRow,
    cursor: string | null,
    etag: string | null,
    stop: AbortSignal,
  ): Promise<Page> {
    const address = pageAddress(taken, cursor);
    const { text, headers, unchanged } = await this.ask(taken, { address, etag }, stop);
    if (unchanged) return { items: [], next: null, etag, unchanged };
    const read = readPage(text, taken);
    const next =
      taken.follow === 'link'
        ? withinOrigin(nextLink([headers.link ?? []].flat().join(', '), address), taken.address)
        : read.next;
    return { items: read.items, next, etag: headers.etag ?? null, unchanged };
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
    const began = now();
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
      // Where an address is asked for a time, its pages end there: the next run asks for the next time.
      const isLast = !moved || items.length === 0;
      cursor = isLast && taken.since_parameter !== '' ? null : (next ?? cursor);
      const goesOn = await movePull(pool, taken, cursor, items.length);
      if (goesOn && isLast) await this.noteCovered(taken, began);
      if (!goesOn || isLast) return { fetched, etag: null, more: false };
    }
    return { fetched, etag: null, more: true };
  }

  private async noteCovered({ into, name, address }: PullRow, began: Instant): Promise<void> {
    await this.parts.pool.query(COVERED_TO, [into, name, address, formatInstant(began)]);
  }

  /**
   * Indicators for a list, by a collection of TAXII: those added since the last time are written down with the place
   * reached, and the list is made of them as they stand now.
   */
  private async indicators(
    taken: PullRow,
    stop: AbortSignal,
  ): Promise<{ fetched: number; etag: string | null; more: boolean }> {
    const { pool, lists } = this.parts;
    let since = taken.cursor;
    let next: string | null = null;
    let fetched = 0;
    // Set while the list is older than what was written down, whoever stops in between.
    let stale = taken.etag === STALE;
    if (since === null) await pool.query(FORGET_INDICATORS, [taken.name]);
    for (let pages = 0; pages < MAX_PAGES && !stop.aborted; pages++) {
      const address = objectsAddress(taken.address, since, next);
      const { text, headers } = await this.ask(taken, { address, etag: null, accept: TAXII_TYPE }, stop);
      const said = headers['x-taxii-date-added-last'];
      const envelope = readEnvelope(text, typeof said === 'string' ? said : undefined);
      fetched += envelope.objects.length;
      const { addedLast } = envelope;
      next = envelope.more ? envelope.next : null;
      // Pages of one answer rest on one time: the place moves on only with the last of them, or where it is asked by the date.
      const moves = addedLast !== null && next === null;
      if (moves) since = addedLast;
      const goesOn = await transaction(pool, async (client) => {
        await keepIndicators(client, taken.name, envelope.objects);
        return movePull(client, taken, since, envelope.objects.length);
      });
      if (!goesOn) return { fetched, etag: null, more: false };
      stale ||= envelope.objects.length > 0;
      if (!envelope.more || (next === null && !moves)) break;
    }
    if (stale || taken.etag === null)
      await lists.replaceRows(taken.name, await currentRows(pool, taken.name, taken.kind, MAX_ROWS));
    return { fetched, etag: stop.aborted ? STALE : CURRENT, more: false };
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

const clientOf = (taken: PullRow, secret: string): ClientCredentials => ({
  tokenAddress: taken.token_address,
  clientId: taken.client_id,
  secret,
  scope: taken.scope,
  allowPrivate: taken.allow_private,
});

/** The address of a page: by the cursor, or that of a link; the first one asks for a time where that is set up. */
function pageAddress(taken: PullRow, cursor: string | null): string {
  if (taken.follow === 'link' && cursor !== null) return withinOrigin(cursor, taken.address) ?? taken.address;
  const address = new URL(taken.address);
  if (cursor !== null && taken.cursor_parameter !== '')
    address.searchParams.set(taken.cursor_parameter, cursor);
  if (taken.since_parameter !== '' && taken.covered_to !== null)
    address.searchParams.set(
      taken.since_parameter,
      formatInstant(taken.covered_to - taken.overlap_seconds * SECOND),
    );
  return address.toString();
}

/** A link that stays on its host: the token was given for that one. @throws PullFailure */
function withinOrigin(link: string | null, address: string): string | null {
  if (link === null || new URL(link).origin === new URL(address).origin) return link;
  throw new PullFailure(`Its next page lies elsewhere, at ${link.slice(0, 200)}, and is not fetched.`);
}

/** Marks of a list that is made of indicators. */
const STALE = 'stale';
const CURRENT = 'current';

function readRows(items: readonly string[]): readonly JsonObject[] {
  try {
    return importRows(`[${items.join(',')}]`).rows;
  } catch (error) {
    if (error instanceof ImportError) throw new PullFailure(error.message, null, error);
    throw error;
  }
}
