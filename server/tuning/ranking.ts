import type { Pool } from 'pg';
import { DAY, formatInstant, type Instant } from '../../core/base/instant.js';
import { byNoise, type NoiseKind } from '../../core/tuning/ranking.js';
import type { Window } from '../../core/wick/plan.js';
import type { JudgementCountsWire, RankedRuleWire, RankedSubjectWire } from '../../core/wire/tuning.js';
import { RANK_RULES, RANK_SUBJECTS } from './sql.js';

type Counts = JudgementCountsWire;

interface RuleRow extends Counts {
  readonly id: string;
  readonly title: string;
  readonly level: RankedRuleWire['level'];
  readonly state: RankedRuleWire['state'];
  readonly onMatch: 'alert' | 'mark' | 'count';
  readonly matches: number;
  readonly alerts: number;
  readonly alerts_before: number;
  readonly subjects: number;
  readonly minutes: number | null;
  readonly last_match: Instant | null;
  readonly last_real: Instant | null;
}

const KINDS: Readonly<Record<RuleRow['onMatch'], NoiseKind>> = {
  alert: 'alerts',
  mark: 'marks',
  count: 'counted',
};

const countsOf = ({ real, harmless, wrong, unsure, unsettled }: Counts): Counts => ({
  real,
  harmless,
  wrong,
  unsure,
  unsettled,
});

/** All rules as they are ranked: the three kinds apart, the noisiest first. */
export async function rankRules(pool: Pool, { from, to }: Window): Promise<RankedRuleWire[]> {
  const { rows } = await pool.query<RuleRow>(RANK_RULES, [from, to, from - (to - from)].map(formatInstant));
  return rows
    .map((row): RankedRuleWire => ({
      id: row.id,
      title: row.title,
      level: row.level,
      kind: KINDS[row.onMatch],
      state: row.state,
      matches: row.matches,
      alerts: row.alerts,
      alertsBefore: row.alerts_before,
      perDay: row.alerts / Math.max(1, (to - from) / DAY),
      subjects: row.subjects,
      verdicts: countsOf(row),
      work: row.minutes === null ? null : Math.round(row.minutes * row.alerts),
      lastReal: row.last_real === null ? null : formatInstant(row.last_real),
      silentDays: row.last_match === null ? null : Math.max(0, Math.floor((to - row.last_match) / DAY)),
    }))
    .sort(byNoise);
}

/** Subjects by how many different rules they set off; one that many name without a real finding stands at the top. */
export async function rankSubjects(pool: Pool, { from, to }: Window): Promise<RankedSubjectWire[]> {
  const { rows } = await pool.query<
    Counts & { subject: string; rules: string[]; alerts: number; matches: number; minutes: number | null }
  >(RANK_SUBJECTS, [from, to].map(formatInstant));
  return rows.map((row) => ({
    subject: row.subject,
    rules: row.rules,
    alerts: row.alerts,
    matches: row.matches,
    verdicts: countsOf(row),
    work: row.minutes === null ? null : Math.round(Number(row.minutes)),
  }));
}
