import { randomBytes, timingSafeEqual } from 'node:crypto';
import type { Pool } from 'pg';
import { formatInstant, HOUR, type Instant } from '../../core/base/instant.js';
import { compileRecipe } from '../../core/recipes/apply.js';
import { recipeSchema, type Recipe } from '../../core/recipes/recipe-schema.js';
import { ReadPatternError } from '../../core/text/read-pattern.js';
import type { SetAsideList, Source } from '../../core/wire/sources.js';
import { Failure, notFound } from '../http/failure.js';
import { mistakeIn } from '../http/validate.js';
import { hashKey } from '../intake/store-records.js';
import type { IntakeSource } from '../intake/catalogue.js';
import { bumpConfig } from '../sql/config.js';
import { transaction } from '../store/transaction.js';
import { UNCLAIMED } from '../syslog/queue.js';
import { anySyslog } from './any-syslog.js';

/** A source's rhythm is judged by the hours of so many days. */
const RHYTHM_HOURS = 7 * 24;

/** Records set aside that a page shows. */
const MOST_SET_ASIDE = 200;

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
}

const makeKey = (): string => `ul_${randomBytes(24).toString('base64url')}`;
const text = (time: Instant | null): string | null => (time === null ? null : formatInstant(time));

/** The longest run of empty hours between hours that had events. */
export function longestSilence(perHour: readonly number[]): number {
  let longest = 0;
  let run = 0;
  let heard = false;
  for (const count of perHour) {
    if (count > 0) {
      if (heard) longest = Math.max(longest, run);
      heard = true;
      run = 0;
    } else run++;
  }
  return longest;
}

/** Quiet is whoever has been silent for longer than ever in the last week. */
function stateOf(row: SourceRow, perHour: readonly number[], now: Instant): Source['state'] {
  if (row.last_received === null) return 'waiting';
  return now - row.last_received > (longestSilence(perHour) + 1) * HOUR ? 'quiet' : 'flowing';
}

/** True when a key opens a source; takes the same time whether or not it does. */
export function keyOpens(source: IntakeSource | undefined, key: string): boolean {
  const shown = hashKey(key);
  return timingSafeEqual(shown, source?.keyHash ?? Buffer.alloc(shown.length)) && source !== undefined;
}

export class Sources {
  constructor(
    private readonly pool: Pool,
    private readonly now: () => Instant,
  ) {}

  /** Every source with its state and the events of each of the last 24 hours. */
  async all(): Promise<Source[]> {
    const now = this.now();
    const firstHour = (Math.floor(now / HOUR) + 1 - RHYTHM_HOURS) * HOUR;
    const [sources, hours] = await Promise.all([
      this.pool.query<SourceRow>(
        `SELECT s.name, s.title, s.description, s.recipe, s.key_ending, s.stored, s.known, s.last_event, s.last_received,
                (SELECT count(*) FROM set_aside a WHERE a.source = s.name) AS set_aside
           FROM sources s ORDER BY s.name`,
      ),
      this.pool.query<{ source: string; hour: Instant; count: number }>(
        `SELECT source, date_trunc('hour', "time") AS hour, count(*) AS count
           FROM events WHERE "time" >= $1 AND "time" < $2 GROUP BY 1, 2`,
        [formatInstant(firstHour), formatInstant(firstHour + RHYTHM_HOURS * HOUR)],
      ),
    ]);
    const byHour = new Map(hours.rows.map((row) => [`${row.source} ${row.hour}`, row.count]));
    return sources.rows.map((row) => {
      const perHour = Array.from(
        { length: RHYTHM_HOURS },
        (_, i) => byHour.get(`${row.name} ${firstHour + i * HOUR}`) ?? 0,
      );
      return {
        name: row.name,
        title: row.title,
        description: row.description,
        recipe: row.recipe,
        state: stateOf(row, perHour, now),
        stored: row.stored,
        known: row.known,
        setAside: row.set_aside,
        lastEvent: text(row.last_event),
        lastReceived: text(row.last_received),
        keyEnding: row.key_ending,
        perHour: perHour.slice(-24),
      };
    });
  }

