import { recipeSchema } from '../../core/recipes/recipe-schema.js';
import { nothing } from '../../core/wire/common.js';
import {
  recipeInFull,
  recipes as recipesSchema,
  recipeTried,
  recipeTry,
  savedRecipe,
  sourceSample,
} from '../../core/wire/sources.js';
import type { Checks } from '../checks/checks.js';
import { route, type Route } from '../http/route.js';
import type { RecipeTry } from './try.js';
import type { Recipes } from './service.js';

const named = {
  type: 'object',
  required: ['recipe'],
  properties: { recipe: { type: 'string', maxLength: 100 } },
} as const;

export function recipeRoutes(recipes: Recipes, attempts: RecipeTry, checks: Checks): Route[] {
  return [
    route('post', '/recipes/try', {
      access: 'analyst',
      summary: 'What a recipe makes of sample records; without a recipe, a first draft for them',
      body: recipeTry,
      answer: recipeTried,
      handle: async ({ body }) => checks.recipe(body.sample, body.recipe),
    }),
    route('get', '/sources/:source/sample', {
      access: 'analyst',
      summary: 'Records of a source as they came, to try a recipe on',
      params: {
        type: 'object',
        required: ['source'],
        properties: { source: { type: 'string', maxLength: 100 } },
      },
      answer: sourceSample,
      handle: async ({ params }) => ({ sample: await attempts.sample(params.source) }),
    }),
    route('get', '/recipes', {
      access: 'reader',
      summary: 'All recipes',
      answer: recipesSchema,
      handle: async () => ({ recipes: await recipes.all() }),
    }),
    route('get', '/recipes/:recipe', {
      access: 'reader',
      summary: 'A recipe in full, its newest version or the one asked for',
      params: named,
      query: { type: 'object', properties: { version: { type: 'integer', minimum: 1 } } },
      answer: recipeInFull,
      handle: async ({ params, query }) => recipes.one(params.recipe, query.version),
    }),
    route('put', '/recipes', {
      access: 'admin',
      summary: 'Add a version of a recipe under its own number; one that is there stays',
      body: recipeSchema,
      answer: nothing,
      async handle({ body }) {
        await recipes.put(body);
        return {};
      },
    }),
    route('post', '/recipes', {
      access: 'admin',
      summary: 'Save a recipe as its next version',
      body: recipeSchema,
      answer: savedRecipe,
      handle: async ({ body }) => ({ version: await recipes.saveNext(body) }),
    }),
  ];
}
