import type { Pool } from 'pg';
import { FIELDS_SEEN_OF_LATE } from './sql.js';

/** Field names of events change seldom; they are looked at anew after so long. */
const FRESH_MILLISECONDS = 300_000;

/** The words that events of late bring: what rules may name. */
export class RuleWords {
  private fields: { readonly at: number; readonly names: ReadonlyMap<string, readonly string[]> } | undefined;

  constructor(private readonly pool: Pool) {}

  /** The sources' own fields in the newest events, nested ones with dots, each with the sources that have it. */
  async ownFields(): Promise<ReadonlyMap<string, readonly string[]>> {
    if (this.fields !== undefined && Date.now() - this.fields.at < FRESH_MILLISECONDS)
      return this.fields.names;
    const { rows } = await this.pool.query<{ field: string; sources: string[] }>(FIELDS_SEEN_OF_LATE);
    const names = new Map(rows.map(({ field, sources }) => [field, sources]));
    // Nothing is kept of an empty store: its first events are to be seen at once.
    if (names.size > 0) this.fields = { at: Date.now(), names };
    return names;
  }
}
