import { Ajv } from 'ajv';
import { DAY } from '../base/instant.js';
import { nearestWord } from '../base/text-distance.js';
import { type ResponseDocuments, responseIn } from '../responses/document.js';
import { responses as shipped } from '../responses/shipped.js';
import { type DocumentMistake, readCheckedJson, schemaMistakes, type Told } from '../text/checked-json.js';
import { asksOf, compileHunt } from '../wick/compile.js';
import { HuntError } from '../wick/hunt-error.js';
import type { ListRef } from '../wick/plan.js';
import { END, MAX_RUNBOOK_LENGTH, runbook as runbookSchema, type Runbook, type Step } from './document.js';
import { nameable } from './names.js';
import { ways } from './walk.js';

/** A runbook that was read, or everything that is wrong with it. */
export type ReadRunbook =
  | { readonly runbook: Runbook; readonly mistakes: readonly [] }
  | { readonly runbook: null; readonly mistakes: readonly DocumentMistake[] };

const validate = new Ajv({
  allErrors: true,
  strict: true,
  allowUnionTypes: true,
  verbose: true,
  discriminator: true,
}).compile<Runbook>(runbookSchema);

/** What a runbook may name. */
export interface RunbookWorld {
  readonly lists: readonly ListRef[];
  readonly responses: ResponseDocuments;
}
const SHIPPED: RunbookWorld = { lists: [], responses: shipped };

/**
 * Reads a runbook from JSON.
 * @param world the lists that its hunts may name, and the responses there are
 * @returns the runbook, or its mistakes with their places, the first of them first
 */
export function readRunbook(text: string, world: RunbookWorld = SHIPPED): ReadRunbook {
  const read = readCheckedJson(text, {
    what: 'runbook',
    most: MAX_RUNBOOK_LENGTH,
    check: (value) => mistakesOf(value, world),
  });
  return read.value === null
    ? { runbook: null, mistakes: read.mistakes }
    : { runbook: read.value as Runbook, mistakes: [] };
}

/** Everything that is wrong with a runbook, in words. Empty where it can be run. */
export function mistakesOf(value: unknown, world: RunbookWorld = SHIPPED): Told[] {
  if (!validate(value)) return schemaMistakes(validate.errors ?? [], 'runbook');
  return value.steps.flatMap((step, at) => [
    ...wayMistakes(value, step, at),
    ...ownMistakes(step, world).map(({ path, message }) => ({ path: ['steps', at, ...path], message })),
  ]);
}

/** Steps are called apart, and lead forward: so every run ends. */
function wayMistakes({ steps }: Runbook, step: Step, at: number): Told[] {
  const told: Told[] = [];
  if (step.id === END || steps.findIndex(({ id }) => id === step.id) < at)
    told.push({
      path: ['steps', at, 'id'],
      message:
        step.id === END
          ? `No step may be called "${END}".`
          : `Two steps are called "${step.id}": each needs a name of its own.`,
    });
  for (const [words, to] of ways(step)) {
    if (to === undefined || to === END) continue;
    const place = steps.findIndex(({ id }) => id === to);
    if (place > at) continue;
    const later = steps.slice(at + 1).map(({ id }) => id);
    told.push({
      path: ['steps', at],
      message:
        place >= 0
          ? `Step "${step.id}" leads back to "${to}" (${words}): a runbook only goes forward.`
          : `There is no step "${to}" (${words}). Did you mean "${nearestWord(to, [...later, END])}"?`,
    });
  }
  return told;
}

function ownMistakes(step: Step, { lists, responses }: RunbookWorld): Told[] {
  switch (step.do) {
    case 'hunt': {
      const unknown = asksOf(step.hunt).filter(
        ({ name, any, default: usual }) =>
          !any && usual === null && ![...nameable, 'subject', 'title'].some((one) => one === name),
      );
      if (unknown.length > 0)
        return unknown.map(({ name }) => ({
          path: ['hunt'],
          message: `The hunt asks for "${name}", which no alert names. It may ask for ${nameable.join(', ')}, subject, title.`,
        }));
      try {
        compileHunt(step.hunt, { window: { from: 0, to: DAY }, now: DAY, writing: true, lists });
        return [];
      } catch (error) {
        if (!(error instanceof HuntError)) throw error;
        return [{ path: ['hunt'], message: `Line ${error.span.line} of the hunt: ${error.message}` }];
      }
    }
    case 'respond': {
      const response = responseIn(responses, step.response);
      if (response === null)
        return [
          {
            path: ['response'],
            message: `"${step.response}" is no response. Did you mean "${nearestWord(step.response, Object.keys(responses))}"?`,
          },
        ];
      return step.hours !== undefined && response.undo === null
        ? [{ path: ['hours'], message: `"${response.title}" cannot be taken back, so it has no end.` }]
        : [];
    }
    default:
      return [];
  }
}
