import type { Pool, PoolClient } from 'pg';
import { formatInstant, type Instant } from '../../core/base/instant.js';
import { columnDef, columnNames } from '../../core/events/columns.js';
import { modifiers } from '../../core/sigma/modifiers/index.js';
import type { HuntRule, Rule } from '../../core/sigma/rule-model.js';
import { techniques } from '../../core/sigma/techniques.js';
import type { RuleCheck, RuleSummary, RuleVersions, RuleWire, RuleWordsWire } from '../../core/wire/rules.js';
import { checksHere } from '../checks/check-here.js';
import type { Checks } from '../checks/checks.js';
import { bumpConfig } from '../db/config-versions.js';
import { transaction } from '../db/transaction.js';
import { Failure, notFound } from '../failure.js';
import { addChange } from '../trail/changes.js';
import { absentOf, detectionsUnder, type ReadText, RuleReading, sourcesOf } from './reading.js';
import {
  ADD_FIRST_VERSION,
  ADD_VERSION,
  ADD_RULE,
  SWITCH_RULE,
  CHANGE_RULE,
  HOLD_RULE,
  HOLD_RULE_WITH_ALERTS,
  NAMES_OF_LISTS,
  VERSIONS_OF_RULE,
  TEXT_OF_RULE,
  REMOVE_RULE,
  RULE_SUMMARIES,
} from './sql.js';
import { RuleWords } from './words.js';

interface RuleRow {
  readonly id: string;
  readonly title: string;
  readonly level: RuleSummary['level'];
  readonly type: RuleSummary['type'];
  readonly onMatch: RuleSummary['onMatch'];
  readonly state: RuleSummary['state'];
  readonly version: number;
  readonly live_version: number | null;
  readonly owner: string | null;
  readonly tags: string[];
  readonly updated: Instant;
  readonly alerts: number;
  readonly recent: number;
  readonly suspended: { readonly reason: string; readonly event: string; readonly time: string } | null;
  readonly replay_at: Instant | null;
  readonly replay_who: string;
  readonly replay_since: Instant;
  readonly replay_until: Instant;
  readonly replay_matches: number;
  readonly replay_alerts: number;
}
/** A replay belongs to a text, whoever has it. */
const FROM_RULES = `FROM rules r LEFT JOIN rule_replays p ON p.text_hash = sha256(convert_to(r.text, 'UTF8'))`;

const toSummary = (row: RuleRow, problem: string | null, sources: readonly string[]): RuleSummary => ({
  id: row.id,
  title: row.title,
  level: row.level,
  type: row.type,
  onMatch: row.onMatch,
  state: row.state,
  version: row.version,
  liveVersion: row.live_version,
  owner: row.owner,
  tags: row.tags,
  updated: formatInstant(row.updated),
  alerts: row.alerts,
  recent: Number(row.recent),
  problem:
    row.suspended === null
      ? problem
      : `suspended, it failed on event ${row.suspended.event} of ${row.suspended.time}: ${row.suspended.reason}`,
  sources: [...sources],
  replayed:
    row.replay_at === null
      ? null
      : {
          at: formatInstant(row.replay_at),
          who: row.replay_who,
          since: formatInstant(row.replay_since),
          until: formatInstant(row.replay_until),
          complete: true,
          matches: row.replay_matches,
          alerts: row.replay_alerts,
        },
});

/** What a list shows of a text. */
export interface TextHead {
  readonly title: string;
  readonly level: RuleSummary['level'];
  readonly type: RuleSummary['type'];
  readonly onMatch: RuleSummary['onMatch'];
  readonly owner: string | null;
  readonly tags: readonly string[];
}

const LAST = -1;

/** The document a text is known by: the last one, which rests on those before it. */
export function headOf({ pack, own, hunts }: ReadText, text: string): TextHead {
  const rule: Rule | HuntRule | undefined = hunts.at(LAST) ?? pack.rules[own.at(LAST) ?? LAST];
  if (rule === undefined) {
    const title = /^title:\s*(.+)$/m.exec(text)?.[1]?.trim() ?? 'Filter';
    return { title, level: 'informational', type: 'filter', onMatch: 'mark', owner: null, tags: [] };
  }
  const { title, level, type, tags, settings } = rule;
  return { title, level, type, onMatch: settings.onMatch, owner: settings.owner, tags };
}

/** Refuses a text with a mistake. @throws Failure 422 with the line */
export function requireRight({ mistake }: Pick<RuleCheck, 'mistake'>): void {
  if (mistake === null) return;
  throw new Failure('bad-rule', `Line ${mistake.line}: ${mistake.message}.`, {
    place: { line: mistake.line, column: 1, end: 1 },
  });
}

const changedMeanwhile = (version: number): Failure =>
  new Failure(
    'changed-meanwhile',
    `This rule is at version ${version} by now, and your change was made from another. Open it again and repeat the change.`,
  );

