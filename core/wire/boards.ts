import { board } from '../boards/board.js';
import { failurePiece, maybeMoment, maybeText, moment, problem, window, type Wire } from './common.js';
import { carriedConditions, huntPiece, huntResult, parameters } from './hunts.js';

const title = { type: 'string' } as const;

/** Who sees a board besides its owner. */
export const shared = {
  anyOf: [
    { enum: ['me', 'everyone'] },
    { type: 'array', maxItems: 50, items: { type: 'string', minLength: 1, maxLength: 120 } },
  ],
  description: 'only its owner, everyone, or these people by name',
} as const;
export type Shared = Wire<typeof shared>;

const facts = {
  id: { type: 'string', description: 'a number, or the name of a board that ships' },
  owner: { ...maybeText, description: 'who may change it; null for one that ships' },
  shared,
  version: { type: 'integer', description: 'grows with every change; 0 for one that ships' },
  changed: maybeMoment,
} as const;

export const storedBoard = {
  type: 'object',
  required: ['id', 'owner', 'shared', 'version', 'changed', 'board'],
  additionalProperties: false,
  properties: { ...facts, board },
} as const;
export type StoredBoard = Wire<typeof storedBoard>;

export const boardSummary = {
  type: 'object',
  required: ['id', 'owner', 'shared', 'version', 'changed', 'title', 'about', 'cards', 'answered'],
  additionalProperties: false,
  properties: {
    ...facts,
    title,
    about: { type: 'string' },
    cards: { type: 'integer' },
    answered: { ...maybeMoment, description: 'when one of its cards was last counted' },
  },
} as const;
export type BoardSummary = Wire<typeof boardSummary>;

export const boardList = {
  type: 'object',
  required: ['boards'],
  additionalProperties: false,
  properties: { boards: { type: 'array', items: boardSummary } },
} as const;

export const newBoard = {
  type: 'object',
  required: ['board'],
  additionalProperties: false,
  properties: { board, shared },
} as const;
export type NewBoard = Wire<typeof newBoard>;

export const boardChange = {
  type: 'object',
  required: ['board'],
  additionalProperties: false,
  properties: {
    board,
    shared,
    basedOn: {
      type: 'integer',
      description: 'the version that was changed; refused when there is a newer one',
    },
  },
} as const;
export type BoardChange = Wire<typeof boardChange>;

export const boardText = {
  type: 'object',
  required: ['text'],
  additionalProperties: false,
  properties: { text: { type: 'string', maxLength: 500_000, description: 'a board as JSON' } },
} as const;

export const boardCheck = {
  type: 'object',
  required: ['board', 'mistakes'],
  additionalProperties: false,
  properties: {
    board: { anyOf: [board, { type: 'null' }] },
    mistakes: {
      type: 'array',
      items: {
        type: 'object',
        required: ['line', 'column', 'message'],
        additionalProperties: false,
        properties: { line: { type: 'integer' }, column: { type: 'integer' }, message: { type: 'string' } },
      },
    },
  },
} as const;

export const boardVersions = {
  type: 'object',
  required: ['versions'],
  additionalProperties: false,
  properties: {
    versions: {
      type: 'array',
      items: {
        type: 'object',
        required: ['version', 'by', 'at', 'board'],
        additionalProperties: false,
        properties: { version: { type: 'integer' }, by: { type: 'string' }, at: moment, board },
      },
    },
  },
} as const;
export type BoardVersions = Wire<typeof boardVersions>;

/** What a board showed at the times of its schedule, the newest first. */
export const boardSheets = {
  type: 'object',
  required: ['next', 'sheets'],
  additionalProperties: false,
  properties: {
    next: { ...maybeMoment, description: 'when it is answered next; null of one without a schedule' },
    sheets: {
      type: 'array',
      items: {
        type: 'object',
        required: ['id', 'due', 'version', 'made', 'cards', 'failed', 'problem', 'page', 'mailed'],
        additionalProperties: false,
        properties: {
          id: { type: 'integer' },
          due: { ...moment, description: 'the time of the schedule: its window ends then' },
          version: { type: 'integer', description: 'of the board' },
          made: { ...maybeMoment, description: 'null while it is being made' },
          cards: { type: 'integer' },
          failed: { type: 'integer', description: 'cards that could not be counted' },
          problem: { ...maybeText, description: 'why there is no page' },
          page: { type: 'boolean' },
          mailed: {
            type: 'array',
            items: {
              type: 'object',
              required: ['to', 'state', 'said'],
              additionalProperties: false,
              properties: {
                to: { type: 'string' },
                state: { enum: ['waiting', 'sent', 'dead'] },
                said: maybeText,
              },
            },
          },
        },
      },
    },
  },
} as const;
export type BoardSheets = Wire<typeof boardSheets>;

/** Windows that go by the clock, as the Beam has them. */
export const lastWindows = ['15m', '1h', '4h', '24h', '7d', '30d', '90d'] as const;

const view = {
  window: {
    anyOf: [
      window,
      {
        type: 'object',
        required: ['last'],
        additionalProperties: false,
        properties: { last: { enum: lastWindows } },
      },
    ],
  },
  zone: { type: 'string', maxLength: 60, default: 'UTC', description: 'says where a day begins' },
  carried: carriedConditions,
  inputs: parameters,
} as const;

