import type { Instant } from '../base/instant.js';
import { isJsonObject, type Json, type JsonObject } from '../base/json.js';
import { nearestWord } from '../base/text-distance.js';
import {
  columnDef,
  columnNames,
  isColumnName,
  MAX_COLUMN_BYTES,
  SHORTENED_TAG,
  type ColumnName,
} from '../events/columns.js';
import type { Event } from '../events/event.js';
import { isKind, isOutcome, isSeverity } from '../events/kinds.js';
import { readColumn } from '../events/read-event.js';
import {
  cutWhole,
  excerpt,
  MAX_RECORD_LENGTH,
  tooLong,
  type Cutter,
  type ReadFailure,
  type Reading,
} from '../formats/format.js';
import { cutterOf, formats } from '../formats/index.js';
import { parseJson } from '../formats/json.js';
import { readPairs } from '../formats/key-value.js';
import { boundedText } from '../text/bounded-text.js';
import { jsonToText } from '../text/json-text.js';
import { storable } from '../text/storable.js';
import {
  parseReadPattern,
  ReadPatternError,
  type PatternBinding,
  type ReadPattern,
} from '../text/read-pattern.js';
import { compileMapping, type Read } from './mapping.js';
import { fieldReader } from './field-path.js';
import { compileWhen, type Holds } from './when.js';
import { compileTime, EARLIEST, LATEST } from './record-time.js';
import { ARRIVAL_TAG, type Mapping, type Recipe } from './recipe-schema.js';

/** What became of one record. */
export type RecipeOutcome = (
  | {
      readonly became: 'event';
      readonly draft: Omit<Event, 'id'>;
      /** What the id is derived from, besides the source. */
      readonly identity: string;
      /** The source itself gave the id, so that a record with the same one is the same. */
      readonly ownId: boolean;
      readonly unread: readonly ColumnName[];
    }
  | { readonly became: 'discarded'; readonly because: string }
  | { readonly became: 'set-aside'; readonly code: SetAsideCode; readonly reason: string }
) & { readonly rules?: RulesMet };

/** Rules of the way in that a record met, by their ids, and where they send it besides. */
export interface RulesMet {
  readonly met: readonly number[];
  readonly forward: readonly { readonly rule: number; readonly to: string }[];
}

export type SetAsideCode = Exclude<ReadFailure, 'heading'> | 'no-time' | 'unbelievable-time';

/** A recipe ready to read records. */
export interface CompiledRecipe {
  readonly recipe: Recipe;
  /** Cuts a stream of text into records. */
  cutter(): Cutter;
  /** All records of a whole text. */
  cut(text: string): string[];
  /** Reads a record into the fields its source gave it, before anything is mapped. */
  read(raw: string): Reading;
  /** As {@link read}, of an event record whose fields are known; null where the recipe reads no such records. */
  readFields(fields: JsonObject): Reading | null;
  /** Reads one record. It never throws. @param received when it came in */
  apply(raw: string, received: Instant): RecipeOutcome;
  /** As {@link apply}, of a record that {@link read} has read already. */
  applyTo(reading: Reading, raw: string, received: Instant): RecipeOutcome;
}

/** The row of a list that a text belongs to, by the names of its columns. */
export type ListLookup = (text: string) => JsonObject | undefined;

type Columns = readonly (readonly [ColumnName, Read])[];

const compileMap = (map: Readonly<Record<string, Mapping>> | undefined): Columns =>
  Object.entries(map ?? {}).map(([name, mapping]) => [name as ColumnName, compileMapping(mapping)] as const);

const compileSet = (set: Readonly<Record<string, Json>> | undefined): Columns =>
  Object.entries(set ?? {}).map(([name, value]) => [name as ColumnName, () => value] as const);

interface CompiledMessage {
  readonly read: Read;
  readonly holds: Holds;
  readonly pattern: ReadPattern;
  readonly columns: Columns;
}

/** True for a value that a column of fixed words can hold. */
function isKnownWord(name: ColumnName, value: unknown): boolean {
  if (typeof value !== 'string') return true;
  if (name === 'kind') return isKind(value);
  if (name === 'outcome') return isOutcome(value);
  return name !== 'severity' || isSeverity(value);
}

/** Blanks that begin with `_` are read over; the others are columns. */
const isColumnBlank = (name: string): name is ColumnName => !name.startsWith('_');

