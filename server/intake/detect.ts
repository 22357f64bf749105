import type { PoolClient } from 'pg';
import { DAY } from '../../core/base/instant.js';
import type { RulePlace } from '../../core/detect/active-rules.js';
import type { RecordsOf } from '../../core/detect/log-sources.js';
import { matchBatch } from '../../core/detect/match-batch.js';
import { groupReader, outerGroup, subjectReader, type Subject } from '../../core/detect/subject.js';
import { completedWindows } from '../../core/detect/windows.js';
import type { Event } from '../../core/events/event.js';
import { renamedLookup } from '../../core/sigma/field-lookup.js';
import type { CorrelationRule, Head } from '../../core/sigma/predicate.js';
import { jsonToText } from '../../core/text/json-text.js';
import { runInMemory } from '../../core/wick/in-memory/run.js';
import { gatherAlerts, type AlertMatches } from '../sql/alerts.js';
import { addHits, lockCorrelation, openHits, spendHits, type NewHit } from '../sql/correlation-hits.js';
import { addMarks, addRuleDays } from '../sql/rule-marks.js';
import type { IntakeRules } from './rule-set.js';

type Found = AlertMatches & {
  events: { id: string; time: number }[];
  matches: number;
  first: number;
  last: number;
};

/** Gathers matches by rule and key, until they are written down. */
export class Gathering {
  private readonly found = new Map<string, Found>();
  private readonly marked = new Map<string, Found>();
  /** Matches by rule and day. */
  private readonly days = new Map<string, { rule: string; day: number; events: number }>();

  /** @param time when the match was complete @param events its evidence; a hunt may have none */
  add(
    place: RulePlace,
    rule: Pick<Head, 'title' | 'level' | 'settings'>,
    subject: Subject,
    time: number,
    events: readonly { id: string; time: number }[],
  ): void {
    const { does, quiet, quietPer } = rule.settings;
    const day = Math.floor(time / DAY) * DAY;
    const counted = this.days.get(`${place.id} ${day}`) ?? { rule: place.id, day, events: 0 };
    counted.events++;
    this.days.set(`${place.id} ${day}`, counted);
    const found = does === 'mark' ? this.marked : this.found;
    const key = quietPer === 'any' ? '' : subject.text;
    // Marks stand for themselves; what alerts gather goes by the key.
    const name = `${place.id} ${place.document} ${does === 'mark' ? subject.text : key}`;
    const times = [time, ...events.map((event) => event.time)];
    const known = found.get(name);
    if (known !== undefined) {
      known.matches++;
      known.first = Math.min(known.first, ...times);
      known.last = Math.max(known.last, ...times);
      known.events.push(...events);
      return;
    }
    found.set(name, {
      rule: place.id,
      document: place.document,
      ruleVersion: place.version,
      title: rule.title,
      level: rule.level,
      subject: subject.text,
      subjectFields: subject.fields,
      key,
      quiet,
      actions: rule.settings.actions,
      matches: 1,
      first: Math.min(...times),
      last: Math.max(...times),
      events: [...events],
    });
  }

  /** Writes everything down. @returns the ids of alerts that were opened or grew */
  async write(client: PoolClient): Promise<number[]> {
    await addRuleDays(client, [...this.days.values()]);
    await addMarks(client, [...this.marked.values()]);
    return gatherAlerts(client, [...this.found.values()]);
  }
}

/**
 * Matches the events of a batch against the rules that are on, counts correlations, and writes alerts and marks: all in
 * the transaction that stores the events.
 * @returns the ids of alerts that were opened or grew
 */
export async function detectInBatch(
  client: PoolClient,
  events: readonly Event[],
  records: RecordsOf,
  active: IntakeRules,
): Promise<number[]> {
  const gathering = new Gathering();
  const { rules, places, reporting } = active;
  const matched = matchBatch(events, records, active);
  for (const [position, hits] of matched) {
    const [rule, place] = [rules[position], places[position]];
    if (rule === undefined || place === undefined || !reporting.has(position)) continue;
    const subjectOf = subjectReader(rule.settings.subject);
    for (const event of hits) gathering.add(place, rule, subjectOf(event), event.time, [event]);
  }
  /** What correlations completed in this batch, for those that rest on them. */
  const completed = new Map<number, readonly Completed[]>();
  for (const { position, rule } of active.correlations) {
    const place = places[position];
    if (place === undefined) continue;
    const hits = rule.refers.flatMap((referred, at) => [
      ...hitsOfEvents(rule, { referred, at }, matched.get(referred) ?? [], active.renames[referred]),
      ...hitsOfCompleted(rule, { referred, at }, completed.get(referred) ?? []),
    ]);
    if (hits.length === 0) continue;
    const found = await count(client, place, rule, hits);
    completed.set(position, found);
    if (reporting.has(position))
      for (const { subject, window } of found)
        gathering.add(place, rule, subject, window.at(-1)?.time ?? 0, window);
  }
  for (const { place, hunt, plan, environment } of active.hunts) {
    const subjectOf = subjectReader(hunt.settings.subject);
    for (const event of runInMemory(plan, events, environment).events)
      if (event !== null) gathering.add(place, hunt, subjectOf(event), event.time, [event]);
  }
  return gathering.write(client);
}

/** A window that a correlation completed: its group, and its events, the completing one last. */
interface Completed {
  readonly subject: Subject;
  readonly window: readonly { readonly id: string; readonly time: number }[];
}

type GroupedHit = NewHit & { readonly subject: Subject };

const groupKeyOf = (subject: Subject): string => JSON.stringify(Object.values(subject.fields));

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
    const { id: eventId, time } = event;
    return [{ groupKey: groupKeyOf(subject), subject, eventId, time, referred: at, value }];
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
    const { id: eventId, time } = last;
    return [{ groupKey: groupKeyOf(subject), subject, eventId, time, referred: at, value }];
  });
}

/** Adds hits to those of a correlation and finds the windows they complete. */
async function count(
  client: PoolClient,
  { id, document }: RulePlace,
  rule: CorrelationRule,
  hits: readonly GroupedHit[],
): Promise<readonly Completed[]> {
  const subjects = new Map(hits.map(({ groupKey, subject }) => [groupKey, subject]));
  const place = { rule: id, document };
  await lockCorrelation(client, place);
  await addHits(client, place, hits);
  const times = hits.map((hit) => hit.time);
  const open = await openHits(
    client,
    place,
    [...subjects.keys()],
    Math.min(...times) - rule.timespan,
    Math.max(...times) + rule.timespan,
  );
  const spent: number[] = [];
  const found: Completed[] = [];
  const counted = { ...rule, refers: rule.refers.map((_, at) => at) };
  for (const [groupKey, groupHits] of open) {
    const subject = subjects.get(groupKey);
    if (subject === undefined) continue;
    for (const window of completedWindows(groupHits, counted, 'in any order')) {
      found.push({ subject, window: window.hits.map((hit) => ({ id: hit.eventId, time: hit.time })) });
      spent.push(...window.hits.map((hit) => hit.seq));
    }
  }
  if (spent.length > 0) await spendHits(client, spent);
  return found;
}
