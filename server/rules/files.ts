import type { Pool } from 'pg';
import { openDocuments } from '../../core/sigma/open-documents.js';
import { loadPack, type RuleFile, type RulePack } from '../../core/sigma/pack.js';
import { SigmaError } from '../../core/sigma/sigma-error.js';
import type { RuleImport } from '../../core/wire/rule-files.js';
import { checksHere } from '../checks/check-here.js';
import type { Checks } from '../checks/checks.js';
import { bumpConfig } from '../db/config-versions.js';
import { transaction } from '../db/transaction.js';
import { notFound } from '../failure.js';
import { logSourceEntries, recordsOfSources } from './log-sources-sql.js';
import { ruleLists } from './rule-lists.js';
import { headOf, insertRule, keepVersion } from './service.js';
import { FILE_OF_RULE, RULES_BY_FILE, SWITCH_FILES_ON, TEXTS_OF_RULES } from './sql.js';

/** A file name from a title: plain letters and digits. */
const slugOf = (title: string): string =>
  title
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, '-')
    .replace(/^-|-$/g, '')
    .slice(0, 80) || 'rule';

/** The ids and file name by which a rule that is there already is known again. */
function idsIn(text: string): string[] {
  return openDocuments(text).flatMap((document) => {
    const id = document instanceof SigmaError ? undefined : document.value['id'];
    return typeof id === 'string' ? [id.toLowerCase()] : [];
  });
}

/** Rules in and out as files. Texts are kept character by character, so that what goes out is what came in. */
export class RuleFiles {
  constructor(
    private readonly pool: Pool,
    private readonly checks: Checks = checksHere(pool, () => Date.now() * 1000, null),
  ) {}

  /**
   * Takes files in: each becomes a rule, as a draft, or a new version of the one that has its id or its file name. A
   * document that is broken is refused with its file, line and reason; the others go on.
   */
  async import(files: readonly RuleFile[], author: string): Promise<RuleImport> {
    await this.checks.rules(files);
    const { rows: known } = await this.pool.query<{
      id: string;
      file: string | null;
      text: string;
      version: number;
    }>(RULES_BY_FILE);
    const byId = new Map(known.flatMap((rule) => idsIn(rule.text).map((id) => [id, rule] as const)));
    const byFile = new Map(known.flatMap((rule) => (rule.file === null ? [] : [[rule.file, rule] as const])));
    const replaced = files.map(
      ({ name, text }) =>
        idsIn(text)
          .map((id) => byId.get(id))
          .find((rule) => rule !== undefined) ?? byFile.get(name),
    );
    // What is there already may be rested on, unless it is about to be replaced.
    const others = known.filter((rule) => !replaced.includes(rule));
    const pack = loadPack(
      [...files, ...others.map(({ id, text }) => ({ name: `rule ${id}`, text, standby: true }))],
      await ruleLists(
        this.pool,
        files.map(({ text }) => text),
      ),
    );
    const names = new Set(files.map(({ name }) => name));
    const refused = pack.refused.filter(({ file }) => names.has(file));
    const [entries, sources] = await Promise.all([logSourceEntries(this.pool), recordsOfSources(this.pool)]);
    const counts = { loaded: 0, added: 0, changed: 0, unchanged: 0 };
    await transaction(this.pool, async (client) => {
      for (const [at, { name, text }] of files.entries()) {
        const own = pack.origins.flatMap(({ file }, i) => (file === at ? [i] : []));
        const hunts = pack.hunts.flatMap(({ hunt, origin }) => (origin.file === at ? [hunt] : []));
        counts.loaded += own.length + hunts.length;
        if (own.length + hunts.length === 0 && !isFilterAlone(pack, name, text)) continue;
        const head = headOf({ pack, own, hunts, mistake: null, homes: [], entries, sources }, text);
        const before = replaced[at];
        if (before === undefined) {
          await insertRule(client, head, text, author, `imported from ${name}`, name);
          counts.added++;
        } else if (before.text === text) counts.unchanged++;
        else {
          await keepVersion(
            client,
            before.id,
            { version: before.version + 1, text },
            head,
            author,
            `imported from ${name}`,
          );
          counts.changed++;
        }
      }
    });
    return { ...counts, refused: [...refused] };
  }

  /**
   * Takes files in and switches them on at once, for rules that were proved before they were shipped.
   * @throws Error where one of them is refused
   */
  async ship(files: readonly RuleFile[], author: string): Promise<void> {
    const { refused } = await this.import(files, author);
    const [first] = refused;
    if (first !== undefined) throw new Error(`${first.file}, line ${first.line}: ${first.reason}`);
    await transaction(this.pool, async (client) => {
      await client.query(SWITCH_FILES_ON, [files.map(({ name }) => name)]);
      await bumpConfig(client, 'rules');
    });
  }

  /** All rules, each in its file. */
  async all(): Promise<RuleFile[]> {
    const { rows } = await this.pool.query<{ title: string; file: string | null; text: string }>(
      TEXTS_OF_RULES,
    );
    return rows.map(({ title, file, text }) => ({ name: file ?? `${slugOf(title)}.yml`, text }));
  }

  /** @throws Failure 404 */
  async one(id: string): Promise<RuleFile> {
    const { rows } = await this.pool.query<{ title: string; file: string | null; text: string }>(
      FILE_OF_RULE,
      [id],
    );
    if (rows[0] === undefined) throw notFound('rule of this id');
    const { title, file, text } = rows[0];
    return { name: file?.split('/').at(-1) ?? `${slugOf(title)}.yml`, text };
  }
}

/** A file that holds nothing but filters that could be read. */
const isFilterAlone = (pack: RulePack, name: string, text: string): boolean =>
  /^filter:/m.test(text) && !pack.refused.some(({ file }) => file === name);
