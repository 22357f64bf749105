import { parseDuration } from '../base/instant.js';
import { isJsonObject, type Json, type JsonObject } from '../base/json.js';
import { nearestWord } from '../base/text-distance.js';
import { isSeverity, severities, type Severity } from '../events/kinds.js';
import { jsonToText } from '../text/json-text.js';
import { parseDetectionCondition } from './condition.js';
import { fieldsOf, readIdentifier, type Lists, type Refuse } from './detection.js';
import type { RawDocument } from './open-documents.js';
import { readHuntRule, readSettings } from './settings.js';
import {
  correlationTypes,
  type CorrelationRule,
  type CorrelationType,
  type CountSign,
  type DetectionRule,
  type FilterRule,
  type GroupField,
  type Head,
  type HuntRule,
  type LogSource,
  type Rule,
} from './rule-model.js';
import { type Predicate } from '../predicate/predicate.js';

const UUID = /^[0-9a-f]{8}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{12}$/i;
const STATUSES = ['stable', 'test', 'experimental', 'deprecated', 'unsupported'];
const COUNT_SIGNS = ['gt', 'gte', 'lt', 'lte', 'eq', 'neq'] as const;
const LOGSOURCE_PARTS = ['category', 'product', 'service'] as const;

type Path = readonly (string | number)[];

/** What a document is read against. */
export interface ReadContext {
  /** The position of a rule by its id or name; -1 where there is none. */
  readonly resolve: (name: string) => number;
  /** The ids and names there are, to tell the nearest. */
  readonly known: () => readonly string[];
  readonly lists: Lists;
}

/** A value of a document as messages quote it. */
const shown = (value: Json | undefined): string => jsonToText(value ?? null) ?? '';

function requireText(document: RawDocument, key: string): string {
  const value = document.value[key];
  if (typeof value !== 'string' || value.trim() === '')
    document.refuse([key], `"${key}" is missing: every rule needs it`);
  return value;
}

const optionalText = (document: RawDocument, key: string): string | null => {
  const value = document.value[key];
  return typeof value === 'string' ? value : null;
};

/** A list of texts, or one text; what is none is left out, as it is kept in the text. */
const textsUnder = ({ value }: RawDocument, key: string): string[] =>
  [value[key] ?? []].flat().filter((one): one is string => typeof one === 'string');

/**
 * Reads one document.
 * @param resolve finds a rule that it refers to, by id or name; -1 where there is none
 * @throws SigmaError with the line
 */
export function readDocument(document: RawDocument, context: ReadContext): Rule | FilterRule | HuntRule {
  const { value, refuse } = document;
  const title = requireText(document, 'title');
  const id = optionalText(document, 'id');
  if (value['id'] !== undefined && (id === null || !UUID.test(id)))
    refuse(['id'], `"${shown(value['id'])}" is no UUID`);
  const status = value['status'];
  if (status !== undefined && !STATUSES.includes(shown(status)))
    refuse(['status'], `"${shown(status)}" is no status: use ${STATUSES.join(', ')}`);
  const head = {
    title,
    id,
    name: optionalText(document, 'name'),
    level: readLevel(document),
    description: optionalText(document, 'description'),
    tags: textsUnder(document, 'tags'),
    falsePositives: textsUnder(document, 'falsepositives'),
    settings: readSettings(document),
    line: document.line,
  };
  if (value['correlation'] !== undefined) return readCorrelation(document, head, context);
  if (value['filter'] !== undefined) return readFilter(document, head, context);
  if (value['hunt'] !== undefined) return readHuntRule(document, head);
  if (value['detection'] === undefined)
    refuse([], 'a rule needs "detection", "correlation", "filter" or "hunt"');
  return readDetection(document, head, context);
}

function readLevel({ value, refuse }: RawDocument): Severity {
  const level = value['level'] ?? 'medium';
  if (typeof level !== 'string' || !isSeverity(level))
    return refuse(['level'], `"${shown(level)}" is no level: use ${severities.join(', ')}`);
  return level;
}

