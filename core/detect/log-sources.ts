import { unreachable } from '../base/unreachable.js';
import type { Event } from '../events/event.js';
import type { DetectionRule, LogSource } from '../sigma/rule-model.js';
import type { Predicate, ValueTest } from '../predicate/predicate.js';
import { FieldMemory } from '../predicate/field-memory.js';
import { sigmaPattern } from '../sigma/text-pattern.js';
import { compilePredicate, type EventTest } from '../predicate/in-memory.js';

/** What a log source of the open format means here: which events it speaks of, and what it calls their fields. */
export interface LogSourceEntry {
  readonly logsource: LogSource;
  /** Kinds of events; none named, any. */
  readonly kinds: readonly string[];
  /** Sources by name; none named, any. */
  readonly sources: readonly string[];
  /** Our name, or one of the source's own fields, by the name that rules use. */
  readonly fields: Readonly<Record<string, string>>;
  /**
   * What the record itself must say, such as its channel: a field and the texts, `*` for any run of characters, one of
   * which it must be. Records of another product, by their recipe, are never meant.
   */
  readonly where?: Readonly<Record<string, readonly string[]>>;
}

/** What the records of a source are. */
export interface RecordsOf {
  readonly source: string;
  /** As its recipe says. */
  readonly logsource: LogSource;
  /** The kinds of events it gave of late; not known where it gave none. */
  readonly kinds?: readonly string[];
}

/** One way in which a rule applies: to what, and asking for which fields. */
export interface RuleVariant {
  /** What the rule asks, by the names of this way, and what a record must say of itself. */
  readonly predicate: Predicate;
  /** What the rule asks alone: the same object for ways that call its fields alike. */
  readonly asks: Predicate;
  /** Kinds it is asked of; null for any. */
  readonly kinds: readonly string[] | null;
  readonly appliesTo: (records: RecordsOf) => boolean;
  /** What a record must say of itself; null where that does not matter. */
  readonly chosenBy: Predicate | null;
}

const PARTS = ['category', 'product', 'service'] as const;

function renameTest(test: ValueTest, fields: LogSourceEntry['fields']): ValueTest {
  if (test.test === 'fieldref') {
    const field = fields[test.field] ?? test.field;
    return field === test.field ? test : { ...test, field };
  }
  if (test.test !== 'time-part') return test;
  const of = renameTest(test.of, fields);
  return of === test.of ? test : { ...test, of };
}

/** A condition with its fields called otherwise; the same object where none of them is. */
function renameFields(predicate: Predicate, fields: LogSourceEntry['fields']): Predicate {
  switch (predicate.op) {
    case 'always':
    case 'keyword':
      return predicate;
    case 'and':
    case 'or': {
      const parts = predicate.parts.map((part) => renameFields(part, fields));
      return parts.every((part, i) => part === predicate.parts[i]) ? predicate : { ...predicate, parts };
    }
    case 'not': {
      const part = renameFields(predicate.part, fields);
      return part === predicate.part ? predicate : { ...predicate, part };
    }
    case 'field': {
      const field = fields[predicate.field] ?? predicate.field;
      const test = renameTest(predicate.test, fields);
      return field === predicate.field && test === predicate.test ? predicate : { ...predicate, field, test };
    }
    default:
      return unreachable(predicate);
  }
}

/** An entry speaks of a rule where it says something that the rule asks for, and nothing else. */
const speaksOf = (entry: LogSourceEntry, asked: LogSource): boolean =>
  PARTS.some((part) => asked[part] !== undefined && entry.logsource[part] === asked[part]) &&
  PARTS.every((part) => asked[part] === undefined || (entry.logsource[part] ?? asked[part]) === asked[part]);

/** The entries of the table that concern a rule. */
export const entriesOf = (rule: DetectionRule, entries: readonly LogSourceEntry[]): LogSourceEntry[] =>
  entries.filter((entry) => speaksOf(entry, rule.logsource));

