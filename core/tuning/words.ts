/** How a condition of a cut asks. */
export const cutOps = ['equals', 'startswith', 'endswith', 'within', 'missing'] as const;

/**
 * How a cut is written down: as a condition of the rule, as a filter document behind it, or as a condition that asks a
 * list, whose rows hold the values and may end by themselves.
 */
export const cutForms = ['condition', 'filter', 'list'] as const;

/** Ways to change a rule that leave no value out. */
export const changeKinds = ['require', 'count', 'group-by', 'quiet', 'mark', 'level', 'level-of'] as const;

/** What a rule does with its matches: raises alerts, marks its events, or is counted by others alone. */
export const noiseKinds = ['alerts', 'marks', 'counted'] as const;

/** The tactics of ATT&CK in the order of an attack, as tags name them. */
export const tactics = [
  'reconnaissance',
  'resource_development',
  'initial_access',
  'execution',
  'persistence',
  'privilege_escalation',
  'defense_evasion',
  'credential_access',
  'discovery',
  'lateral_movement',
  'collection',
  'command_and_control',
  'exfiltration',
  'impact',
] as const;