/** The identifiers of a detection or filter and the condition that combines them. @param key where they stand */
function readIdentified(
  { refuse }: RawDocument,
  content: Json | undefined,
  key: 'detection' | 'filter',
  { lists }: ReadContext,
): Predicate {
  if (!isJsonObject(content)) return refuse([key], `"${key}" is a map of named identifiers and a condition`);
  const written = content['condition'];
  const conditions = Array.isArray(written) ? (written as readonly Json[]) : [written];
  const identifiers = new Map<string, Predicate>();
  for (const [name, one] of Object.entries(content)) {
    if (name !== 'condition' && !(key === 'filter' && name === 'rules'))
      identifiers.set(name, readIdentifier(one, [key, name], { refuse, lists }));
  }
  if (identifiers.size === 0) refuse([key], `"${key}" names nothing to look for`);
  if (conditions.length === 0) refuse([key, 'condition'], '"condition" is empty');
  const parts = conditions.map((condition): Predicate => {
    if (typeof condition !== 'string')
      return refuse([key, 'condition'], '"condition" is missing: it says how the identifiers combine');
    try {
      return parseDetectionCondition(condition, identifiers);
    } catch (error) {
      return refuse([key, 'condition'], error instanceof Error ? error.message : String(error));
    }
  });
  const [only] = parts;
  return parts.length === 1 && only !== undefined ? only : { op: 'or', parts };
}

function readDetection(document: RawDocument, head: Head, context: ReadContext): DetectionRule {
  const { value, refuse } = document;
  const predicate = readIdentified(document, value['detection'], 'detection', context);
  return {
    ...head,
    type: 'detection',
    logsource: readLogSource(value['logsource'], refuse),
    predicate,
    fields: fieldsOf(predicate),
  };
}

function readFilter(document: RawDocument, head: Head, context: ReadContext): FilterRule {
  const { value, refuse } = document;
  const filter = value['filter'];
  const predicate = readIdentified(document, filter, 'filter', context);
  const written = isJsonObject(filter) ? filter['rules'] : undefined;
  const names =
    written === undefined ? [] : Array.isArray(written) ? (written as readonly Json[]) : [written];
  if (names.length === 0)
    refuse(['filter', 'rules'], '"rules" is missing: name the rules that are filtered, by id or name');
  const { level: _, ...rest } = head;
  return {
    ...rest,
    type: 'filter',
    logsource: readLogSource(value['logsource'] ?? {}, refuse),
    refers: names.map((name) => findRule(shown(name), document, ['filter', 'rules'], context)),
    predicate,
  };
}

function readLogSource(value: Json | undefined, refuse: Refuse): LogSource {
  if (!isJsonObject(value))
    return refuse(
      value === undefined ? [] : ['logsource'],
      '"logsource" is missing: name a category, product or service, or give an empty map {}',
    );
  const found: Record<string, string> = {};
  for (const part of LOGSOURCE_PARTS) {
    const word = value[part];
    if (word === undefined || word === null) continue;
    if (typeof word !== 'string') refuse(['logsource', part], `"${part}" is a word`);
    found[part] = word.toLowerCase();
  }
  return found;
}

function readCorrelation(document: RawDocument, head: Head, context: ReadContext): CorrelationRule {
  const { refuse } = document;
  const correlation = document.value['correlation'];
  const at = (key: string): Path => ['correlation', key];
  if (!isJsonObject(correlation))
    return refuse(['correlation'], '"correlation" is a map with type, rules, timespan and condition');
  const type = correlationTypes.find((known) => known === correlation['type']);
  if (type === undefined)
    return refuse(
      at('type'),
      `"${shown(correlation['type'])}" is no type of correlation: use ${correlationTypes.join(', ')}`,
    );
  const written = correlation['rules'];
  const names =
    written === undefined ? [] : Array.isArray(written) ? (written as readonly Json[]) : [written];
  if (names.length === 0) refuse(at('rules'), '"rules" is missing: name the rules to count, by id or name');
  const refers = names.map((name) => findRule(shown(name), document, at('rules'), context));
  if (new Set(refers).size < refers.length) refuse(at('rules'), 'a rule is named twice');
  const timespan = /^\d+[smhd]$/.test(shown(correlation['timespan']))
    ? parseDuration(shown(correlation['timespan']))
    : null;
  if (timespan === null || timespan === 0)
    return refuse(at('timespan'), `"timespan" is a number with s, m, h or d, such as 15m`);
  const condition = readCounts(correlation['condition'], type, refuse);
  const generate = correlation['generate'] ?? false;
  if (typeof generate !== 'boolean') refuse(at('generate'), '"generate" is true or false');
  return {
    ...head,
    type: 'correlation',
    correlation: type,
    refers,
    groupBy: readGroups(correlation, names.map(shown), refers, refuse),
    timespan,
    ...condition,
    generate: generate === true,
  };
}

