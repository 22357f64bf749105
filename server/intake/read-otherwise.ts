import type { Pool } from 'pg';
import { compileRecipe, type ListLookup } from '../../core/recipes/apply.js';
import { shippedRecipes } from '../../core/recipes/shipped/index.js';
import type { Recipe } from '../../core/recipes/recipe-schema.js';
import { notFound } from '../failure.js';
import { loadLookups } from '../lists/lookups.js';
import { behindNetworks } from '../mmdb/places.js';
import { requireRecipe } from '../recipes/service.js';
import type { IntakeSource, OtherWay } from './catalogue.js';
import { NEWEST_RECIPE } from './sql.js';

/** No version of the source's own recipe has read the events, so that reading again takes them up. */
const READ_OTHERWISE = 0;

/**
 * A source with another recipe, or its records cut and read in another format, for one file or request.
 * @throws Failure 404 for a recipe that is not there; 422 where the recipe does not suit the format
 */
export async function readOtherwise(
  pool: Pool,
  source: IntakeSource,
  { recipe: name, format }: OtherWay,
  places: ListLookup | null,
): Promise<IntakeSource> {
  if (name === undefined && format === undefined) return source;
  let document: Recipe = source.recipe.recipe;
  if (name !== undefined) {
    const { rows } = await pool.query<{ document: Recipe }>(NEWEST_RECIPE, [name]);
    const ships = Object.hasOwn(shippedRecipes, name) ? shippedRecipes[name] : undefined;
    const found = rows[0]?.document ?? ships;
    if (found === undefined) throw notFound(`recipe "${name}"`);
    document = found;
  }
  requireRecipe({ ...document, ...(format && { format }) });
  const { lists } = await loadLookups(
    pool,
    (document.lookups ?? []).map(({ list }) => list),
    behindNetworks(places),
  );
  const recipe = compileRecipe(
    { ...document, ...(format && { format }), version: READ_OTHERWISE },
    lists,
    source.zone ?? null,
  );
  return { ...source, recipe, own: recipe, otherwise: { recipe: name, format } };
}
