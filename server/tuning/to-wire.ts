import { formatInstant } from '../../core/base/instant.js';
import type { ReplayMatch } from '../../core/rules/replay.js';
import type { Rule } from '../../core/sigma/rule-model.js';
import { withChange } from '../../core/tuning/apply-change.js';
import { CutError } from '../../core/tuning/apply-cuts.js';
import type { StudiedChange } from '../../core/tuning/changes.js';
import { compareMatches, type DayCounts, type ToldMatch } from '../../core/tuning/compare.js';
import { filterDocument, listFieldOf, selectionOf, type Cut, type CutTarget } from '../../core/tuning/cut.js';
import type { RuleStudy } from '../../core/tuning/study-work.js';
import type { ProposalWire, RuleChangeWire, StudyWire } from '../../core/wire/tuning.js';
import type { ToldMatchWire } from '../../core/wire/tuning-proof.js';
import { detectionsUnder, type ReadText } from '../rules/reading.js';

/** Matches that are told one by one. */
const MAX_TOLD = 50;

/** The detection rules that cuts of a text leave events out of. */
export function targetOf({ pack }: ReadText, at: number): CutTarget {
  const detections = at < 0 ? [] : detectionsUnder(pack.rules, at);
  return {
    title: pack.rules[at]?.title ?? '',
    rules: detections.map(({ id, name, title }) => id ?? name ?? title),
    logsource: detections.length === 1 ? (detections[0]?.logsource ?? {}) : {},
  };
}

/** Matches, alerts and real ones by day. */
export const daysToWire = (days: readonly DayCounts[]): StudyWire['days'] =>
  days.map(({ day, ...counts }) => ({ day: formatInstant(day), ...counts }));

/** The first matches, one by one. */
export const toldToWire = (
  matches: readonly (ReplayMatch & { readonly judged?: ToldMatch['judged'] })[],
): ToldMatchWire[] =>
  matches.slice(0, MAX_TOLD).map(({ time, subject, events, judged }) => {
    const last = events.at(-1);
    return {
      time: formatInstant(time),
      subject,
      event: last === undefined ? null : { id: last.id, time: formatInstant(last.time) },
      judged: judged ?? 'unsettled',
    };
  });

/** A cut with the alerts and the real ones it would lose, and what it would write. */
export function proposalToWire(
  proposal: RuleStudy['proposals'][number],
  own: readonly ToldMatch[],
  target: CutTarget,
): ProposalWire {
  const gone = new Set(proposal.places);
  const left = own.filter((_, i) => !gone.has(i));
  const alerts = compareMatches(own, own).before.alerts - compareMatches(left, left).before.alerts;
  const { places: _, all, realLost: __, ...rest } = proposal;
  return {
    ...rest,
    all: [...all],
    alerts: Math.max(0, alerts),
    realLost: proposal.places.flatMap((place) => {
      const match = own[place];
      return match?.judged === 'real' ? [`${match.subject}, ${formatInstant(match.time)}`] : [];
    }),
    adds: linesOf(proposal, target),
    list: listFieldOf(proposal),
  };
}

/** Changes with the text that each makes; one that has no place in this text is left out. */
export function changesToWire(
  changes: readonly StudiedChange[],
  text: string,
  rule: Rule | undefined,
): RuleChangeWire[] {
  if (rule === undefined) return [];
  return changes.flatMap(({ change, ...told }) => {
    try {
      return [{ kind: change.kind, ...told, text: withChange(text, change, rule) }];
    } catch (error) {
      if (error instanceof CutError) return [];
      throw error;
    }
  });
}

/** The lines that a cut adds to a rule. */
function linesOf(cut: Cut, target: CutTarget): string[] {
  if (target.rules.length === 0) return filterDocument(cut, target).split('\n').filter(Boolean);
  return Object.entries(selectionOf(cut)).map(([key, value]) => `${key}: ${value === null ? 'null' : value}`);
}
