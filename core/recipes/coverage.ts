import { isJsonObject, type Json, type JsonObject } from '../base/json.js';
import { jsonToText } from '../text/json-text.js';
import { fieldsOf } from './mapping.js';
import type { Mapping, Recipe } from './recipe-schema.js';

/** What becomes of one field of the source's records. */
export interface FieldCoverage {
  /** As a recipe names it. */
  readonly field: string;
  /** Records of the sample that have it. */
  readonly records: number;
  readonly example: string;
  /** Columns it is mapped to. */
  readonly columns: readonly string[];
  /** Looked at by a condition, a pattern, the time or the id, though it is no column. */
  readonly used: boolean;
}

const EXAMPLE = 120;
/** Deeper fields, and fields beyond so many, are told by what holds them. */
const DEEPEST = 6;
const MAX_FIELDS = 400;

/** The fields of a record that hold a value of their own: nested ones by their path, lists as one. */
export function leafFields(fields: JsonObject): readonly (readonly [string, Json])[] {
  const found: [string, Json][] = [];
  const walk = (value: Json, path: string, depth: number): void => {
    if (found.length >= MAX_FIELDS) return;
    if (isJsonObject(value) && depth < DEEPEST && Object.keys(value).length > 0)
      for (const [name, inner] of Object.entries(value))
        walk(inner, path === '' ? name : `${path}.${name}`, depth + 1);
    else if (path !== '') found.push([path, value]);
  };
  walk(fields, '', 0);
  return found;
}

type Uses = Map<string, Set<string>>;

/** Which columns each field a recipe names goes to; fields it only looks at go to none. */
function usesOf(recipe: Recipe): Uses {
  const uses: Uses = new Map();
  const use = (field: string, column: string | null): void => {
    const columns = uses.get(field) ?? new Set<string>();
    if (column !== null) columns.add(column);
    uses.set(field, columns);
  };
  const map = (mappings: Readonly<Record<string, Mapping>> | undefined): void => {
    for (const [column, mapping] of Object.entries(mappings ?? {}))
      for (const field of fieldsOf(mapping)) use(field, column);
  };
  const look = (when: object | undefined): void =>
    Object.keys(when ?? {}).forEach((field) => use(field, null));
  if (recipe.id !== undefined) use(recipe.id, 'id');
  for (const field of typeof recipe.time.from === 'string' ? [recipe.time.from] : recipe.time.from)
    use(field, 'time');
  map(recipe.map);
  for (const one of recipe.cases ?? []) {
    look(one.when);
    map(one.map);
  }
  for (const one of recipe.messages ?? []) {
    use(one.in, null);
    look(one.when);
  }
  for (const { from } of recipe.expand ?? []) use(from, null);
  for (const { when } of [...(recipe.discard ?? []), ...(recipe.tags ?? [])]) look(when);
  return uses;
}

/**
 * What a recipe makes of each field of a sample: mapped, only looked at, or left under `original`.
 * @param sample the fields of some records, as the recipe's format reads them
 */
export function coverageOf(recipe: Recipe, sample: readonly JsonObject[]): FieldCoverage[] {
  const uses = usesOf(recipe);
  const found = new Map<string, { records: number; example: string }>();
  for (const fields of sample)
    for (const [field, value] of leafFields(fields)) {
      const text = jsonToText(value) ?? '';
      const known = found.get(field);
      if (known === undefined) found.set(field, { records: 1, example: text.slice(0, EXAMPLE) });
      else {
        known.records++;
        if (known.example === '') known.example = text.slice(0, EXAMPLE);
      }
    }
  return Array.from(found, ([field, { records, example }]): FieldCoverage => {
    // A mapping of what holds a field covers the field.
    const own = [...uses].filter(
      ([name]) => name === field || field.startsWith(`${name}.`) || name.startsWith(`${field}.`),
    );
    return {
      field,
      records,
      example,
      columns: [...new Set(own.flatMap(([, columns]) => [...columns]))],
      used: own.length > 0,
    };
  });
}
