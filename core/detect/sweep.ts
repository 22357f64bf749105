import type { Instant } from '../base/instant.js';
import { isJsonObject, type JsonObject } from '../base/json.js';
import type { Event } from '../events/event.js';
import { renamedLookup, type FieldLookup } from '../predicate/field-lookup.js';
import type { LogSource, Rule } from '../sigma/rule-model.js';
import { jsonToText } from '../text/json-text.js';
import { FieldMemory } from '../predicate/field-memory.js';
import { compileVariants, renamesOf, type LogSourceEntry, type VariantMatcher } from './log-sources.js';
import { inOrderOfNeed } from './part-of-pack.js';
import { RuleIndex } from './rule-index.js';
import { groupReader, outerGroup, type GroupReader, type Subject } from './subject.js';
import { completedWindows, type Hit, type SameTime } from './windows.js';

// Rules over records that were all there before: no store, no order of arrival but that of the files.

/** What a record is to a correlation, small enough to be gathered from many threads. */
export interface SweepHit {
  /** The correlation and the rule that matched, by their positions. */
  readonly correlation: number;
  readonly referred: number;
  readonly group: Readonly<Record<string, string>>;
  readonly time: Instant;
  readonly value: string | null;
}

/** What became of one record. */
export interface SweptRecord {
  /** Rules that report, by their positions. */
  readonly matched: readonly number[];
  readonly hits: readonly SweepHit[];
  /** Rules that it meets, those that are only counted among them. */
  readonly met: readonly number[];
}

/** Fields by which records choose a log source, besides their kind. */
const SORTED_BY = ['Channel', 'EventID', 'program', 'SYSLOG_IDENTIFIER', 'type'] as const;
/** Enough for the sorts that there are; what somebody makes up is not looked at further. */
const MAX_SORTS = 5000;

const NOTHING: SweptRecord = { matched: [], hits: [], met: [] };

interface Feeding {
  readonly correlation: number;
  readonly groupOf: GroupReader;
  readonly valueOf: FieldLookup | null;
}

/** Rules ready for records of one log source. */
export class Sweeper {
  private readonly matchers: readonly { readonly rule: number; readonly matcher: VariantMatcher }[];
  private readonly index: RuleIndex;
  /** Which correlations each rule feeds. */
  private readonly feeds: readonly (readonly Feeding[])[];
  private readonly silent: ReadonlySet<number>;
  /** Rules that no record was one of yet, whose log source they name. */
  private unasked: readonly { readonly rule: number; readonly matcher: VariantMatcher }[];
  private asked: number[] = [];
  /** What records say that choose a log source: looked at once for each. */
  private readonly sorts = new Set<string>();

  /**
   * @param records what the records are; `any` applies every rule
   * @param entries what log sources mean, besides what the records are said to be
   */
  constructor(rules: readonly Rule[], records: LogSource | 'any', entries: readonly LogSourceEntry[] = []) {
    const memory = new FieldMemory();
    this.matchers = rules.flatMap((rule, position) => {
      if (rule.type !== 'detection') return [];
      const fitting = compileVariants(rule, entries, memory).filter(
        (variant) => records === 'any' || variant.appliesTo({ source: '', logsource: records }),
      );
      return fitting.map((matcher) => ({ rule: position, matcher }));
    });
    this.index = new RuleIndex(
      this.matchers.map(({ matcher }) => matcher.predicate),
      memory,
    );
    this.feeds = rules.map((referred, position) => {
      const renames = referred.type === 'detection' ? renamesOf(referred, entries) : {};
      return rules.flatMap((rule, correlation) =>
        rule.type === 'correlation' && rule.refers.includes(position)
          ? [
              {
                correlation,
                groupOf: groupReader(rule.groupBy, position, renames),
                valueOf: rule.field === null ? null : renamedLookup(rule.field, renames),
              },
            ]
          : [],
      );
    });
    this.silent = silentOf(rules);
    this.unasked = this.matchers;
  }

  /** Rules that were asked of a record for the first time since this was last called, by their positions. */
  newlyAsked(): number[] {
    const asked = this.asked;
    this.asked = [];
    return asked;
  }

  private noteAsked(event: Event): void {
    const { original } = event;
    const own = isJsonObject(original) ? original : {};
    const sort = [event.kind, ...SORTED_BY.map((field) => jsonToText(own[field] ?? null))].join('|');
    if (this.sorts.has(sort) || this.sorts.size >= MAX_SORTS) return;
    this.sorts.add(sort);
    const asked = new Set(
      this.unasked.filter(({ matcher }) => matcher.speaksOf(event)).map(({ rule }) => rule),
    );
    if (asked.size === 0) return;
    this.asked.push(...asked);
    this.unasked = this.unasked.filter(({ rule }) => !asked.has(rule));
  }

