import { READING_OF_SOURCE } from '../sources/sql.js';
import type { Pool, PoolClient } from 'pg';
import { eventId } from '../../core/events/event-id.js';
import { type CompiledRecipe, compileRecipe, type ListLookup } from '../../core/recipes/apply.js';
import { withIntakeRules } from '../../core/recipes/intake-rules.js';
import type { Recipe } from '../../core/recipes/recipe-schema.js';
import { transaction } from '../db/transaction.js';
import { addHourCounts } from '../derived/sql.js';
import { sha256 } from '../intake/read-records.js';
import type { RecordWriter } from '../intake/record-writer.js';
import { addBatch, findKnown } from '../intake/store-records.js';
import { rulesAtWork, rulesOf } from '../intake-rules/ready.js';
import { loadLookups } from '../lists/lookups.js';
import { behindNetworks } from '../mmdb/places.js';
import {
  TAKE_WORK,
  NOTE_PROGRESS,
  FINISH_WORK,
  GIVE_WORK_BACK,
  FAIL_WORK,
  COUNT_WORK,
  FIND_LAST_EVENT,
  type Exchange,
  exchangeEvents,
  HOLD_WORK,
  oldRecords,
  RECIPE_OF_WORK,
  type StoredRecord,
  TELL_SOURCE,
} from './sql.js';

/** Records exchanged in one transaction. */
const AT_ONCE = 2000;

/** A work of reading again, as far as it has come. */
interface Reread {
  readonly id: number;
  readonly source: string;
  readonly recipe: string;
  readonly version: number;
  readonly discard: boolean;
  readonly day: string;
  readonly last_day: string;
  readonly after_id: string | null;
}

/** What a newer version makes of some records. */
interface Outcome {
  readonly exchanges: readonly (Exchange & { readonly ownId: boolean })[];
  readonly discarded: readonly StoredRecord[];
  /** Why records stay as they are: an example a code, and how many. */
  readonly reasons: Readonly<Record<string, string>>;
  readonly unreadable: number;
}

function readAgain(
  recipe: CompiledRecipe,
  { name: source, identity }: { readonly name: string; readonly identity: string },
  records: readonly StoredRecord[],
): Outcome {
  const exchanges: (Exchange & { ownId: boolean })[] = [];
  const discarded: StoredRecord[] = [];
  const reasons: Record<string, string> = {};
  let unreadable = 0;
  const taken = new Set<string>();
  const keep = (code: string, reason: string): void => {
    unreadable++;
    reasons[code] ??= reason;
  };
  for (const was of records) {
    const outcome = recipe.apply(was.raw, was.received);
    if (outcome.became === 'set-aside') keep(outcome.code, outcome.reason);
    else if (outcome.became === 'discarded') discarded.push(was);
    else {
      let id = eventId(identity, outcome.identity, sha256);
      // The text of identical records gives one id; all but the first keep the one they have.
      if (!outcome.ownId && taken.has(id)) ({ id } = was);
      if (taken.has(id)) keep('same-id', 'another record has the same id by this version');
      else {
        taken.add(id);
        exchanges.push({ was, event: { ...outcome.draft, source, id }, ownId: outcome.ownId });
      }
    }
  }
  return { exchanges, discarded, reasons, unreadable };
}

/** Takes the oldest work that nobody has. A new one first learns how much there is. */
async function takeReread(pool: Pool): Promise<Reread | undefined> {
  const { rows } = await pool.query<Reread & { state: string; fresh: boolean }>(TAKE_WORK);
  const [taken] = rows;
  if (taken === undefined || !taken.fresh) return taken;
  const { rows: counted } = await pool.query<Pick<Reread, 'day' | 'last_day'>>(COUNT_WORK, [
    taken.id,
    taken.source,
    taken.version,
  ]);
  return { ...taken, ...counted[0] };
}

const nextDay = (day: string): string =>
  new Date(Date.parse(`${day}T00:00:00Z`) + 86_400_000).toISOString().slice(0, 10);

/** Reads stored records again with newer versions of their recipes, as asked for. */
export class Rereader {
  constructor(
    private readonly pool: Pool,
    private readonly store: RecordWriter,
    private readonly places: ListLookup | null = null,
  ) {}

