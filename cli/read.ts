import { shownColumns } from '../core/events/shown-event.js';
import type { Json, JsonObject } from '../core/base/json.js';
import type { Cutter, FormatOptions, Reading } from '../core/formats/format.js';
import { cutterOf, formats } from '../core/formats/index.js';
import { recognise } from '../core/formats/recognise.js';
import { compileRecipe, type CompiledRecipe, type RecipeOutcome } from '../core/recipes/apply.js';
import type { Recipe } from '../core/recipes/recipe-schema.js';
import { bestShipped, shippedRecipes } from '../core/recipes/shipped/index.js';
import { nearestWord } from '../core/base/text-distance.js';
import { formatNames, type FormatName } from '../core/wire/format-names.js';
import { decodedFile, headOf } from './file-text.js';
import { readWords } from './read-words.js';
import { readRecipeText } from './sweep/sweep-files.js';
import { UsageError } from './usage.js';
import { writeLine, flushLines } from './write-lines.js';

interface Asked {
  readonly files: readonly string[];
  readonly recipe: Recipe | null;
  readonly format: FormatName | null;
  readonly as: 'fields' | 'events';
}

function readArguments(words: readonly string[]): Asked {
  const { values, positionals } = readWords({
    args: [...words],
    options: {
      recipe: { type: 'string' },
      format: { type: 'string' },
      as: { type: 'string', default: 'fields' },
    },
    allowPositionals: true,
  });
  if (positionals.length === 0) throw new UsageError('Which files? lamp read FILE…');
  const { recipe, format, as } = values;
  if (as !== 'fields' && as !== 'events') throw new UsageError(`--as: "${as}" is neither fields nor events.`);
  const known = format === undefined ? null : formatNames.find((name) => name === format);
  if (known === undefined)
    throw new UsageError(
      `--format ${format}: no such format. Did you mean ${nearestWord(format ?? '', formatNames)}? There are ${formatNames.join(', ')}.`,
    );
  return {
    files: positionals,
    recipe: recipe === undefined ? null : (JSON.parse(readRecipeText(recipe)) as Recipe),
    format: known,
    as,
  };
}

/** How the records of a file, or of a member of an archive, are read. */
interface Reader {
  readonly cutter: Cutter;
  /** What is printed of a record; null for a heading, which is none. */
  readonly read: (record: string) => Printed;
  /** The same of an event record whose fields are known; undefined where it is read by its text. */
  readonly readFields: (fields: JsonObject, text: () => string) => Printed | undefined;
}
type Printed = Readonly<Record<string, Json>> | null;

const printedFields = (reading: Reading): Printed =>
  reading.fields !== null
    ? { fields: reading.fields }
    : reading.code === 'heading'
      ? null
      : { error: reading.reason };

function printedOutcome(outcome: RecipeOutcome): Printed {
  switch (outcome.became) {
    case 'event':
      return { event: shownColumns(outcome.draft) };
    case 'discarded':
      return null;
    case 'set-aside':
      return { error: outcome.reason };
  }
}

const ofRecipe = (recipe: CompiledRecipe, as: Asked['as']): Reader => {
  const now = (): number => Date.now() * 1000;
  return {
    cutter: recipe.cutter(),
    read: (record) =>
      as === 'fields' ? printedFields(recipe.read(record)) : printedOutcome(recipe.apply(record, now())),
    readFields(fields, text) {
      const reading = recipe.readFields(fields);
      if (reading === null) return undefined;
      return as === 'fields'
        ? printedFields(reading)
        : printedOutcome(recipe.applyTo(reading, text().trim(), now()));
    },
  };
};

function ofFormat(format: FormatName, options: FormatOptions): Reader {
  const read = formats[format].reader(options);
  return {
    cutter: cutterOf(format, options.records),
    read: (record) => printedFields(read(record)),
    readFields: (fields) => (format === 'os-event-xml' ? { fields } : undefined),
  };
}

/** How a file is read, by its beginning where nothing was said. */
function readerFor(sample: string, { recipe, format, as }: Asked): Reader {
  if (recipe !== null) return ofRecipe(compileRecipe(format === null ? recipe : { ...recipe, format }), as);
  if (as === 'events') {
    const best = bestShipped(sample, Date.now() * 1000);
    if (best === null)
      throw new UsageError(
        `No recipe that ships reads these records as events. Name one with --recipe: a file, or one of ${Object.keys(shippedRecipes).join(', ')}.`,
      );
    return ofRecipe(compileRecipe(best), as);
  }
  if (format !== null) return ofFormat(format, {});
  const { format: seen, share: _share, ...options } = recognise(sample);
  return ofFormat(seen, options);
}

/** Runs `lamp read`: what the product sees in files, one record a line. @returns the exit code */
export async function read(words: readonly string[]): Promise<number> {
  const asked = readArguments(words);
  let number = 0;
  let failed = 0;
  const say = (told: Readonly<Record<string, Json>>): void => {
    if ('error' in told) failed++;
    writeLine(JSON.stringify({ record: ++number, ...told }));
  };
  for (const file of asked.files) {
    const { text: head } = await headOf(file).catch((error: unknown) => {
      throw new UsageError(
        `${file} cannot be read: ${error instanceof Error ? error.message : String(error)}`,
      );
    });
    let reader: Reader | null = null;
    const begin = (text: string): Reader => (reader ??= readerFor(text === '' ? head : text, asked));
    const sayOne = (told: Printed): void => {
      if (told !== null) say(told);
    };
    const sayAll = ({ read: of }: Reader, records: readonly string[]): void => {
      for (const record of records) sayOne(of(record));
    };
    for await (const part of decodedFile(file, undefined, true)) {
      if (part.part === 'error') say({ error: part.message });
      else if (part.part === 'text') {
        const now: Reader = reader ?? begin(part.text);
        const told = part.fields === undefined ? undefined : now.readFields(part.fields, () => part.text);
        if (told === undefined) sayAll(now, now.cutter.push(part.text));
        else sayOne(told);
      } else {
        if (reader !== null) sayAll(reader, (reader as Reader).cutter.end());
        reader = null;
      }
      await flushLines(false);
    }
  }
  await flushLines(true);
  if (failed > 0) process.stderr.write(`note: ${failed} of ${number} records cannot be read\n`);
  return 0;
}
