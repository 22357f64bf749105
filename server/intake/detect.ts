import type { PoolClient } from 'pg';
import { DAY } from '../../core/base/instant.js';
import type { RulePlace } from '../../core/detect/active-rules.js';
import type { RecordsOf } from '../../core/detect/log-sources.js';
import { matchBatch } from '../../core/detect/match-batch.js';
import { subjectReader, type Subject } from '../../core/detect/subject.js';
import type { Event } from '../../core/events/event.js';
import { levelOf } from '../../core/rules/level-of.js';
import type { Head } from '../../core/sigma/rule-model.js';
import { runInMemory } from '../../core/wick/in-memory/run.js';
import { gatherAlerts, type AlertMatches } from '../alerts/sql.js';
import { addMarks, addRuleDays } from '../rules/marks-sql.js';
import { countCorrelations } from './count-correlations.js';
import type { IntakeRules } from './rule-set.js';
import type { FailedRule } from './suspend-rules.js';

type GatheredMatches = AlertMatches & {
  events: { id: string; time: number }[];
  matches: number;
  first: number;
  last: number;
};

/** Gathers matches by rule and key, until they are written down. */
export class Gathering {
  private readonly found = new Map<string, GatheredMatches>();
  private readonly marked = new Map<string, GatheredMatches>();
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
    const { onMatch, quiet, quietPer } = rule.settings;
    const day = Math.floor(time / DAY) * DAY;
    const counted = this.days.get(`${place.id} ${day}`) ?? { rule: place.id, day, events: 0 };
    counted.events++;
    this.days.set(`${place.id} ${day}`, counted);
    const found = onMatch === 'mark' ? this.marked : this.found;
    const key = quietPer === 'any' ? '' : subject.text;
    // Marks stand for themselves; what alerts gather goes by the key.
    const name = `${place.id} ${place.document} ${onMatch === 'mark' ? subject.text : key}`;
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
      level: levelOf(rule, subject),
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

/** What rules made of a batch. */
export interface Detected {
  /** The ids of alerts that were opened or grew. */
  readonly alerts: readonly number[];
  /** Rules that failed on an event; the others were asked all the same. */
  readonly failed: readonly FailedRule[];
}

const wordsOf = (error: unknown): string =>
  (error instanceof Error ? error.message : String(error)).slice(0, 500);

/**
 * Matches the events of a batch against the rules that are on, counts correlations, and writes alerts and marks: all in
 * the transaction that stores the events.
 */
export async function detectInBatch(
  client: PoolClient,
  events: readonly Event[],
  records: RecordsOf,
  active: IntakeRules,
): Promise<Detected> {
  const gathering = new Gathering();
  const failed: FailedRule[] = [];
  const { rules, places, reporting } = active;
  const matched = matchBatch(events, records, active, ({ position, event, error }) => {
    const [rule, place] = [rules[position], places[position]];
    if (rule !== undefined && place !== undefined)
      failed.push({ place, title: rule.title, reason: wordsOf(error), event });
  });
  for (const [position, hits] of matched) {
    const [rule, place] = [rules[position], places[position]];
    if (rule === undefined || place === undefined || !reporting.has(position)) continue;
    const subjectOf = subjectReader(rule.settings.subject);
    for (const event of hits) gathering.add(place, rule, subjectOf(event), event.time, [event]);
  }
  for (const { position, completed } of await countCorrelations(client, matched, active)) {
    const [rule, place] = [rules[position], places[position]];
    if (rule === undefined || place === undefined || !reporting.has(position)) continue;
    for (const { subject, window } of completed)
      gathering.add(place, rule, subject, window.at(-1)?.time ?? 0, window);
  }
  for (const { place, hunt, plan, environment } of active.hunts) {
    const subjectOf = subjectReader(hunt.settings.subject);
    try {
      for (const event of runInMemory(plan, events, environment).events)
        if (event !== null) gathering.add(place, hunt, subjectOf(event), event.time, [event]);
    } catch (error) {
      const event = firstFailing(events, (one) => void runInMemory(plan, [one], environment));
      if (event !== undefined) failed.push({ place, title: hunt.title, reason: wordsOf(error), event });
    }
  }
  return { alerts: await gathering.write(client), failed };
}

/** The event that something throws on; the first of all where it throws on none alone. */
function firstFailing(events: readonly Event[], work: (event: Event) => void): Event | undefined {
  const found = events.find((event) => {
    try {
      work(event);
      return false;
    } catch {
      return true;
    }
  });
  return found ?? events[0];
}
