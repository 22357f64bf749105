import type { Instant } from '../base/instant.js';
import type { JsonObject } from '../base/json.js';
import { recognise } from '../formats/recognise.js';
import { compileRecipe } from './apply.js';
import { coverageOf } from './coverage.js';
import { draftRecipe, timeFormOf } from './draft.js';
import type { Mapping, Recipe } from './recipe-schema.js';
import { suggestColumns } from './suggest.js';

const MAX_RECORDS = 50;

/** What the usual words for an outcome are called here. */
const OUTCOMES: Readonly<Record<string, string>> = Object.fromEntries(
  (
    [
      ['success', ['ok', 'success', 'succeeded', 'true', 'pass', 'accept']],
      ['failure', ['fail', 'failed', 'failure', 'error', 'false', 'reject']],
      ['allowed', ['allow', 'allowed', 'permit', 'permitted']],
      ['blocked', ['deny', 'denied', 'block', 'blocked', 'drop', 'dropped', 'refuse', 'refused']],
    ] as const
  ).flatMap(([outcome, words]) =>
    words.flatMap((word) =>
      [word, word.toUpperCase(), word[0]?.toUpperCase() + word.slice(1)].map((one) => [one, outcome]),
    ),
  ),
);

/** Columns whose words differ from source to source, so that a name alone says too little. */
const NEEDS_WORDS: ReadonlySet<string> = new Set(['severity']);

/**
 * A first recipe for a sample: its format, its time, and what names and shapes of its fields suggest, applied.
 * @param sample the beginning of a file, or pasted records
 */
export function draftFor(sample: string, received: Instant, name = 'new-recipe'): Recipe {
  const recognised = recognise(sample);
  const draft = draftRecipe(name, recognised, undefined);
  const compiled = compileRecipe(draft);
  const records = compiled
    .cut(sample)
    .slice(0, MAX_RECORDS)
    .flatMap((raw): JsonObject[] => {
      const { fields } = compiled.read(raw);
      return fields === null ? [] : [fields];
    });
  if (records.length === 0) return draft;
  const time = timeOf(draft, records, received);
  const timed: Recipe = time === null ? withoutTime(draft) : { ...draft, time };
  const coverage = coverageOf(timed, records);
  const map: Record<string, Mapping> = {};
  for (const { field, column } of suggestColumns(coverage, new Set())) {
    if (column === 'time' || NEEDS_WORDS.has(column)) continue;
    map[column] =
      column === 'outcome' ? { from: field, values: { ...OUTCOMES }, otherwise: 'unknown' } : field;
  }
  const isFlow = map['src_ip'] !== undefined && map['dst_ip'] !== undefined;
  return { ...timed, constants: { kind: isFlow ? 'network' : 'system' }, map };
}

/** Without a time that can be read, the moment of arrival counts: nothing is set aside for it. */
const withoutTime = (draft: Recipe): Recipe => ({ ...draft, time: { ...draft.time, otherwise: 'arrival' } });

/** The time of records: where the draft looks, else a field that is called so, else any whose values are times. */
function timeOf(draft: Recipe, records: readonly JsonObject[], received: Instant): Recipe['time'] | null {
  const coverage = coverageOf(draft, records);
  const usual = typeof draft.time.from === 'string' ? draft.time.from : draft.time.from[0];
  const named = suggestColumns(
    coverage.map((one) => ({ ...one, used: false })),
    new Set(),
  ).find(({ column }) => column === 'time')?.field;
  const inOrder = [usual, named, ...coverage.map(({ field }) => field)];
  for (const field of inOrder) {
    const one = coverage.find((known) => known.field === field);
    if (one === undefined || one.records < records.length / 2) continue;
    // Any number looks like seconds or less since 1970: only a field that is called so is one.
    if (field !== usual && field !== named && /^[\d.]+$/.test(one.example.trim())) continue;
    const form = timeFormOf(one.example, received);
    if (form !== undefined) return { from: one.field, as: form };
  }
  return null;
}
