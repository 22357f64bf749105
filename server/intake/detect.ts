import type { PoolClient } from 'pg';
import { groupReader, outerGroup, usualSubject, type Subject } from '../../core/detect/subject.js';
import { completedWindows } from '../../core/detect/windows.js';
import type { Event } from '../../core/events/event.js';
import type { CorrelationRule, LogSource, Rule } from '../../core/sigma/predicate.js';
import { gatherAlerts, type AlertMatches } from '../sql/alerts.js';
import { fieldLookup } from '../../core/sigma/field-lookup.js';
import { jsonToText } from '../../core/text/json-text.js';
import { addHits, lockCorrelation, openHits, spendHits, type NewHit } from '../sql/correlation-hits.js';
import type { ActiveRule, ActiveRules } from './rule-set.js';

type Found = AlertMatches & { events: { id: string; time: number }[]; matches: number };

/** Gathers matches by rule and subject while a batch is looked through. */
class Gathering {
  private readonly found = new Map<string, Found>();

  add(
    active: ActiveRule,
    document: number,
    rule: Rule,
    subject: Subject,
    events: readonly { id: string; time: number }[],
  ): void {
    const name = `${active.id} ${document} ${subject.text}`;
    const known = this.found.get(name);
    if (known !== undefined) {
      known.matches++;
      known.events.push(...events);
      return;
    }
    this.found.set(name, {
      rule: active.id,
      document,
      ruleVersion: active.version,
      title: rule.title,
      level: rule.level,
      subject: subject.text,
      subjectFields: subject.fields,
      matches: 1,
      events: [...events],
    });
  }

  all(): readonly AlertMatches[] {
    return [...this.found.values()];
  }
}

/**
 * Matches the events of a batch against the rules that are on, counts correlations, and writes the alerts: all in
 * the transaction that stores the events.
 * @returns the ids of alerts that were opened or grew
 */
export async function detectInBatch(
  client: PoolClient,
  events: readonly Event[],
  records: LogSource,
  { rules, documents, index }: ActiveRules,
): Promise<number[]> {
  const gathering = new Gathering();
  const asked = documents.map((one) =>
    one.matcher.appliesTo(records) ? { ...one, hits: [] as Event[] } : null,
  );
  // Event by event, so that rules share what they look up of each.
  for (const event of events)
    for (const position of index.candidates(event)) {
      const one = asked[position];
      if (one?.matcher.matches(event) === true) one.hits.push(event);
    }
  const met = asked.flatMap((one) => (one === null || one.hits.length === 0 ? [] : [one]));
  for (const active of rules) {
    const matched = new Map<number, Event[]>();
    for (const { document, matcher, hits } of met.filter((one) => one.active === active)) {
      matched.set(document, hits);
      if (active.reporting.has(document))
        for (const event of hits) gathering.add(active, document, matcher.rule, usualSubject(event), [event]);
    }
    /** What correlations completed in this batch, for those that rest on them. */
    const completed = new Map<number, readonly Completed[]>();
    for (const { document, rule } of active.correlations) {
      const hits = rule.refers.flatMap((referred) => [
        ...hitsOfEvents(rule, referred, matched.get(referred) ?? []),
        ...hitsOfCompleted(rule, referred, completed.get(referred) ?? []),
      ]);
      if (hits.length === 0) continue;
      const found = await count(client, active, document, rule, hits);
      completed.set(document, found);
      if (active.reporting.has(document))
        for (const { subject, window } of found) gathering.add(active, document, rule, subject, window);
    }
  }
  return gatherAlerts(client, gathering.all());
}

/** A window that a correlation completed: its group, and its events, the completing one last. */
interface Completed {
  readonly subject: Subject;
  readonly window: readonly { readonly id: string; readonly time: number }[];
}

type GroupedHit = NewHit & { readonly subject: Subject };

const groupKeyOf = (subject: Subject): string => JSON.stringify(Object.values(subject.fields));

/** What the events of a matched rule are to a correlation; those without a group take no part. */
function hitsOfEvents(rule: CorrelationRule, referred: number, events: readonly Event[]): GroupedHit[] {
  if (events.length === 0) return [];
  const groupOf = groupReader(rule.groupBy, referred);
  const valueOf = rule.field === null ? () => null : fieldLookup(rule.field);
  return events.flatMap((event) => {
    const subject = groupOf(event);
    if (subject === null) return [];
    const value = jsonToText(valueOf(event));
    return [{ groupKey: groupKeyOf(subject), subject, eventId: event.id, time: event.time, referred, value }];
  });
}

/** What completed correlations are to one that rests on them: their time is that of their completion. */
function hitsOfCompleted(
  rule: CorrelationRule,
  referred: number,
  completed: readonly Completed[],
): GroupedHit[] {
  return completed.flatMap(({ subject: inner, window }) => {
    const subject = outerGroup(inner, rule.groupBy, referred);
    const last = window.at(-1);
    if (subject === null || last === undefined) return [];
    const value = rule.field === null ? null : (inner.fields[rule.field] ?? null);
    return [{ groupKey: groupKeyOf(subject), subject, eventId: last.id, time: last.time, referred, value }];
  });
}

/** Adds hits to those of a correlation and finds the windows they complete. */
async function count(
  client: PoolClient,
  active: ActiveRule,
  document: number,
  rule: CorrelationRule,
  hits: readonly GroupedHit[],
): Promise<readonly Completed[]> {
  const subjects = new Map(hits.map(({ groupKey, subject }) => [groupKey, subject]));
  const place = { rule: active.id, document };
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
  for (const [groupKey, groupHits] of open) {
    const subject = subjects.get(groupKey);
    if (subject === undefined) continue;
    for (const window of completedWindows(groupHits, rule)) {
      found.push({ subject, window: window.hits.map((hit) => ({ id: hit.eventId, time: hit.time })) });
      spent.push(...window.hits.map((hit) => hit.seq));
    }
  }
  if (spent.length > 0) await spendHits(client, spent);
  return found;
}
