import type { IntakeRuleBody } from '../../../core/wire/intake-rules.js';

/** A rule as its form holds it: texts, and what is chosen. */
export interface RuleFields {
  readonly title: string;
  readonly on: boolean;
  /** Empty for all sources. */
  readonly source: string;
  readonly when: string;
  readonly holds: string;
  readonly tags: string;
  readonly forward: string;
  readonly discard: boolean;
  /** Empty for the source's own. */
  readonly recipe: string;
}

type When = NonNullable<IntakeRuleBody['when']>;

/** Conditions as lines: the field, an equals sign, the value; several lines of one field are any of them, no value is none. */
export const whenToText = (when: IntakeRuleBody['when']): string =>
  Object.entries(when ?? {})
    .flatMap(([field, value]) =>
      value === null
        ? [`${field} =`]
        : (Array.isArray(value) ? (value as readonly unknown[]) : [value]).map(
            (one) => `${field} = ${String(one)}`,
          ),
    )
    .join('\n');

/** @throws Error naming the line that cannot be read */
export function textToWhen(text: string): When | null {
  const found = new Map<string, string[]>();
  for (const [i, line] of text.split('\n').entries()) {
    if (line.trim() === '') continue;
    const match = /^\s*([^=]+?)\s*=\s*(.*?)\s*$/.exec(line);
    if (match?.[1] === undefined)
      throw new Error(
        `Line ${i + 1} of the fields is "${line.trim()}". Write it as: agent = balancer-check*`,
      );
    const values = found.get(match[1]) ?? [];
    found.set(match[1], [...values, match[2] ?? '']);
  }
  if (found.size === 0) return null;
  return Object.fromEntries(
    Array.from(found, ([field, values]) => {
      const named = values.filter((value) => value !== '');
      return [field, named.length === 0 ? null : named.length === 1 ? (named[0] ?? '') : named];
    }),
  );
}

const words = (text: string): string[] =>
  text
    .split(',')
    .map((word) => word.trim())
    .filter((word) => word !== '');

/** @throws Error where the fields cannot be read */
export const toBody = (fields: RuleFields): IntakeRuleBody => ({
  title: fields.title.trim(),
  on: fields.on,
  source: fields.source === '' ? null : fields.source,
  when: textToWhen(fields.when),
  holds: fields.holds === '' ? null : fields.holds,
  tags: words(fields.tags),
  forward: words(fields.forward),
  discard: fields.discard,
  recipe: fields.recipe === '' ? null : fields.recipe,
});

export const toFields = (rule: IntakeRuleBody | null): RuleFields => ({
  title: rule?.title ?? '',
  on: rule?.on ?? true,
  source: rule?.source ?? '',
  when: whenToText(rule?.when ?? null),
  holds: rule?.holds ?? '',
  tags: rule?.tags.join(', ') ?? '',
  forward: rule?.forward.join(', ') ?? '',
  discard: rule?.discard ?? false,
  recipe: rule?.recipe ?? '',
});

/** What a rule does, in words. */
export function doesWords(rule: Pick<IntakeRuleBody, 'tags' | 'forward' | 'discard' | 'recipe'>): string {
  const parts = [
    ...(rule.forward.length > 0 ? [`forward to ${rule.forward.join(', ')}`] : []),
    ...(rule.discard ? ['discard'] : []),
    ...(rule.recipe === null ? [] : [`read by ${rule.recipe}`]),
  ];
  return parts.join(', ');
}

/** What a rule asks of a record, in words. */
export function asksWords({ when, holds }: Pick<IntakeRuleBody, 'when' | 'holds'>): string {
  const parts = Object.entries(when ?? {}).map(([field, value]) =>
    value === null
      ? `no ${field}`
      : `${field} = ${Array.isArray(value) ? (value as readonly unknown[]).map(String).join(' or ') : String(value)}`,
  );
  if (holds !== null) parts.push(`holds “${holds}”`);
  return parts.length === 0 ? 'every record' : parts.join(' and ');
}
