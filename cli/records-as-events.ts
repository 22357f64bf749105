import { hash } from 'node:crypto';
import { eventId } from '../core/events/event-id.js';
import type { Event } from '../core/events/event.js';
import { Occurrences } from '../core/events/occurrences.js';
import { compileRecipe, type RecipeOutcome } from '../core/recipes/apply.js';
import type { Recipe } from '../core/recipes/recipe-schema.js';
import { bestShipped } from '../core/recipes/shipped/index.js';
import { decodedFile, headOf } from './file-text.js';
import { type EventsFile, readEventsFile } from './read-events.js';
import { readRecipeText } from './sweep/sweep-files.js';

const sha256 = (text: string): string => hash('sha256', text);

/** The recipe for a file: the one that is named; for what is no file of events the one that ships and reads most. */
async function recipeFor(path: string, named: string | undefined, now: number): Promise<Recipe | null> {
  if (named !== undefined) return JSON.parse(readRecipeText(named)) as Recipe;
  const { text, plain, gzipped } = await headOf(path);
  return plain && !gzipped ? null : bestShipped(text, now);
}

/**
 * The events of a file: of events as they are, one JSON object a line; or of records that a recipe reads.
 * @throws UsageError, Error where the file cannot be read
 */
export async function eventsOf(path: string, named: string | undefined): Promise<EventsFile> {
  const now = Date.now() * 1000;
  const document = await recipeFor(path, named, now);
  if (document === null) return readEventsFile(path);
  const recipe = compileRecipe(document);
  const occurrences = new Occurrences('');
  const events: Event[] = [];
  const notes: string[] = [];
  let left = 0;
  const takeOne = (record: string, outcome: RecipeOutcome): void => {
    if (outcome.became === 'event')
      events.push({
        ...outcome.draft,
        source: document.name,
        id: eventId(document.name, outcome.identity, sha256, outcome.ownId ? '' : occurrences.mark(record)),
      });
    else if (outcome.became === 'set-aside' && left++ < 10)
      notes.push(`A record was left out: ${outcome.reason}.`);
  };
  const take = (records: readonly string[]): void => {
    for (const record of records) takeOne(record, recipe.apply(record, now));
  };
  const cutter = recipe.cutter();
  for await (const part of decodedFile(path, undefined, true)) {
    if (part.part === 'text') {
      const reading = part.fields === undefined ? null : recipe.readFields(part.fields);
      if (reading === null) take(cutter.push(part.text));
      else {
        const record = part.text.trim();
        takeOne(record, recipe.applyTo(reading, record, now));
      }
    } else if (part.part === 'end') take(cutter.end());
    else notes.push(`${path}: ${part.message}`);
  }
  if (left > 10) notes.push(`${left - 10} more records were left out.`);
  return { events, notes };
}