/** The fields that group matches, with what each is called in the matches of single rules. */
function readGroups(
  correlation: JsonObject,
  names: readonly string[],
  refers: readonly number[],
  refuse: Refuse,
): readonly GroupField[] {
  const groups = correlation['group-by'] ?? [];
  const fields = (Array.isArray(groups) ? (groups as readonly Json[]) : [groups]).map((field) =>
    typeof field === 'string' && field !== ''
      ? field
      : refuse(['correlation', 'group-by'], '"group-by" is a list of fields'),
  );
  const aliases = correlation['aliases'] ?? {};
  if (!isJsonObject(aliases))
    return refuse(['correlation', 'aliases'], '"aliases" is a map: alias, then rule: field');
  const perAlias = Object.entries(aliases).map(([alias, fieldsOfRules]) => {
    const path = ['correlation', 'aliases', alias];
    if (!isJsonObject(fieldsOfRules)) return refuse(path, `the alias "${alias}" is a map of rule: field`);
    const per = Object.entries(fieldsOfRules).map(([rule, field]): [number, string] => {
      const place = refers[names.indexOf(rule)];
      if (place === undefined)
        return refuse([...path, rule], `"${rule}" is none of the rules of this correlation`);
      if (typeof field !== 'string')
        return refuse([...path, rule], 'an alias stands for the name of a field');
      return [place, field];
    });
    return [alias, new Map(per)] as const;
  });
  const known = new Map(perAlias);
  return fields.map((name) => ({ name, per: known.get(name) ?? new Map<number, string>() }));
}

function findRule(name: string, own: RawDocument, path: Path, { resolve, known }: ReadContext): number {
  const found = resolve(name);
  if (found < 0) {
    const nearest = nearestWord(name, known());
    own.refuse(
      path,
      `no rule is called "${name}"${nearest === undefined ? '' : `. Did you mean "${nearest}"?`}`,
    );
  }
  return found;
}

function readCounts(
  value: Json | undefined,
  type: CorrelationType,
  refuse: Refuse,
): Pick<CorrelationRule, 'condition' | 'field' | 'percentile'> {
  const path = ['correlation', 'condition'];
  const temporal = type === 'temporal' || type === 'temporal_ordered';
  if (value === undefined && temporal) return { condition: [], field: null, percentile: 50 };
  if (!isJsonObject(value)) return refuse(path, '"condition" is missing: give a count, such as gte: 6');
  let field: string | null = null;
  let percentile = 50;
  const condition: { sign: CountSign; count: number }[] = [];
  for (const [sign, count] of Object.entries(value)) {
    if (sign === 'field') {
      if (typeof count !== 'string' || count === '')
        refuse([...path, sign], '"field" is the name of a field');
      else field = count;
      continue;
    }
    if (sign === 'percentile') {
      if (typeof count !== 'number' || count < 0 || count > 100)
        refuse([...path, sign], '"percentile" is a number from 0 to 100');
      else percentile = count;
      continue;
    }
    if (!(COUNT_SIGNS as readonly string[]).includes(sign))
      refuse([...path, sign], `"${sign}" compares nothing: use ${COUNT_SIGNS.join(', ')}`);
    if (typeof count !== 'number' || !Number.isFinite(count))
      refuse([...path, sign], `"${sign}" needs a number`);
    else condition.push({ sign: sign as CountSign, count });
  }
  if (condition.length === 0 && !temporal) refuse(path, '"condition" is empty: give a count, such as gte: 6');
  if (type.startsWith('value_') && field === null)
    refuse(path, `"${type}" needs "field" in its condition: the field whose values are reckoned with`);
  return { condition, field, percentile };
}