export class Rules {
  readonly reading: RuleReading;
  readonly words: RuleWords;

  constructor(
    private readonly pool: Pool,
    private readonly checks: Checks = checksHere(pool, () => Date.now() * 1000, null),
  ) {
    this.reading = new RuleReading(pool);
    this.words = new RuleWords(pool);
  }

  async all(): Promise<RuleSummary[]> {
    const [{ rows }, states] = await Promise.all([
      this.pool.query<RuleRow>(`${RULE_SUMMARIES} ${FROM_RULES} ORDER BY r.title, r.id`),
      this.states(),
    ]);
    return rows.map((row) => {
      const { problem = null, sources = [] } = states.get(row.id) ?? {};
      return toSummary(row, problem, sources);
    });
  }

  /** Of each rule text, why it cannot run and which sources it is asked of. */
  private async states(): Promise<Map<string, { problem: string | null; sources: readonly string[] }>> {
    const { running, pack, entries, sources } = await this.reading.all();
    const states = new Map(
      running.map(({ id }, file): [string, { problem: string | null; sources: readonly string[] }] => {
        const [refused] = pack.refused.filter((one) => one.file === id);
        const detections = pack.origins.flatMap((origin, at) =>
          origin.file === file ? detectionsUnder(pack.rules, at) : [],
        );
        const asked = [...new Set(detections.flatMap((rule) => sourcesOf(rule, sources, entries)))].sort();
        const hunts = pack.hunts.some(({ origin }) => origin.file === file);
        return [
          id,
          {
            problem:
              refused === undefined
                ? absentOf(detections, sources, entries)
                : `line ${refused.line}: ${refused.reason}`,
            sources: hunts ? sources.map(({ source }) => source) : asked,
          },
        ];
      }),
    );
    return states;
  }

  /** @throws Failure 404 */
  async one(id: string): Promise<RuleWire> {
    const { rows } = await this.pool.query<RuleRow & { text: string }>(
      `${RULE_SUMMARIES}, r.text ${FROM_RULES} WHERE r.id = $1`,
      [id],
    );
    const row = rows[0];
    if (row === undefined) throw notFound('rule of this id');
    const states = await this.states();
    const { problem = null, sources = [] } = states.get(id) ?? {};
    return { ...toSummary(row, problem, sources), text: row.text };
  }

  /** @throws Failure 404 */
  async versions(id: string): Promise<RuleVersions['versions']> {
    const { rows } = await this.pool.query<{
      version: number;
      author: string;
      created: Instant;
      why: string;
      text: string;
    }>(VERSIONS_OF_RULE, [id]);
    if (rows.length === 0) throw notFound('rule of this id');
    return rows.map(({ created, ...version }) => ({ ...version, at: formatInstant(created) }));
  }

  /** What a text says in plain words, or its first mistake. @param id the rule it is to become */
  async check(text: string, id: string | null = null): Promise<RuleCheck> {
    return this.checks.rule(text, id);
  }

  /** What a rule may name. */
  async nameable(): Promise<RuleWordsWire> {
    const [fields, { pack, entries, sources }, lists] = await Promise.all([
      this.words.ownFields(),
      this.reading.all(),
      this.pool.query<{ name: string }>(NAMES_OF_LISTS),
    ]);
    const known = [...entries, ...sources].map(({ logsource }) => logsource);
    const wordsOf = (part: 'category' | 'product' | 'service'): string[] =>
      [...new Set(known.flatMap((logsource) => logsource[part] ?? []))].sort();
    return {
      fields: [
        ...columnNames.map((name) => ({ name, meaning: columnDef(name).meaning })),
        ...Array.from(fields, ([name, of]) => ({ name, meaning: `of ${of.join(', ')}` })),
      ],
      logsources: {
        category: wordsOf('category'),
        product: wordsOf('product'),
        service: wordsOf('service'),
      },
      lists: lists.rows.map(({ name }) => name),
      rules: [...new Set(pack.rules.flatMap(({ name }) => name ?? []))].sort(),
      techniques: { ...techniques },
      modifiers: Object.fromEntries(Object.entries(modifiers).map(([name, { meaning }]) => [name, meaning])),
    };
  }

  /** Adds a rule as a draft. @throws Failure 422 */
  async add(text: string, author: string, why = ''): Promise<RuleWire> {
    const read = await this.requireReadable(text, null);
    return this.one(
      await transaction(this.pool, (client) => insertRule(client, headOf(read, text), text, author, why)),
    );
  }

  private async requireReadable(text: string, id: string | null): Promise<ReadText> {
    // First where nothing can be held up; what passes there is cheap enough to be read here.
    requireRight(await this.checks.rule(text, id));
    const read = await this.reading.read(text, id);
    requireRight(read);
    return read;
  }