function compilePattern(text: string, binding?: PatternBinding): ReadPattern {
  const pattern = parseReadPattern(text, binding);
  const stranger = pattern.blanks.find(({ name }) => isColumnBlank(name) && !isColumnName(name));
  if (stranger !== undefined) {
    throw new ReadPatternError(
      text.indexOf(`<${stranger.name}`),
      `"${stranger.name}" is no column. Did you mean "${nearestWord(stranger.name, columnNames)}"? A blank that is only read over begins with "_".`,
    );
  }
  return pattern;
}

type Expand = (fields: JsonObject) => JsonObject;

type Expansion = NonNullable<Recipe['expand']>[number];

function readMore(text: string, { as, columns, delimiter }: Expansion): JsonObject | null {
  if (as === 'key-value') return readPairs(text);
  if (as === 'csv')
    return formats.csv.reader({
      ...(columns !== undefined && { columns }),
      ...(delimiter !== undefined && { delimiter }),
    })(text).fields;
  try {
    const value = parseJson(text);
    return isJsonObject(value) ? value : null;
  } catch {
    return null;
  }
}

/** The text behind a word and before another, where they are there. */
function textBetween(text: string, { after, until }: Expansion): string {
  const at = after === undefined ? -1 : text.indexOf(after);
  const rest = at < 0 || after === undefined ? text : text.slice(at + after.length);
  const end = until === undefined ? -1 : rest.indexOf(until);
  return (end < 0 ? rest : rest.slice(0, end)).trim();
}

/** Fields that a field holds as text, put beside the others or under a name of their own. */
function compileExpand(recipe: Recipe): Expand {
  const steps = (recipe.expand ?? []).map((step): Expand => {
    const { from, into } = step;
    const read = fieldReader(from);
    return (fields) => {
      const text = read(fields);
      const more = typeof text === 'string' ? readMore(textBetween(text, step), step) : null;
      if (more === null) return fields;
      // What the record itself names goes before what is found inside.
      return into === undefined ? { ...more, ...fields } : { ...fields, [into]: more };
    };
  });
  return (fields) => steps.reduce((found, step) => step(found), fields);
}

/** An event while it is being made: a later value of a column goes before an earlier one. */
class DraftWriter {
  /** Columns whose value could not be read, in the order they were met. */
  unread: ColumnName[] = [];

  /** Columns that hold only the beginning of their value. */
  readonly shortened = new Set<ColumnName>();

  constructor(readonly draft: Record<string, unknown>) {}

  /** A text as its column holds it. */
  private fitting(name: ColumnName, text: string): string {
    if (columnDef(name).long) return text;
    const short = boundedText(text, MAX_COLUMN_BYTES);
    if (short !== text) this.shortened.add(name);
    else if (this.shortened.size > 0) this.shortened.delete(name);
    return short;
  }

  put(name: ColumnName, value: Json): void {
    if (value === null || value === '') return;
    const column = readColumn(name, value);
    if (column === undefined || column === null || !isKnownWord(name, column)) {
      if (!this.unread.includes(name)) this.unread.push(name);
    } else {
      if (this.unread.length > 0) this.unread = this.unread.filter((other) => other !== name);
      // An event has the same value in memory, where rules look, and stored.
      this.draft[name] = typeof column === 'string' ? this.fitting(name, storable(column)) : column;
    }
  }
}

interface CompiledLookup {
  readonly by: ColumnName;
  readonly find: ListLookup;
  readonly set: readonly (readonly [ColumnName, string])[];
}

const compileLookups = (recipe: Recipe, lists: ReadonlyMap<string, ListLookup>): readonly CompiledLookup[] =>
  (recipe.lookups ?? []).flatMap(({ list, by, set }) => {
    const find = lists.get(list);
    return find === undefined
      ? []
      : [{ by: by as ColumnName, find, set: Object.entries(set) as [ColumnName, string][] }];
  });

/**
 * Prepares a recipe that its schema has accepted.
 * @param lists the lists its lookups name; those that are not there fill nothing in
 * @param zone the zone of the source, for times that name none; it goes before that of the recipe
 * @throws ReadPatternError for a pattern that cannot be read; TimeFormatError for a format of times or a zone
 */
