import type { PoolClient } from 'pg';
import { formatInstant, type Instant } from '../../core/base/instant.js';
import type { Hit } from '../../core/detect/windows.js';
import type { EventAt } from '../../core/rules/replay.js';
import { copyLines, copyText } from '../db/copy.js';

/** A match that a correlation counts, with its group. */
export interface CorrelationHit extends Hit {
  readonly groupKey: string;
  readonly eventId: string;
  /** The events of the window where it is a correlation that completed, the completing one last; else null. */
  readonly window: readonly EventAt[] | null;
}

/** Which correlation hits belong to: the rule text and the document in it. */
export interface CorrelationPlace {
  readonly rule: string;
  readonly document: number;
}

export type PlacedHit = CorrelationHit & CorrelationPlace;

/** A hit as it is kept. */
export interface KeptHit extends CorrelationHit {
  readonly seq: number;
}

/** A stretch of time of one group of a correlation, both ends included. */
export interface GroupStretch extends CorrelationPlace {
  readonly groupKey: string;
  readonly from: Instant;
  readonly to: Instant;
}

/**
 * Lets one transaction at a time count for each of some correlations: two batches that each bring half of a window must
 * see each other's half.
 */
export async function lockCorrelations(
  client: PoolClient,
  places: readonly CorrelationPlace[],
): Promise<void> {
  // In one order everywhere, so that two batches cannot wait for each other.
  await client.query(
    `SELECT pg_advisory_xact_lock(key) FROM (
       SELECT hashtextextended('correlation ' || rule || ' ' || document, 0) AS key
         FROM unnest($1::text[], $2::int[]) AS c(rule, document) ORDER BY 1 OFFSET 0) AS keys`,
    [places.map(({ rule }) => rule), places.map(({ document }) => document)],
  );
}

/** The hits that are kept of some groups, each within its stretch; in the order of the groups. */
export async function openHits(client: PoolClient, groups: readonly GroupStretch[]): Promise<KeptHit[][]> {
  // Row by row by the index: how many groups there are is not known when the statement is planned.
  const { rows } = await client.query<Omit<KeptHit, 'order' | 'groupKey'> & { at: number }>(
    `SELECT g.at::int AS at, h.*
       FROM unnest($1::uuid[], $2::int[], $3::text[], $4::timestamptz[], $5::timestamptz[])
              WITH ORDINALITY AS g(rule, document, group_key, since, until, at)
      CROSS JOIN LATERAL (
        SELECT seq, "time", replace(event_id::text, '-', '') AS "eventId", referred, value, events AS "window"
          FROM correlation_hits
         WHERE rule = g.rule AND document = g.document AND group_key = g.group_key
           AND "time" >= g.since AND "time" <= g.until
        OFFSET 0) AS h`,
    [
      groups.map(({ rule }) => rule),
      groups.map(({ document }) => document),
      groups.map(({ groupKey }) => groupKey),
      groups.map(({ from }) => formatInstant(from)),
      groups.map(({ to }) => formatInstant(to)),
    ],
  );
  const found = groups.map((): KeptHit[] => []);
  for (const { at, ...hit } of rows)
    found[at - 1]?.push({ ...hit, order: hit.eventId, groupKey: groups[at - 1]?.groupKey ?? '' });
  return found;
}

/** Keeps hits that may complete a window later, and drops those that have completed one. */
export async function keepHits(
  client: PoolClient,
  hits: readonly PlacedHit[],
  spent: readonly number[],
): Promise<void> {
  if (spent.length > 0)
    await client.query('DELETE FROM correlation_hits WHERE seq = ANY($1::bigint[])', [spent]);
  if (hits.length > 0) await copyLines(client, COPY_HITS, hits.map(copyLine));
}

const COPY_HITS =
  'COPY correlation_hits (rule, document, group_key, "time", event_id, referred, value, events) FROM STDIN';

const copyLine = ({ rule, document, groupKey, time, eventId, referred, value, window }: PlacedHit): string =>
  `${[
    rule,
    document,
    copyText(groupKey),
    formatInstant(time),
    eventId,
    referred,
    value === null ? '\\N' : copyText(value),
    window === null ? '\\N' : copyText(JSON.stringify(window)),
  ].join('\t')}\n`;
