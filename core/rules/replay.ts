import { DAY, type Instant } from '../base/instant.js';
import type { ActiveRules } from '../detect/active-rules.js';
import type { RecordsOf } from '../detect/log-sources.js';
import { matchBatch } from '../detect/match-batch.js';
import { groupReader, subjectReader } from '../detect/subject.js';
import { sweepWindows, type PlacedHit, type SweptWindow } from '../detect/sweep.js';
import type { Event } from '../events/event.js';
import { renamedLookup } from '../predicate/field-lookup.js';
import type { RuleSettings } from '../sigma/rule-model.js';
import { jsonToText } from '../text/json-text.js';
import { alertsOf } from './throttle.js';

/** An event as matches name it. */
export interface EventAt {
  readonly id: string;
  readonly time: Instant;
}

/** A match of a replay. */
export interface ReplayMatch {
  readonly time: Instant;
  readonly subject: string;
  readonly events: readonly EventAt[];
  readonly settings: RuleSettings;
  /** Which of the rules it is, so that their alerts are kept apart. */
  readonly rule: number;
}

/** What a rule would have said. */
export interface ReplaySummary {
  readonly matches: number;
  readonly alerts: number;
  /** Days in UTC on which something happened, in order. */
  readonly days: readonly { readonly day: Instant; readonly matches: number; readonly alerts: number }[];
  /** The loudest, those with most matches first. */
  readonly subjects: readonly {
    readonly subject: string;
    readonly matches: number;
    readonly alerts: number;
  }[];
  /** The newest matches, newest first. */
  readonly examples: readonly (Omit<ReplayMatch, 'settings' | 'rule'> & {
    /** How many events the match has; the last of them are told. */
    readonly of: number;
  })[];
}

const MAX_SUBJECTS = 30;
const MAX_EXAMPLES = 30;
/** Events of a match that are told. */
const MAX_EVENTS = 10;

/** What matches come to. @param matches in any order */
export function summarise(matches: readonly ReplayMatch[]): ReplaySummary {
  const sorted = [...matches].sort((a, b) => a.time - b.time);
  const rules = [...new Set(sorted.map(({ rule }) => rule))];
  const alerts = rules.flatMap((rule) => {
    const own = sorted.filter((match) => match.rule === rule);
    return own[0] === undefined ? [] : alertsOf(own, own[0].settings);
  });
  const days = new Map<Instant, { matches: number; alerts: number }>();
  const subjects = new Map<string, { matches: number; alerts: number }>();
  const add = <K>(
    to: Map<K, { matches: number; alerts: number }>,
    key: K,
    what: 'matches' | 'alerts',
  ): void => {
    const known = to.get(key) ?? { matches: 0, alerts: 0 };
    known[what]++;
    to.set(key, known);
  };
  for (const { time, subject } of sorted) {
    add(days, Math.floor(time / DAY) * DAY, 'matches');
    add(subjects, subject, 'matches');
  }
  for (const { began, subject } of alerts) {
    add(days, Math.floor(began / DAY) * DAY, 'alerts');
    add(subjects, subject, 'alerts');
  }
  return {
    matches: sorted.length,
    alerts: alerts.length,
    days: [...days].sort(([a], [b]) => a - b).map(([day, counts]) => ({ day, ...counts })),
    subjects: [...subjects]
      .map(([subject, counts]) => ({ subject, ...counts }))
      .sort((a, b) => b.matches - a.matches || (a.subject < b.subject ? -1 : 1))
      .slice(0, MAX_SUBJECTS),
    examples: sorted
      .slice(-MAX_EXAMPLES)
      .reverse()
      .map(({ time, subject, events }) => ({
        time,
        subject,
        events: events.slice(-MAX_EVENTS),
        of: events.length,
      })),
  };
}

/** Stored events shown to rules as if they came in, in the order they happened. */
export class Replay {
  private readonly matches: ReplayMatch[] = [];
  private readonly hits: PlacedHit<EventAt>[] = [];

  constructor(private readonly active: ActiveRules) {}

  /** How many matches there are so far; what correlations count is not among them. */
  get size(): number {
    return this.matches.length + this.hits.length;
  }

  /** What rules matched by themselves so far, without what correlations completed. */
  get matched(): readonly ReplayMatch[] {
    return this.matches;
  }

  /** What correlations counted so far. */
  get counted(): readonly PlacedHit<EventAt>[] {
    return this.hits;
  }

  /** @param events of one source, in the order they happened */
  add(events: readonly Event[], records: RecordsOf): void {
    const { rules, reporting, correlations, renames } = this.active;
    for (const [position, matched] of matchBatch(events, records, this.active)) {
      const rule = rules[position];
      if (rule === undefined) continue;
      if (reporting.has(position)) {
        const subjectOf = subjectReader(rule.settings.subject);
        for (const event of matched) {
          const { id, time } = event;
          this.matches.push({
            time,
            subject: subjectOf(event).text,
            events: [{ id, time }],
            settings: rule.settings,
            rule: position,
          });
        }
      }
      for (const { position: correlation, rule: counting } of correlations) {
        if (!counting.refers.includes(position)) continue;
        const groupOf = groupReader(counting.groupBy, position, renames[position]);
        const valueOf = counting.field === null ? null : renamedLookup(counting.field, renames[position]);
        for (const event of matched) {
          const group = groupOf(event)?.fields;
          if (group === undefined) continue;
          const value = valueOf === null ? null : jsonToText(valueOf(event));
          const { id, time } = event;
          const place = { id, time };
          this.hits.push({ correlation, referred: position, group, time, order: id, value, place });
        }
      }
    }
  }

  /** What correlations completed so far. */
  windows(): SweptWindow<EventAt>[] {
    return sweepWindows(this.active.rules, this.hits, 'in any order');
  }

  /** What it came to so far. */
  found(): ReplayMatch[] {
    const { rules, reporting } = this.active;
    const windows = this.windows().flatMap(({ rule: position, group, time, places }) => {
      const rule = rules[position];
      if (rule === undefined || !reporting.has(position)) return [];
      const subject = Object.values(group).join(', ');
      return [{ time, subject, events: places, settings: rule.settings, rule: position }];
    });
    return [...this.matches, ...windows];
  }
}
