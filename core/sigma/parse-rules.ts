import { isMap, isNode, LineCounter, parseAllDocuments, type Document, type Node } from 'yaml';
import { isJsonObject, type Json, type JsonObject } from '../base/json.js';
import { parseDuration } from '../base/instant.js';
import { nearestWord } from '../base/text-distance.js';
import { isSeverity, severities, type Severity } from '../events/kinds.js';
import { jsonToText } from '../text/json-text.js';
import { parseDetectionCondition } from './condition.js';
import { fieldsOf, readIdentifier, type Refuse } from './detection.js';
import type { CorrelationRule, CountSign, DetectionRule, LogSource, Predicate, Rule } from './predicate.js';
import { SigmaError } from './sigma-error.js';

const UUID = /^[0-9a-f]{8}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{12}$/i;
const STATUSES = ['stable', 'test', 'experimental', 'deprecated', 'unsupported'];
const COUNT_SIGNS = ['gt', 'gte', 'lt', 'lte', 'eq', 'neq'] as const;
const LOGSOURCE_PARTS = ['category', 'product', 'service'] as const;

/** Aliases may repeat parts of a document only so far; more is an attack on memory. */
const MOST_ALIASES = 20;
const LONGEST_TEXT = 500_000;

type Path = readonly (string | number)[];

/** A value of a document as messages quote it. */
const shown = (value: Json | undefined): string => jsonToText(value ?? null) ?? '';

/**
 * Reads a YAML text of one or more rule documents (open Sigma format, specification 2.1).
 * @returns the rules, in the order of the documents
 * @throws SigmaError for the first mistake, with its line
 */
export function parseRules(text: string): Rule[] {
  if (text.length > LONGEST_TEXT)
    throw new SigmaError(1, `the text is longer than ${LONGEST_TEXT.toLocaleString('en')} signs`);
  const lineCounter = new LineCounter();
  const documents = parseAllDocuments(text, { lineCounter, uniqueKeys: true, version: '1.2' });
  if (!Array.isArray(documents) || documents.length === 0) throw new SigmaError(1, 'the text holds no rule');
  const raw = documents
    .filter((document) => document.contents !== null || document.errors.length > 0)
    .map((document) => openDocument(document, lineCounter));
  if (raw.length === 0) throw new SigmaError(1, 'the text holds no rule');
  const rules = raw.map((document) => readDocument(document, raw));
  requireDistinct(raw);
  requireNoCircle(rules);
  return rules;
}

interface RawDocument {
  readonly value: JsonObject;
  readonly line: number;
  readonly refuse: Refuse;
}

function openDocument(document: Document, lineCounter: LineCounter): RawDocument {
  const lineAt = (offset: number): number => lineCounter.linePos(offset).line;
  const [broken] = document.errors;
  if (broken !== undefined)
    throw new SigmaError(
      lineAt(broken.pos[0]),
      `broken YAML: ${(broken.message.split('\n')[0] ?? '').replace(/ at line \d+, column \d+:?$/, '')}`,
    );
  const contents = document.contents;
  const line = contents?.range ? lineAt(contents.range[0]) : 1;
  if (!isMap(contents)) throw new SigmaError(line, 'a rule is a map of keys such as title and detection');
  let value: Json;
  try {
    value = document.toJS({ maxAliasCount: MOST_ALIASES }) as Json;
  } catch {
    throw new SigmaError(line, 'aliases expand too far');
  }
  const refuse: Refuse = (path, message) => {
    throw new SigmaError(lineOf(contents, path, lineAt) ?? line, message);
  };
  if (!isJsonObject(value)) throw new SigmaError(line, 'a rule is a map of keys such as title and detection');
  return { value, line, refuse };
}

/** The line of the deepest part of a path that the document has. */
function lineOf(contents: Node, path: Path, lineAt: (offset: number) => number): number | undefined {
  let node: unknown = contents;
  let line: number | undefined;
  for (const part of path) {
    if (isMap(node)) {
      const pair = node.items.find(
        (item) => isNode(item.key) && String((item.key as { value?: unknown }).value) === String(part),
      );
      if (pair === undefined) break;
      if (isNode(pair.key) && pair.key.range) line = lineAt(pair.key.range[0]);
      node = pair.value;
    } else {
      const items = (node as { items?: unknown[] } | null)?.items;
      node = typeof part === 'number' ? items?.[part] : undefined;
      if (isNode(node) && node.range) line = lineAt(node.range[0]);
    }
  }
  return line;
}

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

function readDocument(document: RawDocument, all: readonly RawDocument[]): Rule {
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
    line: document.line,
  };
  if (value['correlation'] !== undefined) return readCorrelation(document, head, all);
  if (value['detection'] === undefined) refuse([], 'a rule needs "detection" or "correlation"');
  return readDetection(document, head);
}

function readLevel({ value, refuse }: RawDocument): Severity {
  const level = value['level'] ?? 'medium';
  if (typeof level !== 'string' || !isSeverity(level))
    return refuse(['level'], `"${shown(level)}" is no level: use ${severities.join(', ')}`);
  return level;
}

type Head = Pick<Rule, 'title' | 'id' | 'name' | 'level' | 'description' | 'line'>;

