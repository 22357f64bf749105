import type { PoolClient } from 'pg';
import { completedWindows } from '../../core/detect/event-count.js';
import { groupSubject, usualSubject, type Subject } from '../../core/detect/subject.js';
import type { Event } from '../../core/events/event.js';
import type { CorrelationRule, LogSource, Rule } from '../../core/sigma/predicate.js';
import { gatherAlerts, type AlertMatches } from '../sql/alerts.js';
import { addHits, lockCorrelation, openHits, spendHits } from '../sql/correlation-hits.js';
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
    for (const { document, rule } of active.correlations) {
      const counted = rule.refers.flatMap((referred) => matched.get(referred) ?? []);
      if (counted.length > 0) await count(client, active, document, rule, counted, gathering);
    }
  }
  return gatherAlerts(client, gathering.all());
}

async function count(
  client: PoolClient,
  active: ActiveRule,
  document: number,
  rule: CorrelationRule,
  events: readonly Event[],
  gathering: Gathering,
): Promise<void> {
  const subjects = new Map<string, Subject>();
  const hits = events.flatMap((event) => {
    const subject = groupSubject(event, rule.groupBy);
    if (subject === null) return [];
    const groupKey = JSON.stringify(Object.values(subject.fields));
    subjects.set(groupKey, subject);
    return [{ groupKey, eventId: event.id, time: event.time }];
  });
  if (hits.length === 0) return;
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
  for (const [groupKey, groupHits] of open) {
    const subject = subjects.get(groupKey);
    if (subject === undefined) continue;
    for (const window of completedWindows(groupHits, rule)) {
      gathering.add(
        active,
        document,
        rule,
        subject,
        window.hits.map((hit) => ({ id: hit.eventId, time: hit.time })),
      );
      spent.push(...window.hits.map((hit) => hit.seq));
    }
  }
  if (spent.length > 0) await spendHits(client, spent);
}
