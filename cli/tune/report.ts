import { isJsonObject } from '../../core/base/json.js';
import type { Instant } from '../../core/base/instant.js';
import type { Event } from '../../core/events/event.js';
import type { Rule } from '../../core/sigma/rule-model.js';
import { likenessOf, removedOfCorrelation, rulesUnder } from '../../core/tuning/correlated.js';
import { cutInWords, filterDocument, predicateOfCut, type CutTarget } from '../../core/tuning/cut.js';
import { proposeCuts, type JudgedMatches, type Proposal } from '../../core/tuning/proposals.js';
import { byNoise, type NoiseKind } from '../../core/tuning/ranking.js';
import { judge, type VerdictLine } from '../../core/tuning/verdict-lines.js';
import { countJudgements, type Judgement, type JudgementCounts } from '../../core/tuning/verdicts.js';
import type { Predicate } from '../../core/predicate/predicate.js';
import type { Collected, KeptRecord } from './collect.js';

/** A rule in the ranking. */
export interface RankingRow {
  readonly rule: string;
  readonly title: string;
  readonly kind: NoiseKind;
  readonly matches: number;
  readonly verdicts: JudgementCounts;
}

/** A proposal before its reach is known. */
export interface OpenProposal extends Omit<Proposal, 'removes'> {
  readonly rule: string;
  readonly title: string;
  readonly words: string;
  readonly realLostMatches: readonly string[];
  readonly yaml: string;
  readonly meets: Predicate;
  /** Places of the records that its rule matches, or counts. */
  readonly matched: ReadonlySet<number>;
}

/** What the study of files comes to. */
export interface Study {
  readonly ranking: readonly RankingRow[];
  /** Those of them that matched nothing. */
  readonly silent: readonly { readonly rule: string; readonly title: string }[];
  readonly proposals: readonly OpenProposal[];
  /** Whether any match was judged at all. */
  readonly settled: boolean;
  /** Verdicts that spoke of no match. */
  readonly idle: number;
}

/** What a rule is called: its id, else its name, else its title. */
export const callOf = (rule: Rule): string => rule.id ?? rule.name ?? rule.title;

interface OneMatch {
  readonly record: KeptRecord;
  readonly event: Event;
  readonly time: Instant | null;
}

function kindOf(rule: Rule, silent: boolean): NoiseKind {
  if (silent || rule.settings.onMatch === 'count') return 'counted';
  return rule.settings.onMatch === 'mark' ? 'marks' : 'alerts';
}

/** The matches of a rule, in order: of a correlation, each by the record that completed it. */
function matchesOf({ rules, records, metBy, windows }: Collected, at: number): OneMatch[] {
  if (rules[at]?.type === 'detection')
    return (metBy[at] ?? []).flatMap((i) => {
      const record = records[i];
      return record === undefined ? [] : [{ record, event: record.event, time: record.time }];
    });
  return windows.flatMap(({ rule, group, places, time }) => {
    const record = rule === at ? records[places.at(-1) ?? -1] : undefined;
    if (record === undefined) return [];
    const { original } = record.event;
    const event = { ...record.event, original: { ...(isJsonObject(original) ? original : {}), ...group } };
    return [{ record, event, time }];
  });
}

/** The rules that a cut of one is a filter of, and the records that are matches already. */
function targetOf(
  collected: Collected,
  at: number,
): { target: CutTarget; matched: ReadonlySet<number>; asked: string[] } {
  const { rules, metBy, records } = collected;
  const detections = [...rulesUnder(rules, at).detections].flatMap((position) => {
    const rule = rules[position];
    return rule?.type === 'detection' ? [{ position, rule }] : [];
  });
  return {
    target: {
      title: rules[at]?.title ?? '',
      rules: detections.map(({ rule }) => callOf(rule)),
      logsource: detections.length === 1 ? (detections[0]?.rule.logsource ?? {}) : {},
    },
    matched: new Set(
      detections.flatMap(({ position }) => (metBy[position] ?? []).map((i) => records[i]?.place ?? -1)),
    ),
    asked: detections.flatMap(({ rule }) => rule.fields),
  };
}

const MAX_LOST_TOLD = 100;

function proposalsOf(
  collected: Collected,
  at: number,
  matches: readonly OneMatch[],
  judged: readonly Judgement[],
  allowLoss: boolean,
): OpenProposal[] {
  const { rules, records, hits, windows, sample, read, span } = collected;
  const rule = rules[at];
  if (rule === undefined) return [];
  const { target, matched, asked } = targetOf(collected, at);
  const { detections } = rulesUnder(rules, at);
  const others = sample.filter(({ met }) => !met.some((one) => detections.has(one)));
  const own = windows.filter((window) => window.rule === at);
  const events = records.map(({ event }) => event);
  const study: JudgedMatches = {
    judged,
    times: matches.map(({ time }) => time),
    others: others.map(({ event }) => event),
    othersFactor: sample.length === 0 ? 1 : read / sample.length,
    asked,
    allowLoss,
    ...(rule.type === 'detection'
      ? { events: matches.map(({ event }) => event) }
      : {
          events: own.map((window) => likenessOf(window, events)),
          removes: removedOfCorrelation({
            rules,
            at,
            hits,
            events,
            windows: own,
            sameTime: 'in their order',
          }),
        }),
  };
  return proposeCuts(study, span).map(({ removes, ...proposal }) => ({
    ...proposal,
    rule: callOf(rule),
    title: rule.title,
    words: cutInWords(proposal),
    realLostMatches: removes
      .members()
      .filter((i) => judged[i] === 'real')
      .slice(0, MAX_LOST_TOLD)
      .map((i) => `${matches[i]?.record.file ?? ''}:${matches[i]?.record.line ?? 0}`),
    yaml: filterDocument(proposal, target),
    meets: predicateOfCut(proposal),
    matched,
  }));
}

/** Ranks rules by noise, and proposes cuts for those that tell what they find. */
export function study(
  collected: Collected,
  verdicts: readonly VerdictLine[],
  allowLoss: readonly string[],
): Study {
  const { rules, silent } = collected;
  const used = new Set<number>();
  const all = rules.map((rule, at) => {
    const called = new Set([callOf(rule), rule.name ?? '', rule.title]);
    const matches = matchesOf(collected, at);
    const judged = judge(
      matches.map(({ record, event }) => ({ file: record.file, line: record.line, event })),
      verdicts.filter((line) => called.has(line.rule)),
      used,
    );
    const row: RankingRow = {
      rule: callOf(rule),
      title: rule.title,
      kind: kindOf(rule, silent.has(at)),
      matches: matches.length,
      verdicts: countJudgements(judged),
    };
    return { at, row, matches, judged, called };
  });
  const ranked = [...all].sort((a, b) => byNoise(a.row, b.row) || a.at - b.at);
  return {
    ranking: ranked.map(({ row }) => row),
    silent: all.flatMap(({ row }) => (row.matches === 0 ? [{ rule: row.rule, title: row.title }] : [])),
    proposals: ranked.flatMap(({ at, row, matches, judged, called }) =>
      row.kind === 'counted'
        ? []
        : proposalsOf(
            collected,
            at,
            matches,
            judged,
            allowLoss.some((name) => called.has(name)),
          ),
    ),
    settled: all.some(({ judged }) => judged.some((one) => one !== 'unsettled')),
    idle: verdicts.filter(({ number }) => !used.has(number)).length,
  };
}
