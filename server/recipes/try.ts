import { shownColumns } from '../../core/events/shown-event.js';
import type { Pool } from 'pg';
import type { Instant } from '../../core/base/instant.js';
import type { JsonObject } from '../../core/base/json.js';
import { recognise } from '../../core/formats/recognise.js';
import { type CompiledRecipe, compileRecipe, type ListLookup } from '../../core/recipes/apply.js';
import { coverageOf } from '../../core/recipes/coverage.js';
import { draftFor } from '../../core/recipes/draft-for.js';
import { fittingShipped } from '../../core/recipes/shipped/index.js';
import type { Recipe } from '../../core/recipes/recipe-schema.js';
import { suggestColumns } from '../../core/recipes/suggest.js';
import type { RecipeTried } from '../../core/wire/sources.js';
import { Failure } from '../failure.js';
import { loadLookups } from '../lists/lookups.js';
import { behindNetworks } from '../mmdb/places.js';
import { requireRecipe } from './service.js';
import { SAMPLE_OF_EVENTS, SAMPLE_OF_ASIDE } from './sql.js';

/** Records of a sample that are looked at. */
const MAX_RECORDS = 50;

type Tried = RecipeTried['records'][number];

function tryRecord(recipe: CompiledRecipe, raw: string, received: Instant): Tried {
  const reading = recipe.read(raw);
  const outcome = recipe.apply(raw, received);
  const base = { raw, fields: reading.fields as Tried['fields'], event: null, unread: [], reason: null };
  switch (outcome.became) {
    case 'discarded':
      return { ...base, became: 'discarded', reason: outcome.because };
    case 'set-aside':
      return { ...base, became: 'set-aside', reason: outcome.reason };
    case 'event': {
      return {
        ...base,
        became: 'event',
        event: shownColumns(outcome.draft),
        unread: [...outcome.unread],
      };
    }
  }
}

/** Tries recipes on samples; nothing is stored. */
export class RecipeTry {
  constructor(
    private readonly pool: Pool,
    private readonly now: () => Instant,
    private readonly places: ListLookup | null = null,
  ) {}

  /** What a recipe makes of a sample, field by field. */
  async try(sample: string, document: unknown): Promise<RecipeTried> {
    const { format, columns, delimiter, share } = recognise(sample);
    const recognised = {
      format,
      share,
      ...(columns !== undefined && { columns: [...columns] }),
      ...(delimiter !== undefined && { delimiter }),
    };
    const fitting =
      document === undefined
        ? fittingShipped(sample, this.now()).map(({ recipe: { name, title }, fit }) => ({ name, title, fit }))
        : [];
    const nothing = { recognised, fitting, records: [], coverage: [], suggestions: [] };
    let recipe: Recipe;
    try {
      recipe = document === undefined ? draftFor(sample, this.now()) : requireRecipe(document);
    } catch (error) {
      if (!(error instanceof Failure)) throw error;
      return { ...nothing, recipe: document as RecipeTried['recipe'], mistake: error.message };
    }
    const { lists } = await loadLookups(
      this.pool,
      (recipe.lookups ?? []).map(({ list }) => list),
      behindNetworks(this.places),
    );
    const compiled = compileRecipe(recipe, lists);
    const records = compiled.cut(sample).slice(0, MAX_RECORDS);
    const tried = records.map((raw) => tryRecord(compiled, raw, this.now()));
    const read = tried.flatMap(({ fields }): JsonObject[] =>
      fields === null ? [] : [fields as unknown as JsonObject],
    );
    const coverage = coverageOf(recipe, read);
    const taken = new Set([...Object.keys(recipe.map ?? {}), ...coverage.flatMap((one) => one.columns)]);
    return {
      recognised,
      fitting,
      recipe: recipe as unknown as RecipeTried['recipe'],
      mistake: null,
      records: tried,
      coverage: coverage.map((one) => ({ ...one, columns: [...one.columns] })),
      suggestions: suggestColumns(coverage, taken),
    };
  }

  /** The newest records of a source as they came: those set aside first, since they need it most. */
  async sample(source: string): Promise<string> {
    const [aside, stored] = await Promise.all([
      this.pool.query<{ raw: string }>(SAMPLE_OF_ASIDE, [source]),
      this.pool.query<{ raw: string }>(SAMPLE_OF_EVENTS, [source]),
    ]);
    return [...aside.rows, ...stored.rows].map(({ raw }) => `${raw}\n`).join('');
  }
}
