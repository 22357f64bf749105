import type { Pool, PoolClient } from 'pg';
import { formatInstant, type Instant } from '../../core/base/instant.js';
import { compileRecipe } from '../../core/recipes/apply.js';
import { intakeRuleMistake, withIntakeRules, type TagColour } from '../../core/recipes/intake-rules.js';
import type {
  IntakeRuleBody,
  IntakeRuleTried,
  IntakeRuleWire,
  TagWire,
} from '../../core/wire/intake-rules.js';
import { bumpConfig } from '../db/config-versions.js';
import { transaction } from '../db/transaction.js';
import { Failure, notFound } from '../failure.js';
import type { SourceCatalogue } from '../intake/catalogue.js';
import { addChange } from '../trail/changes.js';
import { newestRecipe, type RuleDocument } from './ready.js';
import {
  ADD_RULE,
  CHANGE_RULE,
  COUNT_RULES,
  COUNT_TAGS,
  FORWARD_AGAIN,
  FORWARDERS,
  KNOWN_SOURCE,
  NEWEST_RECORDS,
  ORDER_RULES,
  PUT_TAG,
  READ_RULE,
  READ_RULES,
  READ_TAGS,
  REMOVE_RULE,
  REMOVE_TAG,
} from './sql.js';

/** Every record meets every rule, so there are not without end. */
const MAX_RULES = 200;
const MAX_TAGS = 500;
/** Records of each source that a rule is tried on: of one alone, or of all. */
const TRIED = 2000;
const TRIED_OF_EACH = 150;
const SHOWN = 20;
const MAX_SHOWN_CHARACTERS = 2000;

interface RuleRow {
  readonly id: number;
  readonly title: string;
  readonly on: boolean;
  readonly source: string | null;
  readonly document: RuleDocument;
  readonly met: number;
  readonly last_met: Instant | null;
  readonly forwarded: number;
  readonly not_forwarded: number;
  readonly waiting: number;
  readonly given_up: number;
  readonly said: string | null;
}

const toWire = ({ document, last_met, not_forwarded, given_up, ...row }: RuleRow): IntakeRuleWire =>
  ({
    ...document,
    ...row,
    lastMet: last_met === null ? null : formatInstant(last_met),
    notForwarded: not_forwarded,
    givenUp: given_up,
  }) as IntakeRuleWire;

/** The rules of the way in, and what tags mean. */
export class IntakeRules {
  constructor(
    private readonly pool: Pool,
    private readonly catalogue: SourceCatalogue,
  ) {}

  async all(): Promise<IntakeRuleWire[]> {
    const { rows } = await this.pool.query<RuleRow>(READ_RULES);
    return rows.map(toWire);
  }

  /** @throws Failure 422 */
  async add(body: IntakeRuleBody): Promise<IntakeRuleWire> {
    return this.write(null, body);
  }

  /** @throws Failure 404, 422 */
  async change(id: number, body: IntakeRuleBody): Promise<IntakeRuleWire> {
    return this.write(id, body);
  }

  private async write(id: number | null, body: IntakeRuleBody): Promise<IntakeRuleWire> {
    await this.requireRight(body);
    const { title, on, source, ...document } = body;
    const values = [title, on, source, JSON.stringify(document)];
    return transaction(this.pool, async (client) => {
      if (id === null) {
        const { rows } = await client.query<{ n: number }>(COUNT_RULES);
        if ((rows[0]?.n ?? 0) >= MAX_RULES)
          throw new Failure(
            'full',
            `There are ${MAX_RULES} rules, and every record meets all of them. Remove one first.`,
          );
      }
      const { rows } =
        id === null
          ? await client.query<{ id: number }>(ADD_RULE, values)
          : await client.query<{ id: number }>(CHANGE_RULE, [...values, id]);
      const written = rows[0]?.id;
      if (written === undefined) throw notFound(`rule of the way in ${id}`);
      await addChange(
        client,
        'intake rule',
        String(written),
        `${id === null ? 'added' : 'changed'}: ${title}${on ? '' : ', off'}`,
      );
      await bumpConfig(client, 'sources');
      return this.one(client, written);
    });
  }

  private async one(client: PoolClient, id: number): Promise<IntakeRuleWire> {
    const { rows } = await client.query<RuleRow>(READ_RULE, [id]);
    if (rows[0] === undefined) throw notFound(`rule of the way in ${id}`);
    return toWire(rows[0]);
  }

