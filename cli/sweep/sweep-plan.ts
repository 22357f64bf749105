import { isJsonObject, type Json, type JsonObject } from '../../core/base/json.js';
import type { Instant } from '../../core/base/instant.js';
import { kindLogSources, shippedLogSources } from '../../core/detect/shipped-log-sources.js';
import { eventOfRecord, Sweeper, type SweepHit } from '../../core/detect/sweep.js';
import { anyTime } from '../../core/predicate/time-part.js';
import type { Event } from '../../core/events/event.js';
import { formats } from '../../core/formats/index.js';
import type { FormatOptions } from '../../core/formats/format.js';
import { compileRecipe, type CompiledRecipe } from '../../core/recipes/apply.js';
import type { Recipe } from '../../core/recipes/recipe-schema.js';
import { shippedRecipes } from '../../core/recipes/shipped/index.js';
import { type Fact, factOf } from '../../core/triage/facts.js';
import { severities, type Severity } from '../../core/events/kinds.js';
import { loadPack, type RuleFile, type RulePack } from '../../core/sigma/pack.js';
import type { LogSource, Rule } from '../../core/sigma/rule-model.js';
import type { Predicate } from '../../core/predicate/predicate.js';
import { plainSettings } from '../../core/sigma/settings.js';
import { sigmaPattern } from '../../core/sigma/text-pattern.js';
import { escapeWildcards } from '../../core/text/wildcard.js';
import { parseRegex } from '../../core/text/regex-syntax.js';
import type { FormatName } from '../../core/wire/format-names.js';
import type { Search } from './sweep-arguments.js';

/** What every thread of a sweep is told: texts, so that it can be handed over. */
export interface SweepPlan {
  readonly ruleFiles: readonly RuleFile[];
  readonly searches: readonly Search[];
  readonly logsource: LogSource | 'any' | undefined;
  readonly level: Severity | undefined;
  /** A recipe as JSON. */
  readonly recipe: string | null;
  /** Whether each file is read by the shipped recipe that fits it, where one does. */
  readonly recognise: boolean;
  /** Whether studies follow, which need facts of the records. */
  readonly facts: boolean;
}

/** How the records of a file are written. */
export interface FileShape {
  readonly format: FormatName;
  readonly options: FormatOptions;
  /** The shipped recipe that fits; null where none does, or none was looked for. */
  readonly recipe: string | null;
}

/** A match, its line counted within the piece it was found in. */
export interface FoundMatch {
  readonly rule: number;
  readonly line: number;
  readonly time: Instant | null;
  /** The record as JSON. */
  readonly event: string;
}

/** What a piece of records gave. */
export interface SweptPiece {
  readonly records: number;
  readonly unreadable: number;
  readonly matches: readonly FoundMatch[];
  readonly hits: readonly (SweepHit & { readonly line: number })[];
  readonly facts: readonly FoundFact[];
  /** Rules that were asked of a record for the first time in this thread, by their positions. */
  readonly asked: readonly number[];
}

/** What studies look at of a record, with the rules it matched. */
export type FoundFact = Fact & { readonly line: number; readonly rules: readonly number[] };

/** Where records without a recipe say when they happened. */
const TIME_FIELDS = ['time', 'timestamp', '@timestamp', 'ts'] as const;

function predicateOf({ how, what }: Search): Predicate {
  switch (how) {
    case 'find': {
      const literal = escapeWildcards(what.toLowerCase());
      return {
        op: 'keyword',
        record: true,
        test: { test: 'text', pattern: sigmaPattern(literal, true, true), cased: false },
      };
    }
    case 'matching':
      return { op: 'keyword', record: true, test: { test: 'regex', regex: parseRegex(what) } };
    case 'code':
      return {
        op: 'or',
        parts: ['EventID', 'event_code', 'code', 'eventCode'].map((field) => ({
          op: 'field',
          field,
          test: { test: 'text', pattern: sigmaPattern(what.toLowerCase(), false, false), cased: false },
        })),
      };
  }
}

/** Rules of the files, and those that searches stand for. @throws RegexError for a pattern that cannot be read */
export function packOf({
  ruleFiles,
  searches,
}: Pick<SweepPlan, 'ruleFiles' | 'searches'>): Pick<RulePack, 'rules' | 'hunts' | 'refused'> {
  const { rules, hunts, refused } = loadPack(ruleFiles);
  const made = searches.map((search): Rule => ({
    type: 'detection',
    title: `${search.how}: ${search.what}`,
    id: null,
    name: null,
    level: 'informational',
    description: null,
    tags: [],
    falsePositives: [],
    settings: plainSettings,
    line: 1,
    logsource: {},
    predicate: predicateOf(search),
    fields: [],
  }));
  return { rules: [...rules, ...made], hunts, refused };
}