  /**
   * Changes a rule's text, which makes a version, or switches a version on or the rule off.
   * @throws Failure 404, 409 when someone else changed it meanwhile or it was not replayed, 422 for a text with a mistake
   */
  async change(
    id: string,
    change: { text?: string; why?: string; state?: 'on' | 'off'; version?: number },
    author: string,
  ): Promise<RuleWire> {
    const { text, why = '', state, version } = change;
    const read = text === undefined ? null : await this.requireReadable(text, id);
    // Proved before the transaction begins, which may hold no second connection; it is the same text, or nothing changes.
    const proved = state === 'on' ? (text ?? (await this.textOf(id))) : null;
    if (proved !== null) await this.requireProved(proved, id);
    await transaction(this.pool, async (client) => {
      const { rows } = await client.query<{ version: number; text: string }>(HOLD_RULE, [id]);
      const before = rows[0];
      if (before === undefined) throw notFound('rule of this id');
      if (version !== undefined && state !== 'off' && version !== before.version)
        throw changedMeanwhile(before.version);
      let newest = before;
      if (read !== null && text !== undefined && text !== before.text) {
        newest = { version: before.version + 1, text };
        await keepVersion(client, id, newest, headOf(read, text), author, why);
      }
      if (proved !== null && newest.text !== proved) throw changedMeanwhile(newest.version);
      if (state !== undefined)
        await client.query(SWITCH_RULE, [id, state, state === 'on' ? newest.version : null]);
      const said = [
        ...(newest === before ? [] : [`kept version ${newest.version}${why === '' ? '' : `: ${why}`}`]),
        ...(state === undefined
          ? []
          : [state === 'on' ? `switched version ${newest.version} on` : 'switched it off']),
      ];
      if (said.length > 0) await addChange(client, 'rule', id, said.join(', '), author);
      await bumpConfig(client, 'rules');
    });
    return this.one(id);
  }

  /** The newest text of a rule. @throws Failure 404 */
  private async textOf(id: string): Promise<string> {
    const { rows } = await this.pool.query<{ text: string }>(TEXT_OF_RULE, [id]);
    if (rows[0] === undefined) throw notFound('rule of this id');
    return rows[0].text;
  }

  /** A rule goes on only after its replay was looked at, and its tests hold. @throws Failure 409, 422 */
  private async requireProved(text: string, id: string): Promise<void> {
    const check = await this.check(text, id);
    requireRight(check);
    const failed = check.tests.filter(({ passed }) => !passed);
    if (failed[0] !== undefined)
      throw new Failure(
        'test-failed',
        `The test "${failed[0].name}" fails: ${failed[0].said}, but it must ${failed[0].must === 'match' ? 'match' : 'pass it over'}. Put the rule or the test right.`,
      );
    if (check.replayed === null)
      throw new Failure(
        'not-replayed',
        'This version was never replayed. Replay it, look at what it would have said, and switch it on then.',
      );
  }

  /** Removes a rule that never told anything. @throws Failure 404, 409 */
  async remove(id: string): Promise<void> {
    await transaction(this.pool, async (client) => {
      const { rows } = await client.query<{ state: string; title: string; told: boolean }>(
        HOLD_RULE_WITH_ALERTS,
        [id],
      );
      if (rows[0] === undefined) throw notFound('rule of this id');
      if (rows[0].state === 'on')
        throw new Failure('rule-is-on', 'This rule is on. Switch it off before you remove it.');
      if (rows[0].told)
        throw new Failure(
          'rule-has-alerts',
          'Alerts of this rule are kept, and would go with it. Leave it switched off instead.',
        );
      await client.query(REMOVE_RULE, [id]);
      await addChange(client, 'rule', id, `removed "${rows[0].title}"`);
      await bumpConfig(client, 'rules');
    });
  }
}

/** Writes a rule and its first version down, as a draft. @returns its id */
export async function insertRule(
  client: PoolClient,
  head: TextHead,
  text: string,
  author: string,
  why: string,
  file: string | null = null,
): Promise<string> {
  const { rows } = await client.query<{ id: string }>(ADD_RULE, [
    head.title,
    head.level,
    head.type,
    head.onMatch,
    head.owner,
    head.tags,
    text,
    file,
  ]);
  const id = rows[0]?.id ?? '';
  await client.query(ADD_FIRST_VERSION, [id, text, author, why]);
  await addChange(client, 'rule', id, `added "${head.title}"${why === '' ? '' : `: ${why}`}`, author);
  await bumpConfig(client, 'rules');
  return id;
}

/** Writes a new version of a rule down. */
export async function keepVersion(
  client: PoolClient,
  id: string,
  { version, text }: { readonly version: number; readonly text: string },
  head: TextHead,
  author: string,
  why: string,
): Promise<void> {
  await client.query(CHANGE_RULE, [
    id,
    head.title,
    head.level,
    head.type,
    head.onMatch,
    head.owner,
    head.tags,
    text,
    version,
  ]);
  await client.query(ADD_VERSION, [id, version, text, author, why]);
  await bumpConfig(client, 'rules');
}
