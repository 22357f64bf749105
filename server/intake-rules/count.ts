import type { PoolClient } from 'pg';
import type { RulesMet } from '../../core/recipes/apply.js';
import { ADD_FORWARD, ADD_MET, WAITING_FORWARDS } from './sql.js';

/** A record that met rules of the way in. */
export interface PassedRecord {
  readonly raw: string;
  readonly rules: RulesMet;
}

/** Records, and characters, that go to a receiver at once. */
const AT_ONCE = 500;
const MAX_CHARACTERS = 1_000_000;
/** Deliveries on their way to one receiver: one that takes nothing for long fills no disk. */
const MAX_WAITING = 1000;

/** Counts records for the rules they met, and queues those to be sent on, in the transaction that stores them. */
export async function countMet(
  client: PoolClient,
  source: string,
  records: readonly PassedRecord[],
): Promise<void> {
  if (records.length === 0) return;
  const met = new Map<number, number>();
  const forward = new Map<string, Forwarded>();
  for (const { raw, rules } of records) {
    for (const rule of rules.met) met.set(rule, (met.get(rule) ?? 0) + 1);
    for (const { rule, to } of rules.forward) {
      const key = `${rule} ${to}`;
      const one = forward.get(key) ?? { rule, to, raws: [] };
      forward.set(key, one);
      one.raws.push(raw);
    }
  }
  const left = forward.size === 0 ? new Map<number, number>() : await queue(client, source, forward);
  const rules = [...met.keys()];
  await client.query(ADD_MET, [
    rules,
    rules.map((rule) => met.get(rule) ?? 0),
    rules.map((rule) => left.get(rule) ?? 0),
  ]);
}

/** What is to go to one receiver because of one rule. */
interface Forwarded {
  readonly rule: number;
  readonly to: string;
  readonly raws: string[];
}

/** Queues records for their receivers. @returns how many were not, by rule, since too many wait */
async function queue(
  client: PoolClient,
  source: string,
  forward: ReadonlyMap<string, Forwarded>,
): Promise<ReadonlyMap<number, number>> {
  const { rows } = await client.query<{ to: string; n: number }>(WAITING_FORWARDS, [
    [...new Set([...forward.values()].map(({ to }) => to))],
  ]);
  const waiting = new Map(rows.map(({ to, n }) => [to, n]));
  const left = new Map<number, number>();
  for (const { rule, to, raws } of forward.values())
    for (const part of inParts(raws)) {
      const before = waiting.get(to) ?? 0;
      if (before >= MAX_WAITING) left.set(rule, (left.get(rule) ?? 0) + part.length);
      else await client.query(ADD_FORWARD, [rule, to, source, part]);
      waiting.set(to, before + 1);
    }
  return left;
}

function inParts(raws: readonly string[]): string[][] {
  const parts: string[][] = [];
  let part: string[] = [];
  let length = 0;
  for (const raw of raws) {
    if (part.length > 0 && (part.length >= AT_ONCE || length + raw.length > MAX_CHARACTERS)) {
      parts.push(part);
      part = [];
      length = 0;
    }
    part.push(raw);
    length += raw.length;
  }
  if (part.length > 0) parts.push(part);
  return parts;
}
