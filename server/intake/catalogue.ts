import type { Pool } from 'pg';
import { compileRecipe, type CompiledRecipe } from '../../core/recipes/apply.js';
import type { Recipe } from '../../core/recipes/recipe-schema.js';
import { configVersions } from '../sql/config.js';
import { loadLookups } from '../sql/list-lookups.js';

/** A source as intake needs it. */
export interface IntakeSource {
  readonly name: string;
  readonly keyHash: Buffer;
  readonly recipe: CompiledRecipe;
}

/** The sources and their recipes, read anew whenever they have changed. */
export class SourceCatalogue {
  private version = -1;
  private sources = new Map<string, IntakeSource>();

  constructor(private readonly pool: Pool) {}

  /** A source by name; undefined when there is none. */
  async find(name: string): Promise<IntakeSource | undefined> {
    const { sources: version } = await configVersions(this.pool);
    if (version !== this.version) await this.load(version);
    return this.sources.get(name);
  }

  private async load(version: number): Promise<void> {
    const { rows } = await this.pool.query<{ name: string; key_hash: Buffer; document: Recipe }>(
      `SELECT s.name, s.key_hash, r.document
         FROM sources s
         JOIN LATERAL (SELECT document FROM recipes WHERE name = s.recipe ORDER BY version DESC LIMIT 1) r ON true`,
    );
    const wanted = rows.flatMap(({ document }) => (document.lookups ?? []).map(({ list }) => list));
    const lists = await loadLookups(this.pool, [...new Set(wanted)]);
    this.sources = new Map(
      rows.map((row) => [
        row.name,
        { name: row.name, keyHash: row.key_hash, recipe: compileRecipe(row.document, lists) },
      ]),
    );
    this.version = version;
  }
}
