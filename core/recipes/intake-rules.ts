import type { JsonObject } from '../base/json.js';
import { lowerText } from '../text/letters.js';
import type { CompiledRecipe, RulesMet } from './apply.js';
import { when } from './recipe-schema.js';
import type { When } from './recipe-schema.js';
import { compileWhen, type Holds } from './when.js';

// What is done to records before they become events: marked, sent on, left out, or read by another recipe.

/** Colours of tags, by names of ours; pages know what they look like. */
export const tagColours = ['blue', 'ochre', 'verdigris', 'plum', 'sky', 'umber'] as const;
export type TagColour = (typeof tagColours)[number];

/** A tag is a word or a few: letters, digits, and signs that need no quoting. */
export const tagName = {
  type: 'string',
  minLength: 1,
  maxLength: 40,
  pattern: '^[\\p{L}\\p{N}][\\p{L}\\p{N} ._-]*$',
} as const;

const name = { type: 'string', minLength: 1, maxLength: 63 } as const;

/** JSON Schema of what a rule of the way in asks, and does. */
export const intakeRuleProperties = {
  title: { type: 'string', minLength: 1, maxLength: 200 },
  on: { type: 'boolean' },
  source: {
    anyOf: [name, { type: 'null' }],
    description: 'the source whose records it looks at; null for all',
  },
  when: { anyOf: [when, { type: 'null' }], description: 'what fields of the record must be' },
  holds: {
    anyOf: [{ type: 'string', minLength: 1, maxLength: 500 }, { type: 'null' }],
    description: 'a text that the record must hold, whatever its letters are, small or capital',
  },
  tags: { type: 'array', maxItems: 10, items: tagName },
  forward: {
    type: 'array',
    maxItems: 5,
    items: name,
    description: 'destinations of the kinds syslog and webhook that get the record as it came',
  },
  discard: { type: 'boolean', description: 'it becomes no event, and is counted' },
  recipe: { anyOf: [name, { type: 'null' }], description: 'the recipe that reads it instead' },
} as const;

/** What a rule of the way in asks of a record, and does with it. */
export interface IntakeRule {
  readonly title: string;
  readonly when: When | null;
  readonly holds: string | null;
  readonly tags: readonly string[];
  readonly forward: readonly string[];
  readonly discard: boolean;
  readonly recipe: string | null;
}

/** A rule with its id, and the recipe it routes to made ready. */
export interface ReadyIntakeRule extends IntakeRule {
  readonly id: number;
  readonly route: CompiledRecipe | null;
}

/** Why a rule is none, in words; null where it is one. */
export function intakeRuleMistake(rule: IntakeRule): string | null {
  if (rule.tags.length === 0 && rule.forward.length === 0 && !rule.discard && rule.recipe === null)
    return 'It does nothing: choose a tag, a destination, another recipe, or discard.';
  if (rule.discard && rule.when === null && rule.holds === null)
    return 'It would discard everything: say which records are meant.';
  if (rule.discard && (rule.tags.length > 0 || rule.recipe !== null))
    return 'What is discarded is neither tagged nor read: choose one of them.';
  return null;
}

/** A record and its fields; null where it cannot be read into any. */
type Meets = (raw: string, fields: JsonObject | null) => boolean;

/** Whether a record is one that a rule means. */
export function compileCondition({ when: asked, holds }: Pick<IntakeRule, 'when' | 'holds'>): Meets {
  const byFields: Holds | null = asked === null ? null : compileWhen(asked);
  const text = holds === null ? null : lowerText(holds);
  return (raw, fields) =>
    (text === null || lowerText(raw).includes(text)) &&
    (byFields === null || (fields !== null && byFields(fields)));
}

/**
 * A recipe with rules of the way in before it. They are asked in order: tags and destinations gather, the first other
 * recipe reads the record, and what is discarded meets no further rule.
 */
export function withIntakeRules(own: CompiledRecipe, rules: readonly ReadyIntakeRule[]): CompiledRecipe {
  if (rules.length === 0) return own;
  const asked = rules.map((rule) => ({ rule, meets: compileCondition(rule) }));
  const passed: CompiledRecipe = {
    ...own,
    apply: (raw, received) => passed.applyTo(own.read(raw), raw, received),
    applyTo(reading, raw, received) {
      const met: number[] = [];
      const forward: { rule: number; to: string }[] = [];
      const tags = new Set<string>();
      let route: CompiledRecipe | null = null;
      for (const { rule, meets } of asked) {
        if (!meets(raw, reading.fields)) continue;
        met.push(rule.id);
        for (const to of rule.forward) forward.push({ rule: rule.id, to });
        if (rule.discard)
          return {
            became: 'discarded',
            because: `a rule of the way in: ${rule.title}`,
            rules: { met, forward },
          };
        for (const tag of rule.tags) tags.add(tag);
        route ??= rule.route;
      }
      const outcome = route === null ? own.applyTo(reading, raw, received) : route.apply(raw, received);
      if (met.length === 0) return outcome;
      const told: RulesMet = { met, forward };
      if (outcome.became !== 'event' || tags.size === 0) return { ...outcome, rules: told };
      const all = [...new Set([...(outcome.draft.tags ?? []), ...tags])];
      return { ...outcome, draft: { ...outcome.draft, tags: all }, rules: told };
    },
  };
  return passed;
}