function readDetection({ value, refuse }: RawDocument, head: Head): DetectionRule {
  const detection = value['detection'];
  if (!isJsonObject(detection))
    return refuse(['detection'], '"detection" is a map of named identifiers and a condition');
  const written = detection['condition'];
  const conditions = Array.isArray(written) ? (written as readonly Json[]) : [written];
  const identifiers = new Map<string, Predicate>();
  for (const [name, content] of Object.entries(detection)) {
    if (name !== 'condition') identifiers.set(name, readIdentifier(content, ['detection', name], refuse));
  }
  if (identifiers.size === 0) refuse(['detection'], '"detection" names nothing to look for');
  const parts = conditions.map((condition): Predicate => {
    if (typeof condition !== 'string')
      return refuse(
        ['detection', 'condition'],
        '"condition" is missing: it says how the identifiers combine',
      );
    try {
      return parseDetectionCondition(condition, identifiers);
    } catch (error) {
      return refuse(['detection', 'condition'], error instanceof Error ? error.message : String(error));
    }
  });
  const [only] = parts;
  const predicate: Predicate = parts.length === 1 && only !== undefined ? only : { op: 'or', parts };
  return {
    ...head,
    type: 'detection',
    logsource: readLogSource(value['logsource'], refuse),
    predicate,
    fields: fieldsOf(predicate),
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

function readCorrelation(document: RawDocument, head: Head, all: readonly RawDocument[]): CorrelationRule {
  const { refuse } = document;
  const correlation = document.value['correlation'];
  const at = (key: string): Path => ['correlation', key];
  if (!isJsonObject(correlation))
    return refuse(['correlation'], '"correlation" is a map with type, rules, timespan and condition');
  const type = correlation['type'];
  if (type !== 'event_count')
    return refuse(at('type'), `"${shown(type)}" is no type of correlation that can be run: use event_count`);
  const written = correlation['rules'];
  const names = Array.isArray(written)
    ? (written as readonly Json[])
    : written === undefined
      ? []
      : [written];
  if (names.length === 0) refuse(at('rules'), '"rules" is missing: name the rules to count, by id or name');
  const refers = names.map((name) => findRule(shown(name), all, document, at('rules')));
  const groups = correlation['group-by'] ?? [];
  const groupBy = (Array.isArray(groups) ? (groups as readonly Json[]) : [groups]).map((field) =>
    typeof field === 'string' ? field : refuse(at('group-by'), '"group-by" is a list of fields'),
  );
  const timespan = parseDuration(shown(correlation['timespan']));
  if (timespan === null || timespan === 0 || /w$/i.test(shown(correlation['timespan'])))
    return refuse(at('timespan'), `"timespan" is a number with s, m, h or d, such as 15m`);
  return {
    ...head,
    type: 'correlation',
    correlation: 'event_count',
    refers,
    groupBy,
    timespan,
    condition: readCounts(correlation['condition'], refuse),
    generate: correlation['generate'] === true,
  };
}

function findRule(name: string, all: readonly RawDocument[], own: RawDocument, path: Path): number {
  const found = all.findIndex(({ value }) => value['name'] === name || value['id'] === name);
  if (found < 0) {
    const known = all
      .flatMap(({ value }) => [value['name'], value['id']])
      .filter((word): word is string => typeof word === 'string');
    const nearest = nearestWord(name, known);
    own.refuse(
      path,
      `no rule in this text is called "${name}"${nearest === undefined ? '' : `. Did you mean "${nearest}"?`}`,
    );
  }
  return found;
}

function readCounts(value: Json | undefined, refuse: Refuse): CorrelationRule['condition'] {
  const path = ['correlation', 'condition'];
  if (!isJsonObject(value)) return refuse(path, '"condition" is missing: give a count, such as gte: 6');
  const counts = Object.entries(value).map(([sign, count]) => {
    if (!(COUNT_SIGNS as readonly string[]).includes(sign))
      refuse([...path, sign], `"${sign}" compares nothing: use ${COUNT_SIGNS.join(', ')}`);
    if (typeof count !== 'number' || !Number.isFinite(count))
      return refuse([...path, sign], `"${sign}" needs a number`);
    return { sign: sign as CountSign, count };
  });
  if (counts.length === 0) refuse(path, '"condition" is empty: give a count, such as gte: 6');
  return counts;
}

function requireDistinct(documents: readonly RawDocument[]): void {
  for (const key of ['id', 'name']) {
    const seen = new Set<string>();
    for (const { value, refuse } of documents) {
      const word = value[key];
      if (typeof word !== 'string') continue;
      if (seen.has(word.toLowerCase())) refuse([key], `the ${key} "${word}" stands twice`);
      seen.add(word.toLowerCase());
    }
  }
}

function requireNoCircle(rules: readonly Rule[]): void {
  const reaches = (from: number, to: number, seen: Set<number>): boolean => {
    const rule = rules[from];
    if (rule?.type !== 'correlation' || seen.has(from)) return false;
    seen.add(from);
    return rule.refers.some((next) => next === to || reaches(next, to, seen));
  };
  rules.forEach((rule, i) => {
    if (reaches(i, i, new Set()))
      throw new SigmaError(rule.line, 'this correlation rests on itself, in a circle');
    if (rule.type === 'correlation' && rule.refers.some((next) => rules[next]?.type === 'correlation')) {
      throw new SigmaError(rule.line, 'a correlation can count detection rules only');
    }
  });
}
