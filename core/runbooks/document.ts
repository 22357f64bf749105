import { lastWindows } from '../wire/boards.js';
import type { Wire } from '../wire/common.js';

/** Steps of a runbook: more than somebody reads is no plan. */
export const MAX_STEPS = 40;
/** Longer texts are no runbooks. */
export const MAX_RUNBOOK_LENGTH = 100_000;
/** The end of a runbook, as a step that may be named. */
export const END = 'end';

const id = { type: 'string', pattern: '^[a-z0-9][a-z0-9-]{0,39}$' } as const;
const title = { type: 'string', minLength: 1, maxLength: 200 } as const;
const head = { id, title } as const;
const beginsWith = ['id', 'title', 'do'] as const;

/** A hunt over the last days: whether it finds rows decides. Names of the alert are its blanks, such as `$user`. */
const huntStep = {
  type: 'object',
  required: [...beginsWith, 'hunt'],
  additionalProperties: false,
  properties: {
    ...head,
    do: { const: 'hunt' },
    hunt: { type: 'string', minLength: 1, maxLength: 20_000 },
    last: { enum: lastWindows },
    found: { ...id, description: 'where it goes on where rows are found; else with the next step' },
    nothing: { ...id, description: 'where it goes on where none are' },
  },
} as const;

/** A response on whom the alert is about: it waits for whoever approves it, and until it was carried out. */
const respondStep = {
  type: 'object',
  required: [...beginsWith, 'response'],
  additionalProperties: false,
  properties: {
    ...head,
    do: { const: 'respond' },
    response: { type: 'string', minLength: 1, maxLength: 100 },
    hours: { type: 'integer', minimum: 1, maximum: 8760 },
    done: id,
    refused: { ...id, description: 'where it goes on where it was refused, or could not be done' },
  },
} as const;

/** A question to the analyst, with the answers there are. */
const askStep = {
  type: 'object',
  required: [...beginsWith, 'question', 'answers'],
  additionalProperties: false,
  properties: {
    ...head,
    do: { const: 'ask' },
    question: { type: 'string', minLength: 1, maxLength: 1000 },
    answers: {
      type: 'array',
      minItems: 2,
      maxItems: 8,
      items: {
        type: 'object',
        required: ['says'],
        additionalProperties: false,
        properties: { says: { type: 'string', minLength: 1, maxLength: 100 }, go: id },
      },
    },
  },
} as const;

/** A message to a destination, or a line on the alert where none is named. */
const messageStep = {
  type: 'object',
  required: [...beginsWith, 'text'],
  additionalProperties: false,
  properties: {
    ...head,
    do: { const: 'message' },
    to: { type: 'string', minLength: 1, maxLength: 100 },
    text: { type: 'string', minLength: 1, maxLength: 4000 },
    go: id,
  },
} as const;

const waitStep = {
  type: 'object',
  required: [...beginsWith, 'minutes'],
  additionalProperties: false,
  properties: {
    ...head,
    do: { const: 'wait' },
    minutes: { type: 'integer', minimum: 1, maximum: 43_200 },
    go: id,
  },
} as const;

/** A runbook: an ordered set of steps, with branches that lead forward. */
export const runbook = {
  type: 'object',
  required: ['title', 'steps'],
  additionalProperties: false,
  properties: {
    title,
    about: { type: 'string', maxLength: 1000 },
    steps: {
      type: 'array',
      minItems: 1,
      maxItems: MAX_STEPS,
      items: {
        type: 'object',
        required: ['do'],
        properties: { do: { enum: ['hunt', 'respond', 'ask', 'message', 'wait'] } },
        discriminator: { propertyName: 'do' },
        oneOf: [huntStep, respondStep, askStep, messageStep, waitStep],
      },
    },
  },
} as const;

type Head = { readonly id: string; readonly title: string };
export type HuntStep = Head & Wire<typeof huntStep>;
export type RespondStep = Head & Wire<typeof respondStep>;
export type AskStep = Head & Wire<typeof askStep>;
export type MessageStep = Head & Wire<typeof messageStep>;
export type WaitStep = Head & Wire<typeof waitStep>;
export type Step = HuntStep | RespondStep | AskStep | MessageStep | WaitStep;

/** A runbook that was checked. */
export interface Runbook {
  readonly title: string;
  readonly about?: string;
  readonly steps: readonly Step[];
}

/** How far back a hunt of a runbook looks where it does not say. */
export const USUAL_LAST = '7d';
