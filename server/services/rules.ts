import type { Pool } from 'pg';
import { formatInstant, type Instant } from '../../core/base/instant.js';
import type { Rule } from '../../core/sigma/predicate.js';
import { describeRule } from '../../core/sigma/describe.js';
import { parseRules } from '../../core/sigma/parse-rules.js';
import { SigmaError } from '../../core/sigma/sigma-error.js';
import type { RuleCheck, RuleSummary, RuleWire } from '../../core/wire/rules.js';
import { Failure, notFound } from '../http/failure.js';
import { bumpConfig } from '../sql/config.js';
import { ruleLists } from '../sql/rule-lists.js';
import { transaction } from '../store/transaction.js';

interface RuleRow {
  readonly id: string;
  readonly title: string;
  readonly level: RuleSummary['level'];
  readonly version: number;
  readonly enabled: boolean;
  readonly updated: Instant;
  readonly alerts: number;
}

const SELECT_RULES = `
  SELECT r.id, r.title, r.level, r.version, r.enabled, r.updated,
         (SELECT count(*) FROM alerts a WHERE a.rule = r.id AND a.state <> 'settled') AS alerts`;

const toSummary = (row: RuleRow): RuleSummary => ({
  id: row.id,
  title: row.title,
  level: row.level,
  version: row.version,
  enabled: row.enabled,
  updated: formatInstant(row.updated),
  alerts: row.alerts,
});

/** Reads a rule text against the lists there are. @throws Failure 422 with the line */
async function read(pool: Pool, text: string): Promise<readonly Rule[]> {
  const lists = await ruleLists(pool, [text]);
  try {
    return parseRules(text, lists);
  } catch (error) {
    if (!(error instanceof SigmaError)) throw error;
    throw new Failure(422, 'bad-rule', `Line ${error.line}: ${error.message}.`, {
      place: { line: error.line, column: 1, end: 1 },
      cause: error,
    });
  }
}

/** The document a text is known by: the last one, which rests on those before it. */
const headOf = (rules: readonly Rule[]): Rule => {
  const head = rules[rules.length - 1];
  if (head === undefined) throw new Failure(422, 'bad-rule', 'The text holds no rule.');
  return head;
};

export class Rules {
  constructor(private readonly pool: Pool) {}

  async all(): Promise<RuleSummary[]> {
    const { rows } = await this.pool.query<RuleRow>(`${SELECT_RULES} FROM rules r ORDER BY r.title`);
    return rows.map(toSummary);
  }

  /** @throws Failure 404 */
  async one(id: string): Promise<RuleWire> {
    const { rows } = await this.pool.query<RuleRow & { text: string }>(
      `${SELECT_RULES}, r.text FROM rules r WHERE r.id = $1`,
      [id],
    );
    if (rows[0] === undefined) throw notFound('rule of this id');
    return { ...toSummary(rows[0]), text: rows[0].text };
  }

  /** What a text says in plain words, or its first mistake. */
  async check(text: string): Promise<RuleCheck> {
    const lists = await ruleLists(this.pool, [text]);
    try {
      const rules = parseRules(text, lists);
      return {
        documents: rules.map((rule) => ({
          title: rule.title,
          line: rule.line,
          says: describeRule(rule, rules),
        })),
        mistake: null,
      };
    } catch (error) {
      if (!(error instanceof SigmaError)) throw error;
      return { documents: [], mistake: { line: error.line, message: error.message } };
    }
  }

  /** Adds a rule, switched off. @throws Failure 422 */
  async add(text: string, author: string): Promise<RuleWire> {
    const head = headOf(await read(this.pool, text));
    const id = await transaction(this.pool, async (client) => {
      const { rows } = await client.query<{ id: string }>(
        'INSERT INTO rules (title, level, text) VALUES ($1, $2, $3) RETURNING id',
        [head.title, head.level, text],
      );
      const made = rows[0]?.id ?? '';
      await client.query('INSERT INTO rule_versions (rule, version, text, author) VALUES ($1, 1, $2, $3)', [
        made,
        text,
        author,
      ]);
      await bumpConfig(client, 'rules');
      return made;
    });
    return this.one(id);
  }

  /**
   * Changes a rule's text, which makes a version, or switches it on or off.
   * @throws Failure 404, 409 when someone else changed it meanwhile, 422 for a text with a mistake
   */
  async change(
    id: string,
    change: { text?: string; enabled?: boolean; version?: number },
    author: string,
  ): Promise<RuleWire> {
    const head = change.text === undefined ? null : headOf(await read(this.pool, change.text));
    await transaction(this.pool, async (client) => {
      const { rows } = await client.query<{ version: number; text: string }>(
        'SELECT version, text FROM rules WHERE id = $1 FOR UPDATE',
        [id],
      );
      const before = rows[0];
      if (before === undefined) throw notFound('rule of this id');
      if (change.version !== undefined && change.version !== before.version) {
        throw new Failure(
          409,
          'changed-meanwhile',
          `This rule is at version ${before.version} by now, and your change was made from version ${change.version}. Open it again and repeat the change.`,
        );
      }
      if (head !== null && change.text !== before.text) {
        await client.query(
          'UPDATE rules SET title = $2, level = $3, text = $4, version = version + 1, updated = now() WHERE id = $1',
          [id, head.title, head.level, change.text],
        );
        await client.query(
          'INSERT INTO rule_versions (rule, version, text, author) VALUES ($1, $2, $3, $4)',
          [id, before.version + 1, change.text, author],
        );
      }
      if (change.enabled !== undefined)
        await client.query('UPDATE rules SET enabled = $2, updated = now() WHERE id = $1', [
          id,
          change.enabled,
        ]);
      await bumpConfig(client, 'rules');
    });
    return this.one(id);
  }
}
