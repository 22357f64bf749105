import { csvLine } from '../output/csv.js';
import { tactics } from './words.js';
import { techniqueOf, techniques } from '../sigma/techniques.js';

export type Tactic = (typeof tactics)[number];

/**
 * The tactics that techniques serve (ATT&CK, enterprise), by the technique without its part; a rule that names several of
 * both is told under those that belong together.
 */
const served: Readonly<Record<string, readonly Tactic[]>> = {
  T1003: ['credential_access'],
  T1005: ['collection'],
  T1016: ['discovery'],
  T1018: ['discovery'],
  T1020: ['exfiltration'],
  T1021: ['lateral_movement'],
  T1027: ['defense_evasion'],
  T1041: ['exfiltration'],
  T1046: ['discovery'],
  T1048: ['exfiltration'],
  T1053: ['execution', 'persistence', 'privilege_escalation'],
  T1059: ['execution'],
  T1068: ['privilege_escalation'],
  T1069: ['discovery'],
  T1070: ['defense_evasion'],
  T1071: ['command_and_control'],
  T1078: ['initial_access', 'persistence', 'privilege_escalation', 'defense_evasion'],
  T1087: ['discovery'],
  T1090: ['command_and_control'],
  T1098: ['persistence', 'privilege_escalation'],
  T1110: ['credential_access'],
  T1111: ['credential_access'],
  T1133: ['initial_access', 'persistence'],
  T1134: ['privilege_escalation', 'defense_evasion'],
  T1136: ['persistence'],
  T1190: ['initial_access'],
  T1199: ['initial_access'],
  T1213: ['collection'],
  T1219: ['command_and_control'],
  T1485: ['impact'],
  T1489: ['impact'],
  T1490: ['impact'],
  T1498: ['impact'],
  T1526: ['discovery'],
  T1530: ['collection'],
  T1531: ['impact'],
  T1543: ['persistence', 'privilege_escalation'],
  T1548: ['privilege_escalation', 'defense_evasion'],
  T1550: ['lateral_movement', 'defense_evasion'],
  T1552: ['credential_access'],
  T1556: ['credential_access', 'persistence', 'defense_evasion'],
  T1562: ['defense_evasion'],
  T1565: ['impact'],
  T1567: ['exfiltration'],
  T1568: ['command_and_control'],
  T1569: ['execution'],
  T1571: ['command_and_control'],
  T1572: ['command_and_control'],
  T1578: ['defense_evasion'],
  T1580: ['discovery'],
  T1595: ['reconnaissance'],
  T1621: ['credential_access'],
};

/** Whether a rule's technique is told under one of its tactics: where it serves it, or serves none that the rule names. */
function belongs(technique: string, tactic: Tactic, tags: readonly string[]): boolean {
  const of = served[technique.split('.')[0] ?? ''] ?? [];
  if (of.length === 0 || of.includes(tactic)) return true;
  return !of.some((one) => tags.some((tag) => tag.toLowerCase() === `attack.${one}`));
}

/** A rule as far as coverage goes. */
export interface CoveringRule {
  readonly id: string;
  readonly title: string;
  readonly tags: readonly string[];
  readonly state: 'draft' | 'on' | 'off';
  readonly onMatch: 'alert' | 'mark' | 'count';
  /** Why it sees nothing, such as a source that is absent; null where it sees. */
  readonly blind: string | null;
  readonly tests: number;
  /** When it last found something real, ISO 8601. */
  readonly lastReal: string | null;
}

/** How well a technique is looked for: the best that one of its rules does. */
export type Standing = 'seen' | 'marked' | 'blind' | 'off' | 'none';

export interface CoveredTechnique {
  readonly id: string;
  readonly name: string;
  readonly standing: Standing;
  readonly rules: readonly CoveringRule[];
}

export interface CoveredTactic {
  readonly tactic: Tactic;
  readonly techniques: readonly CoveredTechnique[];
}

const standingOf = (rules: readonly CoveringRule[]): Standing => {
  const on = rules.filter(({ state }) => state === 'on');
  const seeing = on.filter(({ blind }) => blind === null);
  if (seeing.some(({ onMatch }) => onMatch === 'alert')) return 'seen';
  if (seeing.length > 0) return 'marked';
  if (on.length > 0) return 'blind';
  return rules.length > 0 ? 'off' : 'none';
};

/** Techniques by tactic, each with its rules: told from what rules say of themselves and what their sources give. */
export function coverageOf(rules: readonly CoveringRule[]): CoveredTactic[] {
  return tactics.map((tactic) => {
    const own = rules.filter(({ tags }) => tags.some((tag) => tag.toLowerCase() === `attack.${tactic}`));
    const named = ({ tags }: CoveringRule): string[] =>
      tags.flatMap((tag) => techniqueOf(tag) ?? []).filter((id) => belongs(id, tactic, tags));
    const ids = [...new Set(own.flatMap(named))].sort();
    return {
      tactic,
      techniques: ids.map((id) => {
        const covering = own.filter((rule) => named(rule).includes(id));
        return {
          id,
          name: techniques[id.toLowerCase()] ?? id,
          standing: standingOf(covering),
          rules: covering,
        };
      }),
    };
  });
}

/** Coverage as CSV, a line for each rule of each technique. */
export function coverageCsv(covered: readonly CoveredTactic[]): string {
  const head = [
    'tactic',
    'technique',
    'name',
    'standing',
    'rule',
    'state',
    'does',
    'blind',
    'tests',
    'last real',
  ];
  const lines = covered.flatMap(({ tactic, techniques: all }) =>
    all.flatMap(({ id, name, standing, rules }) =>
      rules.map((rule) =>
        csvLine([
          tactic,
          id,
          name,
          standing,
          rule.title,
          rule.state,
          rule.onMatch,
          rule.blind ?? '',
          String(rule.tests),
          rule.lastReal ?? '',
        ]),
      ),
    ),
  );
  return `${[csvLine(head), ...lines].join('\r\n')}\r\n`;
}