/** What a record must say of itself. */
const saidBy = (where: NonNullable<LogSourceEntry['where']>): Predicate[] =>
  Object.entries(where).map(([field, texts]) => ({
    op: 'or',
    parts: texts.map((text) => ({
      op: 'field',
      field,
      test:
        text === '*'
          ? { test: 'exists', wanted: true }
          : { test: 'text', pattern: sigmaPattern(text.toLowerCase(), false, false), cased: false },
    })),
  }));

/** Records of a product that is not known may be of any. */
const sameProduct = ({ product }: LogSource, records: LogSource): boolean =>
  product === undefined || records.product === undefined || records.product.toLowerCase() === product;

/**
 * The ways in which a rule applies: to records whose recipe says what the rule asks for, and by each entry of the table
 * that does. What an entry leaves open, such as the product, is left to the recipe.
 */
export function variantsOf(rule: DetectionRule, entries: readonly LogSourceEntry[]): RuleVariant[] {
  const { logsource, predicate } = rule;
  const plain: RuleVariant = {
    predicate,
    asks: predicate,
    kinds: null,
    appliesTo: (records) => logSourceFits(logsource, records.logsource),
    chosenBy: null,
  };
  const byEntry = entriesOf(rule, entries).map(
    ({ logsource: said, kinds, sources, fields, where }): RuleVariant => {
      const renamed = renameFields(predicate, fields);
      const parts = where === undefined ? null : saidBy(where);
      return {
        predicate: parts === null ? renamed : { op: 'and', parts: [...parts, renamed] },
        asks: renamed,
        chosenBy: parts === null ? null : { op: 'and', parts },
        kinds: kinds.length === 0 ? null : kinds,
        appliesTo: (records) =>
          (sources.length === 0 || sources.includes(records.source)) &&
          (where === undefined || sameProduct(said, records.logsource)) &&
          logSourceFits(logsource, { ...records.logsource, ...said }),
      };
    },
  );
  return [plain, ...byEntry];
}

/** What a rule's fields may be called otherwise, by all entries that concern it. */
export const renamesOf = (
  rule: DetectionRule,
  entries: readonly LogSourceEntry[],
): Readonly<Record<string, string>> =>
  Object.fromEntries(entriesOf(rule, entries).flatMap(({ fields }) => Object.entries(fields)));

/** A rule ready to run over the events of sources, one way. */
export interface VariantMatcher {
  readonly predicate: Predicate;
  readonly appliesTo: (records: RecordsOf) => boolean;
  readonly matches: EventTest;
  /** Whether a record is one that the rule speaks of, whatever it asks of it. */
  readonly speaksOf: EventTest;
}

/** Makes all ways of a rule ready. @param memory shared by rules that are asked about the same events */
export function compileVariants(
  rule: DetectionRule,
  entries: readonly LogSourceEntry[],
  memory = new FieldMemory(),
): VariantMatcher[] {
  return variantsOf(rule, entries).map(({ predicate, kinds, appliesTo, chosenBy }) => {
    const test = compilePredicate(predicate, memory);
    const wanted = kinds === null ? null : new Set(kinds);
    const isChosen = chosenBy === null ? null : compilePredicate(chosenBy, memory);
    const isOfKind = (event: Event): boolean => wanted?.has(event.kind ?? '') ?? true;
    return {
      predicate,
      appliesTo,
      matches: wanted === null ? test : (event: Event) => isOfKind(event) && test(event),
      speaksOf: (event) => isOfKind(event) && (isChosen?.(event) ?? true),
    };
  });
}

/** True where a rule's log source speaks of what a source's records are. */
export function logSourceFits(rule: LogSource, records: LogSource): boolean {
  return (['category', 'product', 'service'] as const).every(
    (part) => rule[part] === undefined || rule[part] === records[part]?.toLowerCase(),
  );
}
