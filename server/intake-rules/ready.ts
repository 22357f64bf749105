import type { Pool } from 'pg';
import type { CompiledRecipe } from '../../core/recipes/apply.js';
import type { IntakeRule, ReadyIntakeRule } from '../../core/recipes/intake-rules.js';
import type { Recipe } from '../../core/recipes/recipe-schema.js';
import { shippedRecipes } from '../../core/recipes/shipped/index.js';
import { NEWEST_RECIPE } from '../intake/sql.js';
import { RULES_AT_WORK } from './sql.js';

/** Rules that are on, with the recipes that they route to. */
export interface RulesAtWork {
  readonly rules: readonly (IntakeRule & { readonly id: number; readonly source: string | null })[];
  readonly routes: ReadonlyMap<string, Recipe>;
}

/** What a rule's row holds of it. */
export type RuleDocument = Omit<IntakeRule, 'title'>;

/** The rules that are on, in order. */
export async function rulesAtWork(pool: Pool): Promise<RulesAtWork> {
  const { rows } = await pool.query<{
    id: number;
    source: string | null;
    title: string;
    document: RuleDocument;
  }>(RULES_AT_WORK);
  const rules = rows.map(({ document, ...row }) => ({ ...document, ...row }));
  const routes = new Map<string, Recipe>();
  for (const name of new Set(rules.flatMap(({ recipe }) => recipe ?? []))) {
    const document = await newestRecipe(pool, name);
    if (document !== undefined) routes.set(name, document);
  }
  return { rules, routes };
}

/** The newest version of a recipe, or the one that ships by that name. */
export async function newestRecipe(pool: Pool, name: string): Promise<Recipe | undefined> {
  const { rows } = await pool.query<{ document: Recipe }>(NEWEST_RECIPE, [name]);
  return rows[0]?.document ?? (Object.hasOwn(shippedRecipes, name) ? shippedRecipes[name] : undefined);
}

/** The rules that look at the records of a source. @param ready makes a recipe ready for that source */
export const rulesOf = (
  { rules, routes }: RulesAtWork,
  source: string,
  ready: (document: Recipe) => CompiledRecipe,
): ReadyIntakeRule[] =>
  rules
    .filter((rule) => rule.source === null || rule.source === source)
    .map((rule) => {
      const document = rule.recipe === null ? undefined : routes.get(rule.recipe);
      return { ...rule, route: document === undefined ? null : ready(document) };
    });
