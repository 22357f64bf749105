import type { Pool } from 'pg';
import { formatInstant, type Instant } from '../../core/base/instant.js';
import { formats } from '../../core/formats/index.js';
import { compileRecipe } from '../../core/recipes/apply.js';
import { shippedRecipes } from '../../core/recipes/shipped/index.js';
import { wordMistake } from '../../core/recipes/fixed-words.js';
import { type Recipe, recipeSchema } from '../../core/recipes/recipe-schema.js';
import { TimeFormatError } from '../../core/recipes/time-format.js';
import { RegexError } from '../../core/text/regex-syntax.js';
import { ReadPatternError } from '../../core/text/read-pattern.js';
import type { RecipeInFull } from '../../core/wire/sources.js';
import { bumpConfig } from '../db/config-versions.js';
import { transaction } from '../db/transaction.js';
import { Failure, notFound } from '../failure.js';
import { mistakeIn } from '../http/validate.js';
import { addChange } from '../trail/changes.js';
import {
  PUT_VERSION,
  ADD_VERSION,
  REMOVE_RECIPE,
  RENAME_RECIPE,
  RENAME_RECIPE_IN,
  USERS_OF_RECIPE,
  HOLD_RECIPE,
  NEWEST_OF_EACH,
  VERSIONS_OF_RECIPE,
  NEXT_VERSION,
  SOURCES_OF_RECIPE,
} from './sql.js';

/** A document as a recipe. @throws Failure 422 with what is wrong and where */
export function requireRecipe(document: unknown): Recipe {
  const mistake = mistakeIn(recipeSchema, document, 'recipe');
  if (mistake !== null) throw new Failure('not-a-recipe', mistake);
  const recipe = document as Recipe;
  const format = formats[recipe.format];
  if ('needsColumns' in format && recipe.columns === undefined)
    throw new Failure(
      'not-a-recipe',
      `recipe/columns: ${format.title} does not name its columns, so the recipe must.`,
    );
  const unknown = wordMistake(recipe);
  if (unknown !== null) throw new Failure('not-a-recipe', unknown);
  try {
    compileRecipe(recipe);
  } catch (error) {
    if (error instanceof ReadPatternError || error instanceof TimeFormatError || error instanceof RegexError)
      throw new Failure('not-a-recipe', error.message, { cause: error });
    throw error;
  }
  return recipe;
}

export class Recipes {
  constructor(private readonly pool: Pool) {}

  /** The newest version of every recipe, and those that ship and were not used yet. */
  async all(): Promise<{ name: string; title: string; version: number; format: string }[]> {
    const { rows } = await this.pool.query<{ document: Recipe }>(NEWEST_OF_EACH);
    const stored = new Set(rows.map(({ document }) => document.name));
    const all = [
      ...rows.map(({ document }) => document),
      ...Object.values(shippedRecipes).filter(({ name }) => !stored.has(name)),
    ];
    return all
      .map(({ name, title, version, format }) => ({ name, title, version, format }))
      .sort((a, b) => a.title.localeCompare(b.title, 'en'));
  }

  /** A version of a recipe; the newest unless one is asked for. @throws Failure 404 */
  async one(name: string, version: number | undefined): Promise<RecipeInFull> {
    const { rows } = await this.pool.query<{ version: number; created: Instant; document: Recipe }>(
      VERSIONS_OF_RECIPE,
      [name],
    );
    if (rows.length === 0 && Object.hasOwn(shippedRecipes, name)) {
      await this.put(shippedRecipes[name]);
      return this.one(name, version);
    }
    const asked = version === undefined ? rows[0] : rows.find((row) => row.version === version);
    if (asked === undefined)
      throw notFound(
        version === undefined ? `recipe "${name}"` : `version ${version} of the recipe "${name}"`,
      );
    const { rows: sources } = await this.pool.query<{ name: string }>(SOURCES_OF_RECIPE, [name]);
    return {
      recipe: asked.document as unknown as RecipeInFull['recipe'],
      versions: rows.map((row) => ({ version: row.version, created: formatInstant(row.created) })),
      usedBy: sources.map((source) => source.name),
    };
  }

  /** Adds a version of a recipe; one that is there stays as it is. @throws Failure 422 for a document that is no recipe */
  async put(document: unknown): Promise<void> {
    const recipe = requireRecipe(document);
    await transaction(this.pool, async (client) => {
      await client.query(PUT_VERSION, [recipe.name, recipe.version, JSON.stringify(recipe)]);
      await bumpConfig(client, 'sources');
    });
  }

  /** Deletes a recipe with its versions. @throws Failure 404, 409 where something reads by it */
  async remove(name: string): Promise<void> {
    await transaction(this.pool, async (client) => {
      await client.query(HOLD_RECIPE, [name]);
      const { rows } = await client.query<{ who: string }>(USERS_OF_RECIPE, [name]);
      if (rows.length > 0)
        throw new Failure(
          'in-use',
          `It is used by ${rows.map(({ who }) => who).join(', ')}. Give them another recipe first.`,
        );
      const { rowCount } = await client.query(REMOVE_RECIPE, [name]);
      if (rowCount === 0) throw notFound(`recipe "${name}"`);
      await addChange(client, 'recipe', name, 'deleted');
      await bumpConfig(client, 'sources');
    });
  }

  /** Gives a recipe another name, in all its versions. @throws Failure 404, 409 where the name is taken */
  async rename(name: string, to: string): Promise<void> {
    if (name === to) return;
    await transaction(this.pool, async (client) => {
      for (const one of [name, to].sort()) await client.query(HOLD_RECIPE, [one]);
      const { rowCount: taken } = await client.query(VERSIONS_OF_RECIPE, [to]);
      if (taken !== 0 || Object.hasOwn(shippedRecipes, to))
        throw new Failure('name-taken', `There is a recipe "${to}" already. Choose another name.`);
      const { rowCount } = await client.query(RENAME_RECIPE, [name, to]);
      if (rowCount === 0) throw notFound(`recipe "${name}"`);
      for (const text of RENAME_RECIPE_IN) await client.query(text, [name, to]);
      await addChange(client, 'recipe', to, `renamed: it was called ${name}`);
      await bumpConfig(client, 'sources');
    });
  }

  /** Saves a document as the next version of its recipe, whatever number it carries. @returns that version @throws Failure 422 */
  async saveNext(document: unknown): Promise<number> {
    const recipe = requireRecipe(document);
    return transaction(this.pool, async (client) => {
      // Two who save at once get a version each.
      await client.query(HOLD_RECIPE, [recipe.name]);
      const { rows } = await client.query<{ next: number }>(NEXT_VERSION, [recipe.name]);
      const version = rows[0]?.next ?? 1;
      await client.query(ADD_VERSION, [recipe.name, version, JSON.stringify({ ...recipe, version })]);
      await bumpConfig(client, 'sources');
      return version;
    });
  }
}