  /** Works until nothing is left or it is asked to stop; what is left goes on where it stood. */
  async runAll(stop: AbortSignal): Promise<void> {
    for (;;) {
      const taken = stop.aborted ? undefined : await takeReread(this.pool);
      if (taken === undefined) return;
      try {
        await this.run(taken, stop);
      } catch (error) {
        await this.pool.query(FAIL_WORK, [
          taken.id,
          error instanceof Error ? error.message.slice(0, 500) : 'It failed.',
        ]);
        throw error;
      }
    }
  }

  private async run(taken: Reread, stop: AbortSignal): Promise<void> {
    const { rows } = await this.pool.query<{ document: Recipe }>(RECIPE_OF_WORK, [
      taken.recipe,
      taken.version,
    ]);
    const [found] = rows;
    if (found === undefined) throw new Error(`There is no version ${taken.version} of "${taken.recipe}".`);
    const { lists } = await loadLookups(
      this.pool,
      (found.document.lookups ?? []).map(({ list }) => list),
      behindNetworks(this.places),
    );
    const { rows: own } = await this.pool.query<{ zone: string | null; identity: string }>(
      READING_OF_SOURCE,
      [taken.source],
    );
    const { zone = null, identity = taken.source } = own[0] ?? {};
    const ready = (document: Recipe): CompiledRecipe => compileRecipe(document, lists, zone);
    const rules = rulesOf(await rulesAtWork(this.pool), taken.source, ready);
    const recipe = withIntakeRules(ready(found.document), rules);
    let { day, after_id: after } = taken;
    // Nothing to read again: there is no first day.
    while (day !== null && day <= taken.last_day) {
      const piece = await transaction(this.pool, (client) =>
        oldRecords(client, { source: taken.source, version: taken.version, day, after }, AT_ONCE),
      );
      const last = piece.at(-1);
      const whole = last === undefined || piece.length < AT_ONCE;
      const place = whole ? { day: nextDay(day), after: null } : { day, after: last.id };
      const outcome = readAgain(recipe, { name: taken.source, identity }, piece);
      await this.store.makeDays(outcome.exchanges.map(({ event }) => event));
      const goesOn = await transaction(this.pool, (client) =>
        this.exchange(client, taken, piece, outcome, place),
      );
      if (!goesOn) return;
      ({ day, after } = place);
      if (stop.aborted) {
        await this.pool.query(GIVE_WORK_BACK, [taken.id]);
        return;
      }
    }
    await this.finish(taken);
  }

  /** @returns false when somebody has stopped it */
  private async exchange(
    client: PoolClient,
    { id, source, version, discard }: Reread,
    piece: readonly StoredRecord[],
    outcome: Outcome,
    place: { day: string; after: string | null },
  ): Promise<boolean> {
    const going = await client.query(HOLD_WORK, [id]);
    if (going.rowCount === 0) return false;
    // An id that changes may be that of another stored event; then both stay as they are.
    const moved = outcome.exchanges.filter(({ was, event }) => was.id !== event.id).map(({ event }) => event);
    const known = await findKnown(client, moved);
    const exchanges = outcome.exchanges.flatMap((exchange): Exchange[] => {
      const { was, event, ownId } = exchange;
      if (was.id === event.id || !known.has(event.id)) return [exchange];
      return ownId ? [] : [{ was, event: { ...event, id: was.id } }];
    });
    const removed = discard ? outcome.discarded : [];
    let changed = 0;
    if (exchanges.length + removed.length > 0) {
      const events = exchanges.map(({ event }) => event);
      const batch = await addBatch(client, source, events, 0, 0, true);
      changed = await exchangeEvents(client, exchanges, removed, version, batch);
      await addHourCounts(client, source, events, [...exchanges.map(({ was }) => was), ...removed]);
    }
    const doubles = outcome.exchanges.length - exchanges.length;
    await client.query(NOTE_PROGRESS, [
      id,
      piece.length,
      changed,
      outcome.unreadable + doubles,
      outcome.discarded.length,
      JSON.stringify({
        ...outcome.reasons,
        ...(doubles > 0 && { 'same-id': 'another record has the same id by this version' }),
      }),
      place.day,
      place.after,
    ]);
    return true;
  }

  private async finish({ id, source }: Reread): Promise<void> {
    await transaction(this.pool, async (client) => {
      await client.query(FINISH_WORK, [id]);
      // Times may have changed.
      await client.query(FIND_LAST_EVENT, [source]);
      await client.query(TELL_SOURCE, [source]);
    });
  }
}
