import { randomBytes, timingSafeEqual } from 'node:crypto';
import type { Pool, PoolClient } from 'pg';
import { formatInstant, type Instant } from '../../core/base/instant.js';
import { parseNetwork } from '../../core/net/network.js';
import { shippedRecipes } from '../../core/recipes/shipped/index.js';
import { zoneName } from '../../core/text/zones.js';
import type { Source, SourceChange, SyslogClaim } from '../../core/wire/sources.js';
import { bumpConfig } from '../db/config-versions.js';
import { transaction } from '../db/transaction.js';
import { Failure, notFound } from '../failure.js';
import type { IntakeSource } from '../intake/catalogue.js';
import { hashKey } from '../intake/store-records.js';
import { Recipes } from '../recipes/service.js';
import { UNCLAIMED } from '../syslog/queue.js';
import { addChange } from '../trail/changes.js';
import { PUT_VERSION } from '../recipes/sql.js';
import { anySyslog } from './any-syslog.js';
import { deleteSource, renameSource } from './leave.js';
import { sourceHealth } from './health.js';
import { ADD_SOURCE, CHANGE_SOURCE, CHANGE_KEY, FIND_RECIPE, READ_SOURCES } from './sql.js';

interface SourceRow {
  readonly name: string;
  readonly title: string;
  readonly description: string;
  readonly recipe: string;
  readonly key_ending: string;
  readonly stored: number;
  readonly known: number;
  readonly set_aside: number;
  readonly last_event: Instant | null;
  readonly last_received: Instant | null;
  readonly retention_days: number | null;
  readonly held_from: string | null;
  readonly syslog: SyslogClaim | null;
  readonly zone: string | null;
  readonly version: number;
  readonly format: Source['format'];
}

const makeKey = (): string => `ul_${randomBytes(24).toString('base64url')}`;
const text = (time: Instant | null): string | null => (time === null ? null : formatInstant(time));

/** True when a key opens a source; takes the same time whether or not it does. */
export function keyOpens(source: IntakeSource | undefined, key: string): boolean {
  const shown = hashKey(key);
  return timingSafeEqual(shown, source?.keyHash ?? Buffer.alloc(shown.length)) && source !== undefined;
}

/** A recipe that ships is kept with its first use. @throws Failure 422 */
async function requireRecipe(client: PoolClient, name: string): Promise<void> {
  const { rowCount } = await client.query(FIND_RECIPE, [name]);
  const ships = Object.hasOwn(shippedRecipes, name) ? shippedRecipes[name] : undefined;
  if (rowCount === 0 && ships !== undefined) {
    await client.query(PUT_VERSION, [name, ships.version, JSON.stringify(ships)]);
    return;
  }
  if (rowCount === 0) throw new Failure('unknown-recipe', `There is no recipe "${name}".`);
}

export class Sources {
  private readonly recipes: Recipes;

  constructor(
    private readonly pool: Pool,
    private readonly now: () => Instant,
  ) {
    this.recipes = new Recipes(pool);
  }

  /** Every source, and how it has been doing. */
  async all(): Promise<Source[]> {
    const { rows } = await this.pool.query<SourceRow>(READ_SOURCES);
    const health = await sourceHealth(
      this.pool,
      new Map(rows.map((row) => [row.name, row.last_received])),
      this.now(),
    );
    return rows.flatMap((row) => {
      const own = health.get(row.name);
      if (own === undefined) return [];
      return {
        name: row.name,
        title: row.title,
        description: row.description,
        recipe: row.recipe,
        recipeVersion: row.version,
        format: row.format,
        ...own,
        stored: row.stored,
        known: row.known,
        setAside: row.set_aside,
        lastEvent: text(row.last_event),
        lastReceived: text(row.last_received),
        keyEnding: row.key_ending,
        retentionDays: row.retention_days,
        heldFrom: row.held_from,
        syslog: row.syslog,
        zone: row.zone,
      };
    });
  }

  /** Changes what is given and leaves the rest. @throws Failure 404, 422 */
  async change(name: string, change: SourceChange): Promise<void> {
    await transaction(this.pool, async (client) => {
      if (change.recipe !== undefined) await requireRecipe(client, change.recipe);
      const zone = change.zone == null ? null : zoneName(change.zone);
      if (change.zone != null && zone === null)
        throw new Failure(
          'invalid',
          `"${change.zone}" is no time zone. Write one such as Europe/Lisbon, or UTC.`,
        );
      for (const network of change.syslog?.networks ?? [])
        if (parseNetwork(network) === null)
          throw new Failure('not-a-network', `"${network}" is no address or network such as 10.0.0.0/8.`);
      const { rowCount } = await client.query(CHANGE_SOURCE, [
        name,
        change.title ?? null,
        change.description ?? null,
        change.recipe ?? null,
        change.retentionDays !== undefined,
        change.retentionDays ?? null,
        change.syslog !== undefined,
        change.syslog === undefined || change.syslog === null ? null : JSON.stringify(change.syslog),
        change.zone !== undefined,
        zone,
      ]);
      if (rowCount === 0) throw notFound(`source "${name}"`);
      await addChange(client, 'source', name, `changed: ${Object.keys(change).join(', ')}`);
      await bumpConfig(client, 'sources');
    });
  }

  /** Adds a source. @returns its key, which is shown this once @throws Failure 409, 422 */
  async add(source: { name: string; title: string; description: string; recipe: string }): Promise<string> {
    const key = makeKey();
    await transaction(this.pool, async (client) => {
      await requireRecipe(client, source.recipe);
      const added = await client.query(ADD_SOURCE, [
        source.name,
        source.title,
        source.description,
        source.recipe,
        hashKey(key),
        key.slice(-4),
      ]);
      if (added.rowCount === 0)
        throw new Failure('name-taken', `There is a source "${source.name}" already. Choose another name.`);
      await addChange(client, 'source', source.name, 'added');
      await bumpConfig(client, 'sources');
    });
    return key;
  }

  /** Makes the source of syslog messages that no other source claims, with a recipe that reads any of them. */
  async ensureUnclaimed(): Promise<void> {
    await this.recipes.put(anySyslog);
    await this.add({
      name: UNCLAIMED,
      title: 'Syslog of nobody yet',
      description: 'messages that no source claims; give them one under its settings',
      recipe: anySyslog.name,
    }).catch((error: unknown) => {
      // Another server may have made it at the same moment.
      if (!(error instanceof Failure && error.code === 'name-taken')) throw error;
    });
  }

  /** @throws Failure 404 */
  async remove(name: string): Promise<void> {
    await deleteSource(this.pool, name);
  }

  /** @throws Failure 404, 409 */
  async rename(name: string, to: string): Promise<void> {
    if (name !== to) await renameSource(this.pool, name, to);
  }

  /** Gives a source a new key; the old one stops working at once. @throws Failure 404 */
  async rotateKey(name: string): Promise<string> {
    const key = makeKey();
    await transaction(this.pool, async (client) => {
      const { rowCount } = await client.query(CHANGE_KEY, [name, hashKey(key), key.slice(-4)]);
      if (rowCount === 0) throw notFound(`source "${name}"`);
      await addChange(client, 'source', name, 'given a new key; the old one stopped working');
      await bumpConfig(client, 'sources');
    });
    return key;
  }
}
