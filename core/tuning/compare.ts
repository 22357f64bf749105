import { DAY, type Instant } from '../base/instant.js';
import { alertsOf } from '../rules/throttle.js';
import type { ReplayMatch } from '../rules/replay.js';
import type { Judgement } from './verdicts.js';

/** A match of a replay with what was said of it. */
export interface ToldMatch extends ReplayMatch {
  readonly judged: Judgement;
}

/** Matches and alerts of a day. */
export interface DayCounts {
  readonly day: Instant;
  readonly matches: number;
  readonly alerts: number;
  readonly real: number;
}

/** What changes between two versions of a rule over the same time. */
export interface Comparison {
  readonly before: { readonly matches: number; readonly alerts: number; readonly days: readonly DayCounts[] };
  readonly after: { readonly matches: number; readonly alerts: number; readonly days: readonly DayCounts[] };
  readonly lost: readonly ToldMatch[];
  readonly added: readonly ReplayMatch[];
  readonly realKept: readonly ToldMatch[];
  readonly realLost: readonly ToldMatch[];
  readonly unsettledLost: readonly ToldMatch[];
}

/** The alerts that matches come to, those of each rule apart, by time. */
function alertsIn(matches: readonly ReplayMatch[]): { readonly began: Instant }[] {
  const sorted = [...matches].sort((a, b) => a.time - b.time);
  const rules = [...new Set(sorted.map(({ rule }) => rule))];
  return rules.flatMap((rule) => {
    const own = sorted.filter((match) => match.rule === rule);
    return own[0] === undefined ? [] : alertsOf(own, own[0].settings);
  });
}

/** Matches, alerts and real ones by the day, in UTC; days on which nothing happened are left out. */
export function countDays(matches: readonly (ReplayMatch & { readonly judged?: Judgement })[]): DayCounts[] {
  const days = new Map<Instant, { matches: number; alerts: number; real: number }>();
  const of = (time: Instant): { matches: number; alerts: number; real: number } => {
    const day = Math.floor(time / DAY) * DAY;
    const known = days.get(day) ?? { matches: 0, alerts: 0, real: 0 };
    days.set(day, known);
    return known;
  };
  for (const { time, judged } of matches) {
    of(time).matches++;
    if (judged === 'real') of(time).real++;
  }
  for (const { began } of alertsIn(matches)) of(began).alerts++;
  return [...days].sort(([a], [b]) => a - b).map(([day, counts]) => ({ day, ...counts }));
}

/** Whether two matches are the same finding: about the same, sharing an event. */
function counterparts(after: readonly ReplayMatch[]): (match: ReplayMatch) => ReplayMatch | null {
  const byEvent = new Map<string, Set<ReplayMatch>>();
  for (const match of after)
    for (const { id } of match.events) {
      const key = `${match.subject} ${id}`;
      byEvent.set(key, (byEvent.get(key) ?? new Set()).add(match));
    }
  const taken = new Set<ReplayMatch>();
  return (match) => {
    for (const { id } of match.events)
      for (const one of byEvent.get(`${match.subject} ${id}`) ?? [])
        if (!taken.has(one)) {
          taken.add(one);
          return one;
        }
    return null;
  };
}

/** Compares what two versions of a rule find over the same events. */
export function compareMatches(before: readonly ToldMatch[], after: readonly ReplayMatch[]): Comparison {
  const find = counterparts(after);
  const kept = new Map<ReplayMatch, ToldMatch>();
  const lost: ToldMatch[] = [];
  for (const match of [...before].sort((a, b) => a.time - b.time)) {
    const same = find(match);
    if (same === null) lost.push(match);
    else kept.set(same, match);
  }
  const told = after.map((match): ToldMatch => ({
    ...match,
    judged: kept.get(match)?.judged ?? 'unsettled',
  }));
  return {
    before: { matches: before.length, alerts: alertsIn(before).length, days: countDays(before) },
    after: { matches: after.length, alerts: alertsIn(after).length, days: countDays(told) },
    lost,
    added: after.filter((match) => !kept.has(match)),
    realKept: [...kept.values()].filter(({ judged }) => judged === 'real'),
    realLost: lost.filter(({ judged }) => judged === 'real'),
    unsettledLost: lost.filter(({ judged }) => judged === 'unsettled' || judged === 'unsure'),
  };
}
