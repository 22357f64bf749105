import { hash } from 'node:crypto';
import type { PoolClient } from 'pg';
import type { ActiveRules } from '../../core/detect/active-rules.js';
import { groupReader, outerGroup, type Subject } from '../../core/detect/subject.js';
import { completedWindows } from '../../core/detect/windows.js';
import type { Event } from '../../core/events/event.js';
import { renamedLookup } from '../../core/predicate/field-lookup.js';
import type { EventAt } from '../../core/rules/replay.js';
import type { CorrelationRule } from '../../core/sigma/rule-model.js';
import { jsonToText } from '../../core/text/json-text.js';
import {
  keepHits,
  lockCorrelations,
  openHits,
  type CorrelationHit,
  type CorrelationPlace,
  type GroupStretch,
  type PlacedHit,
} from '../rules/correlation-hits-sql.js';

/** A window that a correlation completed: its group, and its events, the completing one last. */
export interface Completed {
  readonly subject: Subject;
  readonly window: readonly EventAt[];
}

/** What a correlation completed, by its position among the rules. */
export interface CompletedOf {
  readonly position: number;
  readonly completed: readonly Completed[];
}

type Correlations = ActiveRules['correlations'];
type GroupedHit = CorrelationHit & { readonly subject: Subject };

/** A correlation with what a batch brings to it. */
interface Brought {
  readonly position: number;
  readonly rule: CorrelationRule;
  readonly place: CorrelationPlace;
  readonly hits: readonly GroupedHit[];
}

/**
 * Counts the matches of a batch for the correlations that are on, and keeps what may complete a window later.
 * @param matched the events that each rule matches, by its position
 */
export async function countCorrelations(
  client: PoolClient,
  matched: ReadonlyMap<number, readonly Event[]>,
  active: ActiveRules,
): Promise<CompletedOf[]> {
  const completed = new Map<number, readonly Completed[]>();
  for (const round of inRounds(active.correlations)) {
    const brought = round.flatMap(({ position, rule }): Brought[] => {
      const place = active.places[position];
      if (place === undefined) return [];
      const hits = rule.refers.flatMap((referred, at) => [
        ...hitsOfEvents(rule, { referred, at }, matched.get(referred) ?? [], active.renames[referred]),
        ...hitsOfCompleted(rule, { referred, at }, completed.get(referred) ?? []),
      ]);
      return hits.length === 0
        ? []
        : [{ position, rule, place: { rule: place.id, document: place.document }, hits }];
    });
    if (brought.length === 0) continue;
    for (const { position, completed: windows } of await count(client, brought))
      completed.set(position, windows);
  }
  return [...completed].map(([position, windows]) => ({ position, completed: windows }));
}

/** Correlations in rounds: each rests on those of rounds before it alone. */
function inRounds(correlations: Correlations): Correlations[] {
  const roundOf = new Map<number, number>();
  const rounds: Correlations[number][][] = [];
  // Those that others rest on come first.
  for (const one of correlations) {
    const round = Math.max(0, ...one.rule.refers.map((referred) => (roundOf.get(referred) ?? -1) + 1));
    roundOf.set(one.position, round);
    (rounds[round] ??= []).push(one);
  }
  return rounds;
}

/** Of the events of a window so many are kept for what rests on it, the newest. */
const MAX_EVENTS = 1000;

/** Longer keys do not fit the index; their hash stands for them. */
const MAX_KEY_LENGTH = 500;

function groupKeyOf(subject: Subject): string {
  const key = JSON.stringify(Object.values(subject.fields));
  return key.length > MAX_KEY_LENGTH ? `sha256 ${hash('sha256', key)}` : key;
}

/** A rule that a correlation rests on: its position, and its place among those that are named. */
interface Referred {
  readonly referred: number;
  readonly at: number;
}

