import type { Pool } from 'pg';
import { entriesOf, type LogSourceEntry, type RecordsOf, variantsOf } from '../../core/detect/log-sources.js';
import { partOfPack } from '../../core/detect/part-of-pack.js';
import type { RawDocument } from '../../core/sigma/open-documents.js';
import { loadPack, type RulePack } from '../../core/sigma/pack.js';
import type { DetectionRule, HuntRule, Rule } from '../../core/sigma/rule-model.js';
import { SigmaError } from '../../core/sigma/sigma-error.js';
import type { Environment } from '../../core/wick/in-memory/environment.js';
import type { ListRef } from '../../core/wick/plan.js';
import { configVersions } from '../db/config-versions.js';
import { loadLookups } from '../lists/lookups.js';
import { logSourceEntries, recordsOfSources } from './log-sources-sql.js';
import { ruleLists } from './rule-lists.js';
import { LISTS_WITH_COLUMNS, type RunningText, runningTexts } from './sql.js';
import { TextCache } from './text-cache.js';

/** A rule text read among the others that concern it. */
export interface ReadText {
  readonly pack: RulePack;
  /** The text itself is the first; what it rests on and what filters it follow. */
  readonly homes: readonly { readonly id: string; readonly version: number; readonly live: boolean }[];
  /** The rules of the text itself, by position in the pack. */
  readonly own: readonly number[];
  readonly hunts: readonly HuntRule[];
  /** The first mistake of the text; null where it is right. */
  readonly mistake: { readonly line: number; readonly message: string } | null;
  readonly entries: readonly LogSourceEntry[];
  readonly sources: readonly RecordsOf[];
}

/** All rules there are. */
interface AllRules {
  readonly running: readonly RunningText[];
  readonly pack: RulePack;
  readonly entries: readonly LogSourceEntry[];
}

const OWN = 'the text';

/** What documents are called by, and whether one is a filter. */
function namesIn(documents: readonly (RawDocument | SigmaError)[]): { names: string[]; filters: boolean } {
  const open = documents.filter((one): one is RawDocument => !(one instanceof SigmaError));
  return {
    names: open.flatMap(({ value }) =>
      [value['id'], value['name']].filter((word): word is string => typeof word === 'string'),
    ),
    filters: open.some(({ value }) => value['filter'] !== undefined),
  };
}

/** Lists as hunts know them, and what stands in them. */
export async function huntLists(
  pool: Pool,
  texts: string,
): Promise<{ lists: ListRef[]; environment: Environment }> {
  const { rows: lists } = await pool.query<ListRef>(LISTS_WITH_COLUMNS);
  const lowered = texts.toLowerCase();
  const { lists: lookups } = await loadLookups(
    pool,
    lists.map(({ name }) => name).filter((name) => lowered.includes(name.toLowerCase())),
  );
  return { lists, environment: { rowsOf: ({ name }) => lookups.get(name) ?? (() => undefined) } };
}

/** Reads rule texts against the lists, log sources and other rules there are. */
export class RuleReading {
  private readonly texts = new TextCache();
  private known: { readonly version: string; readonly all: AllRules } | undefined;

  constructor(private readonly pool: Pool) {}

