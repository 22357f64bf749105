import type { PoolClient } from 'pg';
import { formatInstant, type Instant } from '../../core/base/instant.js';
import type { Hit } from '../../core/detect/windows.js';

/** A match that a correlation counts, with its group. */
export interface NewHit {
  readonly groupKey: string;
  readonly eventId: string;
  readonly time: Instant;
  /** The rule that matched, by its position in the text. */
  readonly referred: number;
  /** What the correlation's field held. */
  readonly value: string | null;
}

/** A hit as it is kept. */
export interface KeptHit extends Hit {
  readonly seq: number;
  readonly eventId: string;
}

/** Which correlation hits belong to: the rule text and the document in it. */
export interface CorrelationPlace {
  readonly rule: string;
  readonly document: number;
}

/**
 * Lets one transaction at a time count for a correlation: two batches that each bring half of a window must
 * see each other's half.
 */
export async function lockCorrelation(
  client: PoolClient,
  { rule, document }: CorrelationPlace,
): Promise<void> {
  await client.query(`SELECT pg_advisory_xact_lock(hashtextextended('correlation ' || $1 || ' ' || $2, 0))`, [
    rule,
    String(document),
  ]);
}

/** Adds hits; one that is there already, from the same record sent again, stays one. */
export async function addHits(
  client: PoolClient,
  place: CorrelationPlace,
  hits: readonly NewHit[],
): Promise<void> {
  await client.query(
    `INSERT INTO correlation_hits (rule, document, group_key, "time", event_id, referred, value)
     SELECT $1, $2, h.group_key, h.time, h.event_id, h.referred, h.value
       FROM unnest($3::text[], $4::timestamptz[], $5::uuid[], $6::int[], $7::text[])
              WITH ORDINALITY AS h(group_key, time, event_id, referred, value, position)
      ORDER BY h.position
     ON CONFLICT DO NOTHING`,
    [
      place.rule,
      place.document,
      hits.map((hit) => hit.groupKey),
      hits.map((hit) => formatInstant(hit.time)),
      hits.map((hit) => hit.eventId),
      hits.map((hit) => hit.referred),
      hits.map((hit) => hit.value),
    ],
  );
}

/** The unspent hits of some groups within a stretch of time, both ends included. */
export async function openHits(
  client: PoolClient,
  place: CorrelationPlace,
  groups: readonly string[],
  from: Instant,
  to: Instant,
): Promise<Map<string, KeptHit[]>> {
  const { rows } = await client.query<Omit<KeptHit, 'order'> & { group_key: string }>(
    `SELECT seq, group_key, "time", replace(event_id::text, '-', '') AS "eventId", referred, value
       FROM correlation_hits
      WHERE rule = $1 AND document = $2 AND NOT spent AND group_key = ANY($3) AND "time" >= $4 AND "time" <= $5`,
    [place.rule, place.document, groups, formatInstant(from), formatInstant(to)],
  );
  const found = new Map<string, KeptHit[]>();
  for (const { group_key: group, ...hit } of rows) {
    const kept = found.get(group) ?? [];
    kept.push({ ...hit, order: hit.eventId });
    found.set(group, kept);
  }
  return found;
}

/** Marks hits as spent: they have completed a window. */
export async function spendHits(client: PoolClient, seqs: readonly number[]): Promise<void> {
  await client.query('UPDATE correlation_hits SET spent = true WHERE seq = ANY($1)', [seqs]);
}
