import type { Pool } from 'pg';

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
    const { rows } = await this.pool.query<{ field: string; sources: string[] }>(
      `WITH RECURSIVE newest AS (
         SELECT e.source, e.original FROM sources AS s CROSS JOIN LATERAL
           (SELECT source, original FROM events WHERE source = s.name AND "time" > s.last_event - interval '1 hour'
             ORDER BY "time" DESC LIMIT 200) AS e),
       parts(source, field, value, depth) AS (
         SELECT n.source, p.key, p.value, 1 FROM newest AS n, jsonb_each(n.original) AS p
         UNION
         SELECT o.source, o.field || '.' || p.key, p.value, o.depth + 1
           FROM parts AS o, jsonb_each(CASE jsonb_typeof(o.value) WHEN 'object' THEN o.value ELSE '{}' END) AS p
          WHERE o.depth < 5)
       SELECT field, array_agg(DISTINCT source ORDER BY source) AS sources FROM parts GROUP BY field ORDER BY field LIMIT 2000`,
    );
    const names = new Map(rows.map(({ field, sources }) => [field, sources]));
    // Nothing is kept of an empty store: its first events are to be seen at once.
    if (names.size > 0) this.fields = { at: Date.now(), names };
    return names;
  }
}
