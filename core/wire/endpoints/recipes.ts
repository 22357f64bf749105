import { recipeSchema } from '../../recipes/recipe-schema.js';
import { nothing } from '../common.js';
import { endpoint } from '../endpoint.js';
import { recipeExample } from '../examples.js';
import {
  newName,
  recipeInFull,
  recipes as recipesSchema,
  recipeTried,
  recipeTry,
  savedRecipe,
  sourceSample,
} from '../sources.js';

const named = {
  type: 'object',
  required: ['recipe'],
  properties: { recipe: { type: 'string', maxLength: 100 } },
} as const;

export const tryRecipe = endpoint('post', '/recipes/try', {
  access: 'analyst',
  summary: 'What a recipe makes of sample records; without a recipe, a first draft for them',
  body: recipeTry,
  answer: recipeTried,
  example: { sample: '{"who":"teo.marrash","did":"login"}\n' },
});

export const sampleSource = endpoint('get', '/sources/:source/sample', {
  access: 'analyst',
  summary: 'Records of a source as they came, to try a recipe on',
  params: {
    type: 'object',
    required: ['source'],
    properties: { source: { type: 'string', maxLength: 100 } },
  },
  answer: sourceSample,
});

export const listRecipes = endpoint('get', '/recipes', {
  access: 'reader',
  summary: 'All recipes',
  answer: recipesSchema,
});

export const readRecipe = endpoint('get', '/recipes/:recipe', {
  access: 'reader',
  summary: 'A recipe in full, its newest version or the one asked for',
  params: named,
  query: { type: 'object', properties: { version: { type: 'integer', minimum: 1 } } },
  answer: recipeInFull,
});

export const putRecipe = endpoint('put', '/recipes', {
  access: 'admin',
  summary: 'Add a version of a recipe under its own number; one that is there stays',
  body: recipeSchema,
  answer: nothing,
  example: recipeExample,
});

export const saveRecipe = endpoint('post', '/recipes', {
  access: 'admin',
  summary: 'Save a recipe as its next version',
  body: recipeSchema,
  answer: savedRecipe,
  example: recipeExample,
});

export const renameRecipe = endpoint('post', '/recipes/:recipe/rename', {
  access: 'admin',
  summary: 'Give a recipe another name, in all its versions',
  params: named,
  body: newName,
  answer: nothing,
  example: { name: 'gate-access' },
});

export const removeRecipe = endpoint('delete', '/recipes/:recipe', {
  access: 'admin',
  summary: 'Delete a recipe that no source and no rule of the way in uses',
  params: named,
  answer: nothing,
});
