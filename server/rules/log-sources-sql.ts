import type { Pool, PoolClient } from 'pg';
import type { LogSourceEntry, RecordsOf } from '../../core/detect/log-sources.js';
import { shippedLogSources } from '../../core/detect/shipped-log-sources.js';
import type { LogSource } from '../../core/sigma/rule-model.js';

interface LogSourceRow {
  readonly category: string | null;
  readonly product: string | null;
  readonly service: string | null;
  readonly kinds: string[];
  readonly sources: string[];
  readonly fields: Record<string, string>;
}

/** The log source that three words name, those that are missing left out. */
export const logSourceOf = (row: {
  readonly category?: string | null;
  readonly product?: string | null;
  readonly service?: string | null;
}): LogSource => ({
  ...(typeof row.category === 'string' && { category: row.category.toLowerCase() }),
  ...(typeof row.product === 'string' && { product: row.product.toLowerCase() }),
  ...(typeof row.service === 'string' && { service: row.service.toLowerCase() }),
});

/** What is known of log sources by itself, and the table of them, as rules are read by it. */
export async function logSourceEntries(client: Pool | PoolClient): Promise<LogSourceEntry[]> {
  const { rows } = await client.query<LogSourceRow>(
    'SELECT category, product, service, kinds, sources, fields FROM log_sources ORDER BY id',
  );
  return [
    ...shippedLogSources,
    ...rows.map((row) => ({
      logsource: logSourceOf(row),
      kinds: row.kinds,
      sources: row.sources,
      fields: row.fields,
    })),
  ];
}

/** All sources, with what their recipes say their records are. */
export async function recordsOfSources(client: Pool | PoolClient): Promise<RecordsOf[]> {
  const { rows } = await client.query<{
    name: string;
    logsource: Record<string, string> | null;
    kinds: string[] | null;
  }>(
    `SELECT s.name, r.logsource,
            (SELECT array_agg(DISTINCT h.kind::text) FROM event_hours AS h
              WHERE h.source = s.name AND h.hour > s.last_event - interval '7 days') AS kinds
       FROM sources s
       JOIN LATERAL (SELECT document -> 'logsource' AS logsource FROM recipes WHERE name = s.recipe ORDER BY version DESC LIMIT 1) r ON true
      WHERE s.leaving IS NULL ORDER BY s.name`,
  );
  return rows.map(({ name, logsource, kinds }) => ({
    source: name,
    logsource: logSourceOf(logsource ?? {}),
    ...(kinds !== null && { kinds }),
  }));
}