  /** Matches a record. @param time null where it tells none: then it takes no part in correlations */
  sweep(event: Event, time: Instant | null): SweptRecord {
    let matched: number[] | null = null;
    let hits: SweepHit[] | null = null;
    const met: number[] = [];
    if (this.unasked.length > 0) this.noteAsked(event);
    for (const candidate of this.index.candidates(event)) {
      const { rule: position = -1, matcher } = this.matchers[candidate] ?? {};
      if (matcher?.matches(event) !== true || met.includes(position)) continue;
      met.push(position);
      if (!this.silent.has(position)) (matched ??= []).push(position);
      if (time === null) continue;
      for (const { correlation, groupOf, valueOf } of this.feeds[position] ?? []) {
        const group = groupOf(event)?.fields;
        if (group === undefined) continue;
        const value = valueOf === null ? null : jsonToText(valueOf(event));
        (hits ??= []).push({ correlation, referred: position, group, time, value });
      }
    }
    if (met.length === 0) return NOTHING;
    return { matched: matched?.sort((a, b) => a - b) ?? [], hits: hits ?? [], met };
  }
}

/** Rules that do not report themselves: those a correlation counts, unless it says that they do. */
export function silentOf(rules: readonly Rule[]): ReadonlySet<number> {
  const silent = new Set<number>();
  for (const rule of rules)
    if (rule.type === 'correlation' && !rule.generate) for (const at of rule.refers) silent.add(at);
  for (const rule of rules)
    if (rule.type === 'correlation' && rule.generate) for (const at of rule.refers) silent.delete(at);
  rules.forEach((rule, at) => rule.settings.onMatch === 'count' && silent.add(at));
  return silent;
}

/** A hit with the place of its record. */
export interface PlacedHit<P> extends SweepHit {
  readonly place: P;
  /** Of the record, as {@link Hit} has it. */
  readonly order: Hit['order'];
}

/** A correlation that completed: its group, and the records of its window, the completing one last. */
export interface SweptWindow<P> {
  readonly rule: number;
  readonly group: Readonly<Record<string, string>>;
  readonly time: Instant;
  readonly places: readonly P[];
}

type WindowHit<P> = Hit & { readonly places: readonly P[] };

/**
 * Finds what correlations complete over all hits of a sweep, in the order of their completion.
 * @param hits in any order
 */
export function sweepWindows<P>(
  rules: readonly Rule[],
  hits: readonly PlacedHit<P>[],
  sameTime: SameTime,
): SweptWindow<P>[] {
  const byCorrelation = new Map<number, Map<string, { subject: Subject; hits: WindowHit<P>[] }>>();
  const add = (correlation: number, subject: Subject, hit: WindowHit<P>): void => {
    const groups =
      byCorrelation.get(correlation) ?? new Map<string, { subject: Subject; hits: WindowHit<P>[] }>();
    byCorrelation.set(correlation, groups);
    const key = JSON.stringify(Object.values(subject.fields));
    const group = groups.get(key) ?? { subject, hits: [] };
    groups.set(key, group);
    group.hits.push(hit);
  };
  for (const { correlation, group, place, ...hit } of hits)
    add(correlation, { fields: group, text: '' }, { ...hit, places: [place] });
  const silent = silentOf(rules);
  const found: SweptWindow<P>[] = [];
  for (const at of inOrderOfNeed(rules)) {
    const rule = rules[at];
    if (rule?.type !== 'correlation') continue;
    const windows: (SweptWindow<P> & Pick<Hit, 'order'>)[] = [];
    for (const { subject, hits: own } of byCorrelation.get(at)?.values() ?? [])
      for (const { hits: window } of completedWindows(own, rule, sameTime)) {
        const last = window.at(-1);
        if (last === undefined) continue;
        windows.push({
          rule: at,
          group: subject.fields,
          time: last.time,
          order: last.order,
          places: window.flatMap(({ places }) => places),
        });
      }
    windows.sort((a, b) => a.time - b.time);
    if (!silent.has(at)) found.push(...windows);
    for (const [outer, one] of rules.entries()) {
      if (one.type !== 'correlation' || !one.refers.includes(at)) continue;
      for (const window of windows) {
        const subject = outerGroup({ fields: window.group, text: '' }, one.groupBy, at);
        if (subject === null) continue;
        const value = one.field === null ? null : (window.group[one.field] ?? null);
        const { time, order, places } = window;
        add(outer, subject, { time, order, referred: at, value, places });
      }
    }
  }
  return found.sort((a, b) => a.time - b.time);
}

/** A record as rules see it: its own fields, its text, and nothing else. */
export const eventOfRecord = (fields: JsonObject, raw: string): Event =>
  ({
    original: fields,
    raw,
    ...(typeof fields['message'] === 'string' && { message: fields['message'] }),
  }) as unknown as Event;