/** Whether matches of a level are told. */
export const reaches = (level: Severity, least: Severity | undefined): boolean =>
  least === undefined || severities.indexOf(level) >= severities.indexOf(least);

/** A record as rules see it; null where it cannot be read, and `left out` where it is none. */
export type Read =
  { readonly event: Event; readonly time: Instant | null; readonly shown: string } | null | 'left out';

/** What is known of log sources where no table says more. */
const LOG_SOURCES = [...shippedLogSources, ...kindLogSources];

/** Records of one recipe, or of none: how they are read, and the rules that are asked of them. */
interface Way {
  readonly recipe: CompiledRecipe | null;
  readonly sweeper: Sweeper;
}

/** A sweep made ready in one thread. */
export class PreparedSweep {
  readonly rules: readonly Rule[];
  private readonly ways = new Map<string | null, Way>();
  private readonly named: Recipe | null;

  constructor(private readonly plan: SweepPlan) {
    this.rules = packOf(plan).rules;
    this.named = plan.recipe === null ? null : (JSON.parse(plan.recipe) as Recipe);
  }

  /** How records of a shape are read and swept. */
  private wayOf({ recipe: shipped }: FileShape): Way {
    const known = this.ways.get(shipped);
    if (known !== undefined) return known;
    const recipe = this.named ?? (shipped === null ? null : (shippedRecipes[shipped] ?? null));
    const way: Way = {
      recipe: recipe === null ? null : compileRecipe(recipe),
      sweeper: new Sweeper(this.rules, this.plan.logsource ?? recipe?.logsource ?? {}, LOG_SOURCES),
    };
    this.ways.set(shipped, way);
    return way;
  }

  /** The rules that are asked of records of this shape. */
  sweeperOf(shape: FileShape): Sweeper {
    return this.wayOf(shape).sweeper;
  }

  /** Sweeps the records of a piece. */
  sweep(records: readonly string[], shape: FileShape): SweptPiece {
    const { sweeper } = this.wayOf(shape);
    const read = this.reader(shape);
    const matches: FoundMatch[] = [];
    const hits: (SweepHit & { line: number })[] = [];
    const facts: FoundFact[] = [];
    let unreadable = 0;
    let line = 0;
    for (const record of records) {
      const found = read(record);
      // A heading names the columns and is no record.
      if (found === 'left out') continue;
      line++;
      if (found === null) {
        unreadable++;
        continue;
      }
      const { matched, hits: own } = sweeper.sweep(found.event, found.time);
      for (const rule of matched)
        if (reaches(this.rules[rule]?.level ?? 'low', this.plan.level))
          matches.push({ rule, line, time: found.time, event: found.shown });
      for (const hit of own) hits.push({ ...hit, line });
      if (!this.plan.facts) continue;
      const fact = factOf(found.event, matched.length > 0);
      if (fact !== null) facts.push({ ...fact, line, rules: matched });
    }
    return { records: line, unreadable, matches, hits, facts, asked: sweeper.newlyAsked() };
  }

  /** Reads the records of a file of this shape. */
  reader(shape: FileShape): (record: string) => Read {
    const { recipe } = this.wayOf(shape);
    if (recipe !== null)
      return (record) => {
        const outcome = recipe.apply(record, Date.now() * 1000);
        if (outcome.became === 'discarded') return 'left out';
        if (outcome.became === 'set-aside') {
          if (this.named !== null) return null;
          // The recipe is a guess: what it cannot place is still asked as it stands.
          const reading = recipe.read(record);
          return reading.fields === null
            ? reading.code === 'heading'
              ? 'left out'
              : null
            : asRead(reading.fields, record, JSON.stringify(reading.fields));
        }
        const event = outcome.draft as unknown as Event;
        return { event, time: event.time, shown: JSON.stringify(event.original) };
      };
    if (shape.format === 'json') return readJson;
    const readRecord = formats[shape.format].reader(shape.options);
    return (record) => {
      const reading = readRecord(record);
      if (reading.fields !== null) return asRead(reading.fields, record, JSON.stringify(reading.fields));
      return reading.code === 'heading' ? 'left out' : null;
    };
  }
}

function timeOf(fields: JsonObject): Instant | null {
  for (const name of TIME_FIELDS) {
    const value = fields[name];
    if (value !== undefined && value !== null) return anyTime(value);
  }
  return null;
}

const asRead = (fields: JsonObject, raw: string, shown: string): Read => ({
  event: eventOfRecord(fields, raw),
  time: timeOf(fields),
  shown,
});

function readJson(record: string): Read {
  let value: Json;
  try {
    value = JSON.parse(record) as Json;
  } catch {
    return null;
  }
  return isJsonObject(value) ? asRead(value, record, record.trim()) : null;
}