export function compileRecipe(
  recipe: Recipe,
  lists: ReadonlyMap<string, ListLookup> = new Map(),
  zone: string | null = null,
): CompiledRecipe {
  const format = formats[recipe.format];
  // An expression that is none is told now, not with the first record.
  cutterOf(recipe.format, recipe.records);
  const readRecord = format.reader(recipe);
  const expand = compileExpand(recipe);
  const lookups = compileLookups(recipe, lists);
  const read = (raw: string): Reading => {
    if (raw.length > MAX_RECORD_LENGTH) return tooLong();
    const reading = readRecord(raw);
    return reading.fields === null ? reading : { fields: expand(reading.fields) };
  };
  const timeOf = compileTime(recipe.time, zone);
  const readId = recipe.id === undefined ? () => null : fieldReader(recipe.id);
  const base: Columns = [...compileSet(recipe.constants), ...compileMap(recipe.map)];
  const cases = (recipe.cases ?? []).map((one) => ({
    holds: compileWhen(one.when),
    columns: [...compileMap(one.map), ...compileSet(one.set)],
  }));
  const messages = (recipe.messages ?? []).map((one): CompiledMessage => ({
    read: fieldReader(one.in),
    holds: one.when === undefined ? () => true : compileWhen(one.when),
    pattern: compilePattern(one.read, one.bind),
    columns: compileSet(one.set),
  }));
  const discards = (recipe.discard ?? []).map((one) => ({
    holds: compileWhen(one.when),
    because: one.because,
  }));
  const tags = (recipe.tags ?? []).map((one) => ({ holds: compileWhen(one.when), add: one.add }));

  return {
    recipe,
    cutter: () => cutterOf(recipe.format, recipe.records),
    cut: (text) => cutWhole({ cutter: () => cutterOf(recipe.format, recipe.records) }, text),
    read,
    readFields: (fields) => (recipe.format === 'os-event-xml' ? { fields: expand(fields) } : null),
    apply(raw, received) {
      return this.applyTo(read(raw), raw, received);
    },
    applyTo(reading, raw, received) {
      if (reading.fields === null) {
        return reading.code === 'heading'
          ? { became: 'discarded', because: reading.reason }
          : { became: 'set-aside', code: reading.code, reason: reading.reason };
      }
      const { fields } = reading;
      const discard = discards.find(({ holds }) => holds(fields));
      if (discard !== undefined) return { became: 'discarded', because: discard.because };

      const found = timeOf(fields, received);
      const { time, written } = found;
      if (time === null) {
        const where = JSON.stringify(recipe.time.from);
        return {
          became: 'set-aside',
          code: 'no-time',
          reason:
            written === null
              ? `no time in ${where}`
              : `the time in ${where} cannot be read: ${excerpt(jsonToText(written) ?? '')}`,
        };
      }
      if (time < EARLIEST || time >= LATEST) {
        return {
          became: 'set-aside',
          code: 'unbelievable-time',
          reason: `its time ${excerpt(jsonToText(written) ?? '')} is not between 1970 and 2200`,
        };
      }

      const writer = new DraftWriter({ time, received, kind: 'system', original: fields, raw });
      const { draft } = writer;
      for (const [name, read] of base) writer.put(name, read(fields));
      for (const [name, read] of cases.find(({ holds }) => holds(fields))?.columns ?? [])
        writer.put(name, read(fields));
      applyMessages(messages, fields, writer);
      for (const { by, find, set } of lookups) {
        const key = draft[by];
        const row = typeof key === 'string' ? find(key) : undefined;
        if (row === undefined) continue;
        for (const [name, from] of set)
          if ((draft[name] ?? null) === null) writer.put(name, row[from] ?? null);
      }
      const added = tags.filter(({ holds }) => holds(fields)).map(({ add }) => add);
      if (writer.shortened.size > 0) added.push(SHORTENED_TAG);
      if (found.arrived) added.push(ARRIVAL_TAG);
      if (added.length > 0) draft['tags'] = [...((draft['tags'] as string[] | undefined) ?? []), ...added];
      const id = jsonToText(readId(fields));
      return {
        became: 'event',
        draft: draft as unknown as Omit<Event, 'id'>,
        identity: id ?? raw.trim(),
        ownId: id !== null,
        unread: writer.unread,
      };
    },
  };
}

function applyMessages(messages: readonly CompiledMessage[], fields: JsonObject, writer: DraftWriter): void {
  for (const { read, holds, pattern, columns } of messages) {
    const text = read(fields);
    if (typeof text !== 'string' || !holds(fields)) continue;
    const found = pattern.read(text.trim());
    if (found === null) continue;
    for (const [name, value] of Object.entries(found)) if (isColumnBlank(name)) writer.put(name, value);
    for (const [name, value] of columns) writer.put(name, value(fields));
    return;
  }
}