  /** @throws Failure 422 */
  private async requireRight(body: IntakeRuleBody): Promise<void> {
    const mistake = intakeRuleMistake(body);
    if (mistake !== null) throw new Failure('bad-intake-rule', mistake);
    if (body.source !== null && (await this.pool.query(KNOWN_SOURCE, [body.source])).rowCount === 0)
      throw new Failure('unknown-source', `There is no source "${body.source}".`);
    if (body.recipe !== null && (await newestRecipe(this.pool, body.recipe)) === undefined)
      throw new Failure('unknown-recipe', `There is no recipe "${body.recipe}".`);
    if (body.forward.length === 0) return;
    const { rows } = await this.pool.query<{ name: string }>(FORWARDERS);
    const missing = body.forward.find((to) => !rows.some(({ name }) => name === to));
    if (missing !== undefined)
      throw new Failure(
        'bad-intake-rule',
        `There is no destination "${missing}" of the kind syslog or webhook. Set it up under Rules, Destinations.`,
      );
  }

  /** @throws Failure 404 */
  async remove(id: number): Promise<void> {
    await transaction(this.pool, async (client) => {
      const { rows } = await client.query<{ title: string }>(REMOVE_RULE, [id]);
      if (rows[0] === undefined) throw notFound(`rule of the way in ${id}`);
      await addChange(client, 'intake rule', String(id), `removed: ${rows[0].title}`);
      await bumpConfig(client, 'sources');
    });
  }

  async order(ids: readonly number[]): Promise<void> {
    await transaction(this.pool, async (client) => {
      await client.query(ORDER_RULES, [ids]);
      await addChange(client, 'intake rule', 'order', `put into the order ${ids.join(', ')}`);
      await bumpConfig(client, 'sources');
    });
  }

  /** What was given up is tried again. */
  async forwardAgain(id: number): Promise<void> {
    await this.pool.query(FORWARD_AGAIN, [id]);
  }

  /** What a rule would do with the newest stored records; it alone, whatever others there are. @throws Failure 422 */
  async try(body: IntakeRuleBody): Promise<IntakeRuleTried> {
    await this.requireRight(body);
    const { rows } = await this.pool.query<{ source: string; raw: string; received: Instant }>(
      NEWEST_RECORDS,
      [body.source, body.source === null ? TRIED_OF_EACH : TRIED],
    );
    const document = body.recipe === null ? undefined : await newestRecipe(this.pool, body.recipe);
    const ready = { ...body, id: 0, route: document === undefined ? null : compileRecipe(document) };
    const bySource = new Map<string, ReturnType<typeof withIntakeRules> | null>();
    const tried: { met: number; records: IntakeRuleTried['records'][number][] } = { met: 0, records: [] };
    for (const { source, raw, received } of rows) {
      let recipe = bySource.get(source);
      if (recipe === undefined) {
        const own = await this.catalogue.find(source);
        recipe = own === undefined ? null : withIntakeRules(own.own, [ready]);
        bySource.set(source, recipe);
      }
      const outcome = recipe?.apply(raw, received);
      if (outcome?.rules === undefined) continue;
      tried.met++;
      if (tried.records.length >= SHOWN) continue;
      tried.records.push({
        source,
        raw: raw.slice(0, MAX_SHOWN_CHARACTERS),
        became: outcome.became,
        what:
          outcome.became === 'event'
            ? [outcome.draft.kind, outcome.draft.operation, outcome.draft.outcome].filter(Boolean).join(' · ')
            : outcome.became === 'discarded'
              ? outcome.because
              : outcome.reason,
      });
    }
    return { looked: rows.length, ...tried };
  }

  async tags(): Promise<TagWire[]> {
    return (await this.pool.query<TagWire>(READ_TAGS)).rows;
  }

  /** @throws Failure 422 */
  async putTag(name: string, { colour, about }: { colour: TagColour; about: string }): Promise<void> {
    const { rows } = await this.pool.query<{ n: number }>(COUNT_TAGS, [name]);
    if ((rows[0]?.n ?? 0) >= MAX_TAGS)
      throw new Failure('full', `${MAX_TAGS} tags have a meaning already. Remove one first.`);
    await this.pool.query(PUT_TAG, [name, colour, about]);
  }

  /** @throws Failure 404 */
  async removeTag(name: string): Promise<void> {
    const { rowCount } = await this.pool.query(REMOVE_TAG, [name]);
    if (rowCount === 0) throw notFound(`tag "${name}"`);
  }
}