/** A board, stored or as given, and what it is looked at under. */
export const answersRequest = {
  type: 'object',
  required: ['board', 'window'],
  additionalProperties: false,
  properties: {
    board: {
      anyOf: [
        { type: 'string', maxLength: 60 },
        // Checked apart, so that a mistake in it is told as one.
        { type: 'object', additionalProperties: true },
      ],
      description: 'the id of a board, or a board such as POST /boards takes',
    },
    ...view,
    cards: {
      type: 'array',
      maxItems: 40,
      items: { type: 'string', maxLength: 40 },
      description: 'only these of its cards',
    },
    fresh: { type: 'boolean', description: 'counts anew what is kept' },
  },
} as const;
export type AnswersRequest = Wire<typeof answersRequest>;

const [, columnsPiece, rowsPiece, picturePiece, coveragePiece] = huntPiece.anyOf;
const ofCard = { card: { type: 'string', maxLength: 40 } } as const;

/** A piece of the answer to a board, one a line. */
export const answerPiece = {
  anyOf: [
    {
      ...columnsPiece,
      description: 'what the rows of a card hold, before the first of them',
      required: ['card', ...columnsPiece.required, 'text', 'window', 'marked'],
      properties: {
        ...ofCard,
        ...columnsPiece.properties,
        text: { type: 'string', description: 'the hunt that is asked' },
        window,
        marked: {
          type: 'array',
          description: 'values that the Beam carries and the card counts by: it shows all, and marks these',
          items: {
            type: 'object',
            required: ['field', 'value'],
            additionalProperties: false,
            properties: { field: { type: 'string' }, value: { type: 'string' } },
          },
        },
      },
    },
    {
      ...rowsPiece,
      required: ['card', ...rowsPiece.required],
      properties: { ...ofCard, ...rowsPiece.properties },
    },
    {
      ...picturePiece,
      required: ['card', ...picturePiece.required],
      properties: { ...ofCard, ...picturePiece.properties },
    },
    {
      ...coveragePiece,
      required: ['card', ...coveragePiece.required],
      properties: { ...ofCard, ...coveragePiece.properties },
    },
    {
      type: 'object',
      description: 'what is usual for the figures of a card over time',
      required: ['card', 'piece', 'by', 'words', 'points'],
      additionalProperties: false,
      properties: {
        ...ofCard,
        piece: { const: 'usual' },
        by: { enum: ['weekday', 'day', 'none'] },
        words: { type: 'string' },
        points: {
          type: 'array',
          items: {
            type: 'object',
            required: ['time', 'low', 'middle', 'high'],
            additionalProperties: false,
            properties: {
              time: moment,
              low: { type: 'number' },
              middle: { type: 'number' },
              high: { type: 'number' },
            },
          },
        },
      },
    },
    {
      type: 'object',
      description: 'a card is complete',
      required: ['card', 'piece', 'complete', 'counted', 'milliseconds', 'kept'],
      additionalProperties: false,
      properties: {
        ...ofCard,
        piece: { const: 'end' },
        complete: huntResult.properties.complete,
        counted: { ...moment, description: 'when it was counted' },
        milliseconds: huntResult.properties.milliseconds,
        kept: {
          type: 'boolean',
          description: 'whether it had been counted before, for somebody else or earlier',
        },
      },
    },
    {
      ...failurePiece,
      description: 'a card cannot be answered; the others go on',
      required: ['card', ...failurePiece.required],
      properties: { ...ofCard, piece: { const: 'mistake' }, problem },
    },
    {
      type: 'object',
      description: 'nothing follows',
      required: ['piece', 'cards', 'failed', 'milliseconds'],
      additionalProperties: false,
      properties: {
        piece: { const: 'done' },
        cards: { type: 'integer' },
        failed: { type: 'integer' },
        milliseconds: { type: 'number' },
      },
    },
    failurePiece,
  ],
} as const;
export type AnswerPiece = Wire<typeof answerPiece>;

export const ledeRequest = {
  type: 'object',
  required: ['window'],
  additionalProperties: false,
  properties: { ...view },
} as const;
export type LedeRequest = Wire<typeof ledeRequest>;

const ledeFact = {
  type: 'object',
  required: ['words', 'hunt', 'page', 'window'],
  additionalProperties: false,
  properties: {
    words: {
      type: 'array',
      items: {
        anyOf: [
          { type: 'string' },
          {
            type: 'object',
            required: ['name'],
            additionalProperties: false,
            properties: { name: { type: 'string' } },
          },
        ],
      },
    },
    hunt: { ...maybeText, description: 'the hunt behind the sentence' },
    page: { enum: ['alerts', 'sources', null] },
    window,
  },
} as const;

export const lede = {
  type: 'object',
  required: ['sentences', 'more', 'counted'],
  additionalProperties: false,
  properties: {
    sentences: { type: 'array', items: ledeFact },
    more: { type: 'array', items: ledeFact },
    counted: moment,
  },
} as const;
export type LedeWire = Wire<typeof lede>;