/** What the events of a matched rule are to a correlation; those without a group take no part. */
function hitsOfEvents(
  rule: CorrelationRule,
  { referred, at }: Referred,
  events: readonly Event[],
  renames: Readonly<Record<string, string>> = {},
): GroupedHit[] {
  if (events.length === 0) return [];
  const groupOf = groupReader(rule.groupBy, referred, renames);
  const valueOf = rule.field === null ? () => null : renamedLookup(rule.field, renames);
  return events.flatMap((event) => {
    const subject = groupOf(event);
    if (subject === null) return [];
    const value = jsonToText(valueOf(event));
    const { id, time } = event;
    const groupKey = groupKeyOf(subject);
    return [{ groupKey, subject, eventId: id, order: id, time, referred: at, value, window: null }];
  });
}

/** What completed correlations are to one that rests on them: their time is that of their completion. */
function hitsOfCompleted(
  rule: CorrelationRule,
  { referred, at }: Referred,
  completed: readonly Completed[],
): GroupedHit[] {
  return completed.flatMap(({ subject: inner, window }) => {
    const subject = outerGroup(inner, rule.groupBy, referred);
    const last = window.at(-1);
    if (subject === null || last === undefined) return [];
    const value = rule.field === null ? null : (inner.fields[rule.field] ?? null);
    const { id, time } = last;
    const [groupKey, events] = [groupKeyOf(subject), window.slice(-MAX_EVENTS)];
    return [{ groupKey, subject, eventId: id, order: id, time, referred: at, value, window: events }];
  });
}

/** What a batch brings to one group of a correlation. */
interface Group extends GroupStretch {
  readonly of: Brought;
  readonly subject: Subject;
  readonly hits: GroupedHit[];
}

const eventsOf = ({ window, eventId, time }: CorrelationHit): readonly EventAt[] =>
  window ?? [{ id: eventId, time }];

/** Puts hits beside those that are open and finds the windows they complete; what completes none is kept. */
async function count(client: PoolClient, brought: readonly Brought[]): Promise<CompletedOf[]> {
  await lockCorrelations(
    client,
    brought.map(({ place }) => place),
  );
  const groups = brought.flatMap(groupsOf);
  const open = await openHits(client, groups);
  const kept: PlacedHit[] = [];
  const spent: number[] = [];
  const found = new Map<Brought, Completed[]>(brought.map((one) => [one, []]));
  for (const [i, { of, subject, hits }] of groups.entries()) {
    const counted = { ...of.rule, refers: of.rule.refers.map((_, at) => at) };
    const used = new Set<CorrelationHit>();
    for (const { hits: window } of completedWindows([...(open[i] ?? []), ...hits], counted, 'in any order')) {
      found.get(of)?.push({ subject, window: window.flatMap(eventsOf) });
      for (const hit of window) used.add(hit);
    }
    for (const hit of open[i] ?? []) if (used.has(hit)) spent.push(hit.seq);
    for (const hit of hits) if (!used.has(hit)) kept.push({ ...hit, ...of.place });
  }
  await keepHits(client, kept, spent);
  return [...found].map(([{ position }, completed]) => ({ position, completed }));
}

/** The groups that hits belong to, with the stretch of time whose hits can share a window with them. */
function groupsOf(of: Brought): Group[] {
  const byKey = new Map<string, GroupedHit[]>();
  for (const hit of of.hits) {
    const known = byKey.get(hit.groupKey);
    if (known === undefined) byKey.set(hit.groupKey, [hit]);
    else known.push(hit);
  }
  return [...byKey].flatMap(([groupKey, hits]) => {
    const [first] = hits;
    if (first === undefined) return [];
    let [from, to] = [first.time, first.time];
    for (const { time } of hits) {
      if (time < from) from = time;
      if (time > to) to = time;
    }
    const { timespan } = of.rule;
    return [
      { ...of.place, groupKey, from: from - timespan, to: to + timespan, of, subject: first.subject, hits },
    ];
  });
}
