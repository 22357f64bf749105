import {
  listRecipes,
  putRecipe,
  readRecipe,
  removeRecipe,
  renameRecipe,
  sampleSource,
  saveRecipe,
  tryRecipe,
} from '../../core/wire/endpoints/recipes.js';
import type { Checks } from '../checks/checks.js';
import { handles, type Route } from '../http/route.js';
import type { Recipes } from './service.js';
import type { RecipeTry } from './try.js';

export function recipeRoutes(recipes: Recipes, attempts: RecipeTry, checks: Checks): Route[] {
  return [
    handles(tryRecipe, async ({ body }) => checks.recipe(body.sample, body.recipe)),
    handles(sampleSource, async ({ params }) => ({ sample: await attempts.sample(params.source) })),
    handles(listRecipes, async () => ({ recipes: await recipes.all() })),
    handles(readRecipe, async ({ params, query }) => recipes.one(params.recipe, query.version)),
    handles(putRecipe, async ({ body }) => {
      await recipes.put(body);
      return {};
    }),
    handles(removeRecipe, async ({ params }) => {
      await recipes.remove(params.recipe);
      return {};
    }),
    handles(renameRecipe, async ({ params, body }) => {
      await recipes.rename(params.recipe, body.name);
      return {};
    }),
    handles(saveRecipe, async ({ body }) => ({ version: await recipes.saveNext(body) })),
  ];
}