  /** Adds a source. @returns its key, which is shown this once @throws Failure 409, 422 */
  async add(source: { name: string; title: string; description: string; recipe: string }): Promise<string> {
    const key = makeKey();
    await transaction(this.pool, async (client) => {
      const recipe = await client.query('SELECT 1 FROM recipes WHERE name = $1', [source.recipe]);
      if (recipe.rowCount === 0)
        throw new Failure(422, 'unknown-recipe', `There is no recipe "${source.recipe}".`);
      const added = await client.query(
        `INSERT INTO sources (name, title, description, recipe, key_hash, key_ending) VALUES ($1, $2, $3, $4, $5, $6) ON CONFLICT DO NOTHING`,
        [source.name, source.title, source.description, source.recipe, hashKey(key), key.slice(-4)],
      );
      if (added.rowCount === 0)
        throw new Failure(
          409,
          'name-taken',
          `There is a source "${source.name}" already. Choose another name.`,
        );
      await bumpConfig(client, 'sources');
    });
    return key;
  }

  /** Makes the source of syslog messages that no other source claims, with a recipe that reads any of them. */
  async ensureUnclaimed(): Promise<void> {
    await this.putRecipe(anySyslog);
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

  /** Gives a source a new key; the old one stops working at once. @throws Failure 404 */
  async rotateKey(name: string): Promise<string> {
    const key = makeKey();
    await transaction(this.pool, async (client) => {
      const { rowCount } = await client.query(
        'UPDATE sources SET key_hash = $2, key_ending = $3 WHERE name = $1',
        [name, hashKey(key), key.slice(-4)],
      );
      if (rowCount === 0) throw notFound(`source "${name}"`);
      await bumpConfig(client, 'sources');
    });
    return key;
  }

  /** What could not be read, newest first. */
  async setAside(name: string): Promise<SetAsideList> {
    const [total, records] = await Promise.all([
      this.pool.query<{ total: number }>('SELECT count(*) AS total FROM set_aside WHERE source = $1', [name]),
      this.pool.query<{ id: number; received: Instant; code: string; reason: string; raw: string }>(
        'SELECT id, received, code, reason, left(raw, 4000) AS raw FROM set_aside WHERE source = $1 ORDER BY id DESC LIMIT $2',
        [name, MOST_SET_ASIDE],
      ),
    ]);
    return {
      total: total.rows[0]?.total ?? 0,
      records: records.rows.map((row) => ({ ...row, received: formatInstant(row.received) })),
    };
  }

  /** The newest version of every recipe. */
  async recipes(): Promise<{ name: string; title: string; version: number; format: string }[]> {
    const { rows } = await this.pool.query<{ document: Recipe }>(
      'SELECT DISTINCT ON (name) document FROM recipes ORDER BY name, version DESC',
    );
    return rows.map(({ document: { name, title, version, format } }) => ({ name, title, version, format }));
  }

  /** Adds a version of a recipe; one that is there stays as it is. @throws Failure 422 for a document that is no recipe */
  async putRecipe(document: unknown): Promise<void> {
    const mistake = mistakeIn(recipeSchema, document, 'recipe');
    if (mistake !== null) throw new Failure(422, 'not-a-recipe', mistake);
    const recipe = document as Recipe;
    try {
      compileRecipe(recipe);
    } catch (error) {
      if (error instanceof ReadPatternError)
        throw new Failure(422, 'not-a-recipe', error.message, { cause: error });
      throw error;
    }
    await transaction(this.pool, async (client) => {
      await client.query(
        'INSERT INTO recipes (name, version, document) VALUES ($1, $2, $3) ON CONFLICT DO NOTHING',
        [recipe.name, recipe.version, JSON.stringify(recipe)],
      );
      await bumpConfig(client, 'sources');
    });
  }
}