  /**
   * Reads a text as if it were switched on.
   * @param id the rule whose text it is to become
   */
  async read(text: string, id: string | null): Promise<ReadText> {
    const [running, entries, sources] = await Promise.all([
      runningTexts(this.pool),
      logSourceEntries(this.pool),
      recordsOfSources(this.pool),
    ]);
    const others = this.concerning(
      text,
      running.filter((one) => one.id !== id),
    );
    const files = [
      { name: OWN, text },
      ...others.map((other) => ({ name: `rule ${other.id}`, text: other.text, standby: !other.live })),
    ];
    const pack = loadPack(
      files,
      await ruleLists(
        this.pool,
        files.map((file) => file.text),
      ),
      (one) => this.texts.open(one),
    );
    const own = pack.origins.flatMap(({ file }, i) => (file === 0 ? [i] : []));
    const hunts = pack.hunts.flatMap(({ hunt, origin }) => (origin.file === 0 ? [hunt] : []));
    const [first] = pack.refused.filter(({ file }) => file === OWN).sort((a, b) => a.line - b.line);
    const nothing = own.length === 0 && hunts.length === 0 && first === undefined && !this.hasFilter(text);
    return {
      pack,
      homes: [
        { id: id ?? '', version: 0, live: true },
        ...others.map((other) => ({ id: other.id, version: other.version, live: false })),
      ],
      own,
      hunts,
      mistake:
        first !== undefined
          ? { line: first.line, message: first.reason }
          : nothing
            ? { line: 1, message: 'the text holds no rule' }
            : null,
      entries,
      sources,
    };
  }

  private hasFilter(text: string): boolean {
    return namesIn(this.texts.open(text)).filters;
  }

  /** The texts that one may name, directly or by others, and those that filter. */
  private concerning(text: string, others: readonly RunningText[]): RunningText[] {
    const left = new Map(others.map((other) => [other, namesIn(this.texts.open(other.text))]));
    const found: RunningText[] = [];
    const look = [text];
    for (let one = look.pop(); one !== undefined; one = look.pop())
      for (const [other, { names, filters }] of left) {
        if (!names.some((name) => one?.includes(name)) && !(filters && other.live)) continue;
        left.delete(other);
        found.push(other);
        look.push(other.text);
      }
    return found;
  }

  /** All rules there are, as they run; read anew whenever rules, lists or sources have changed. */
  async all(): Promise<AllRules & { readonly sources: readonly RecordsOf[] }> {
    const { rules, sources: others } = await configVersions(this.pool);
    const version = `${rules} ${others}`;
    if (this.known?.version !== version) this.known = { version, all: await this.readAll() };
    return { ...this.known.all, sources: await recordsOfSources(this.pool) };
  }

  private async readAll(): Promise<AllRules> {
    const [running, entries] = await Promise.all([runningTexts(this.pool), logSourceEntries(this.pool)]);
    const pack = loadPack(
      running.map(({ id: name, text, live }) => ({ name, text, standby: !live })),
      await ruleLists(
        this.pool,
        running.map(({ text }) => text),
      ),
      (text) => this.texts.open(text),
    );
    return { running, pack, entries };
  }
}

/** The detection rules that a rule comes down to. */
export const detectionsUnder = (rules: readonly Rule[], at: number): DetectionRule[] =>
  partOfPack(rules, at).filter((rule): rule is DetectionRule => rule.type === 'detection');

/** The sources whose records a detection rule is asked of. */
export function sourcesOf(
  rule: DetectionRule,
  sources: readonly RecordsOf[],
  entries: readonly LogSourceEntry[],
): string[] {
  const ways = variantsOf(rule, entries);
  return sources
    .filter((source) =>
      ways.some(
        (way) =>
          way.appliesTo(source) &&
          (way.kinds === null ||
            source.kinds === undefined ||
            way.kinds.some((kind) => source.kinds?.includes(kind))),
      ),
    )
    .map(({ source }) => source);
}

/** What a rule asks for that no source gives, in words; null where each of its parts has a source. */
export function absentOf(
  rules: readonly DetectionRule[],
  sources: readonly RecordsOf[],
  entries: readonly LogSourceEntry[],
): string | null {
  const missing = rules.find((rule) => sourcesOf(rule, sources, entries).length === 0);
  if (missing === undefined) return null;
  const asked = Object.entries(missing.logsource).map(([part, word]) => `${part} ${String(word)}`);
  const known = entriesOf(missing, entries).length > 0;
  return `no source gives ${asked.join(', ')}${known ? ' of the kind that is meant' : ', and the table of log sources does not say what it means'}`;
}
