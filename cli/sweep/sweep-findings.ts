import type { SweptWindow } from '../../core/detect/sweep.js';
import type { Rule } from '../../core/sigma/rule-model.js';
import { severities } from '../../core/events/kinds.js';
import type { Place } from '../../core/triage/facts.js';
import type { ReportFinding } from '../../core/triage/report.js';
import type { SweepArguments } from './sweep-arguments.js';
import type { SweepOutput } from './sweep-output.js';
import type { FoundMatch } from './sweep-plan.js';

/** Findings that a report keeps, and characters of each of them. */
const MAX_KEPT = 20_000;
const MAX_SHOWN = 4000;

/** What rules found: written out at once, counted, and kept where a report is wanted. */
export class SweepFindings {
  readonly levels: Record<string, number> = Object.fromEntries(severities.map((level) => [level, 0]));
  readonly kept: ReportFinding[] = [];
  left = 0;
  private readonly counts: number[];

  constructor(
    readonly rules: readonly Rule[],
    private readonly asked: Pick<SweepArguments, 'report' | 'full'>,
    readonly output: SweepOutput,
  ) {
    this.counts = rules.map(() => 0);
  }

  matchesOf(rule: number): number {
    return this.counts[rule] ?? 0;
  }

  match({ rule: at, time, event }: FoundMatch, place: Place): void {
    const rule = this.rules[at];
    if (rule === undefined) return;
    this.add(at, rule, { ...place, time, shown: event });
    this.output.match(rule, place, time, event);
  }

  window(window: SweptWindow<Place>): void {
    const rule = this.rules[window.rule];
    if (rule === undefined) return;
    const { file, line } = window.places.at(-1) ?? { file: '', line: 0 };
    const group = Object.entries(window.group).map(([name, value]) => `${name} ${value}`);
    const shown = `${group.join(', ')} · ${window.places.length} records, lines ${window.places.map((place) => place.line).join(', ')}`;
    this.add(window.rule, rule, { file, line, time: window.time, shown });
    this.output.window(rule, window);
  }

  private add(at: number, rule: Rule, found: Omit<ReportFinding, 'title' | 'level'>): void {
    this.levels[rule.level] = (this.levels[rule.level] ?? 0) + 1;
    this.counts[at] = (this.counts[at] ?? 0) + 1;
    if (this.asked.report === undefined) return;
    if (this.kept.length >= MAX_KEPT) this.left++;
    else
      this.kept.push({
        ...found,
        title: rule.title,
        level: rule.level,
        shown: this.asked.full ? found.shown : found.shown.slice(0, MAX_SHOWN),
      });
  }
}
