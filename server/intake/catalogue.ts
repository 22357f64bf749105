import type { Pool } from 'pg';
import { type CompiledRecipe, compileRecipe, type ListLookup } from '../../core/recipes/apply.js';
import { withIntakeRules } from '../../core/recipes/intake-rules.js';
import type { Recipe } from '../../core/recipes/recipe-schema.js';
import type { FormatName } from '../../core/wire/format-names.js';
import type { SyslogClaim } from '../../core/wire/sources.js';
import { configVersions } from '../db/config-versions.js';
import { rulesAtWork, rulesOf } from '../intake-rules/ready.js';
import { type Behind, loadLookups } from '../lists/lookups.js';
import { behindNetworks } from '../mmdb/places.js';
import { type ClaimTest, compileClaim, type SyslogOrigin } from '../syslog/claim.js';
import { SOURCES_WITH_RECIPES } from './sql.js';

/** How records are to be read where that is not as their source says. */
export interface OtherWay {
  readonly recipe?: string | undefined;
  readonly format?: FormatName | undefined;
}

/** A source as intake needs it. */
export interface IntakeSource {
  readonly name: string;
  /** What ids of its events are derived from: its first name, whatever it is called now. */
  readonly identity: string;
  readonly keyHash: Buffer;
  /** Reads its records, with the rules of the way in before it. */
  readonly recipe: CompiledRecipe;
  /** The recipe alone. */
  readonly own: CompiledRecipe;
  /** The zone of its times that name none; null for that of the recipe. */
  readonly zone?: string | null;
  /** Days its events are kept; null keeps all of them. */
  readonly retentionDays: number | null;
  /** How its records are read where that is not by the source's own recipe. */
  readonly otherwise?: OtherWay;
  /** Whether a syslog message is this source's. */
  readonly claims: ClaimTest | null;
}

/** The sources and their recipes, read anew whenever they have changed. */
export class SourceCatalogue {
  private version = -1;
  /** When a row of a list expires, the lists are read anew. */
  private until = Infinity;
  private sources = new Map<string, IntakeSource>();

  private readonly behind: Behind;

  /** @param places where networks stand that no list knows */
  constructor(
    private readonly pool: Pool,
    places: ListLookup | null = null,
  ) {
    this.behind = behindNetworks(places);
  }

  /** Takes up changes of sources, recipes and lists. */
  async refresh(): Promise<void> {
    const { sources: version } = await configVersions(this.pool);
    if (version !== this.version || Date.now() >= this.until) await this.load(version);
  }

  /** A source by name; undefined when there is none. */
  async find(name: string): Promise<IntakeSource | undefined> {
    await this.refresh();
    return this.sources.get(name);
  }

  /** The source that claims a syslog message, as of the last refresh; the first by name where several do. */
  claimant(message: SyslogOrigin): IntakeSource | undefined {
    for (const source of this.sources.values()) if (source.claims?.(message) === true) return source;
    return undefined;
  }

  private async load(version: number): Promise<void> {
    const { rows } = await this.pool.query<{
      name: string;
      key_hash: Buffer;
      document: Recipe;
      syslog: SyslogClaim | null;
      retention_days: number | null;
      zone: string | null;
      identity: string;
    }>(SOURCES_WITH_RECIPES);
    const work = await rulesAtWork(this.pool);
    const wanted = [...rows.map(({ document }) => document), ...work.routes.values()].flatMap((document) =>
      (document.lookups ?? []).map(({ list }) => list),
    );
    const { lists, until } = await loadLookups(this.pool, [...new Set(wanted)], this.behind);
    this.sources = new Map(
      rows.map((row) => {
        const ready = (document: Recipe): CompiledRecipe => compileRecipe(document, lists, row.zone);
        const own = ready(row.document);
        return [
          row.name,
          {
            name: row.name,
            identity: row.identity,
            keyHash: row.key_hash,
            recipe: withIntakeRules(own, rulesOf(work, row.name, ready)),
            own,
            zone: row.zone,
            retentionDays: row.retention_days,
            claims: row.syslog && compileClaim(row.syslog),
          },
        ];
      }),
    );
    this.version = version;
    this.until = until;
  }
}
