import { nearestWord } from '../base/text-distance.js';
import { kindNames, outcomes, severities } from '../events/kinds.js';
import type { Recipe } from './recipe-schema.js';

const words: Readonly<Record<string, readonly string[]>> = {
  kind: kindNames,
  outcome: outcomes,
  severity: severities,
};

/** What a recipe sets a column of fixed words to that the column does not know, in words; null where all is well. */
export function wordMistake({ constants, cases, messages, map }: Recipe): string | null {
  const all = [constants, ...(cases ?? []).map(({ set }) => set), ...(messages ?? []).map(({ set }) => set)];
  const mapped = [map, ...(cases ?? []).map((one) => one.map)].flatMap((columns) =>
    Object.entries(columns ?? {}).flatMap(([name, mapping]) =>
      typeof mapping === 'object' && 'values' in mapping
        ? [
            ...Object.values(mapping.values ?? {}),
            ...(mapping.otherwise === undefined ? [] : [mapping.otherwise]),
          ].map((value) => [name, value] as const)
        : [],
    ),
  );
  for (const [name, value] of [...all.flatMap((set) => Object.entries(set ?? {})), ...mapped]) {
    const known = Object.hasOwn(words, name) ? words[name] : undefined;
    if (known !== undefined && !known.includes(String(value)))
      return `"${String(value)}" is no ${name}. Did you mean "${nearestWord(String(value), known)}"? It may be ${known.join(', ')}.`;
  }
  return null;
}
