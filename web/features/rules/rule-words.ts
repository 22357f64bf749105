import type { RuleSummary } from '../../../core/wire/rules.js';

export const typeWords: Readonly<Record<RuleSummary['type'], string>> = {
  detection: 'Sigma rule',
  correlation: 'Sigma rule, correlation',
  hunt: 'hunt on a schedule',
  filter: 'Sigma filter',
};

export const onMatchWords: Readonly<Record<RuleSummary['onMatch'], string>> = {
  alert: 'raises an alert',
  mark: 'only marks',
  count: 'only counted',
};

export const stateWords: Readonly<Record<RuleSummary['state'], string>> = {
  draft: 'draft',
  on: 'on',
  off: 'off',
};

/** The techniques that tags name, `T1110.003`. */
export const techniquesOf = (tags: readonly string[]): string[] =>
  tags.flatMap((tag) => /^attack\.(t\d{4}(?:\.\d{3})?)$/i.exec(tag)?.[1]?.toUpperCase() ?? []);
