import { failurePiece, levels, maybeText, moment, window, type Wire } from './common.js';

/** At most so many rows of a hunt are sent to a screen; exports stream all. */
export const MAX_ROWS = 100_000;

/** What the blanks of a hunt are filled with, by name; empty means the default. */
export const parameters = {
  type: 'object',
  additionalProperties: { type: 'string', maxLength: 1000 },
  maxProperties: 50,
} as const;

/** Conditions that are carried along in the Beam, such as `user = 'teo.marrash'`. */
export const carriedConditions = {
  type: 'array',
  maxItems: 20,
  items: { type: 'string', maxLength: 1000 },
  description: 'conditions that hold besides',
} as const;

export const huntRequest = {
  type: 'object',
  required: ['text', 'window'],
  additionalProperties: false,
  properties: {
    text: { type: 'string', maxLength: 100_000 },
    window,
    parameters,
    carried: carriedConditions,
    shares: {
      type: 'boolean',
      description: 'measures the share of each step in the time, also where that takes long',
    },
    limit: { type: 'integer', minimum: 1, maximum: MAX_ROWS, default: 1000 },
  },
} as const;
export type HuntRequest = Wire<typeof huntRequest>;

/** As CSV, as CSV that spreadsheets open without changing it, or as JSON lines. */
export const exportFormats = ['csv', 'spreadsheet', 'jsonl'] as const;
export type ExportFormat = (typeof exportFormats)[number];

/** A hunt whose rows are wanted as a file. */
export const exportRequest = {
  type: 'object',
  required: ['text', 'window', 'format'],
  additionalProperties: false,
  properties: {
    text: huntRequest.properties.text,
    window,
    parameters,
    carried: carriedConditions,
    format: { enum: exportFormats },
  },
} as const;

export const huntColumn = {
  type: 'object',
  required: ['name', 'type', 'field'],
  additionalProperties: false,
  properties: {
    name: { type: 'string' },
    type: { enum: ['text', 'number', 'time', 'address', 'truth', 'texts', 'addresses', 'any'] },
    field: { ...maybeText, description: 'the canonical field whose values it holds, if any' },
  },
} as const;
export type HuntColumn = Wire<typeof huntColumn>;

export const huntStep = {
  type: 'object',
  required: ['line', 'keyword', 'rows', 'share'],
  additionalProperties: false,
  properties: {
    line: { type: 'integer' },
    keyword: { type: 'string' },
    rows: { anyOf: [{ type: 'number' }, { type: 'null' }], description: 'how many rows passed it' },
    share: {
      anyOf: [{ type: 'number' }, { type: 'null' }],
      description: 'its share of the time, 0 to 1; null where it was not measured',
    },
  },
} as const;

export const rowEvent = {
  anyOf: [
    {
      type: 'object',
      required: ['id', 'time'],
      additionalProperties: false,
      properties: {
        id: { type: 'string' },
        time: moment,
        name: { type: 'string', description: 'what it is to the row, where the row opens several' },
        also: {
          type: 'array',
          description: 'further events a row of a table opens, by what they are to it',
          items: {
            type: 'object',
            required: ['name', 'id', 'time'],
            additionalProperties: false,
            properties: { name: { type: 'string' }, id: { type: 'string' }, time: moment },
          },
        },
      },
    },
    { type: 'null' },
  ],
} as const;

/** How much of a window has been read, the newest day first. */
export const coverage = {
  type: 'object',
  required: ['days', 'of', 'since'],
  additionalProperties: false,
  properties: {
    days: { type: 'integer', description: 'days read' },
    of: { type: 'integer', description: 'days in the window' },
    since: { ...moment, description: 'from when on everything has been read' },
  },
} as const;
export type Coverage = Wire<typeof coverage>;

/** The answer to a hunt: one document, or the same in pieces as JSON lines. */
export const huntResult = {
  type: 'object',
  required: ['columns', 'rows', 'events', 'complete', 'steps', 'notes', 'how', 'remarks', 'milliseconds'],
  additionalProperties: false,
  properties: {
    columns: { type: 'array', items: huntColumn },
    rows: { type: 'array', items: { type: 'array' } },
    events: {
      type: 'array',
      items: rowEvent,
      description: 'the event each row is; null where a row is none',
    },
    complete: { type: 'boolean', description: 'false where there are more rows than were asked for' },
    steps: { type: 'array', items: huntStep },
    notes: { type: 'array', items: { type: 'string' } },
    remarks: {
      type: 'array',
      items: { type: 'string' },
      description: 'what steps say of the rows they met',
    },
    how: {
      type: 'array',
      items: { type: 'string' },
      description: 'which way the hunt was answered, in words',
    },
    milliseconds: { type: 'number' },
  },
} as const;
export type HuntResultWire = Wire<typeof huntResult>;

/** A piece of a hunt's answer, one a line. */
export const huntPiece = {
  anyOf: [
    {
      type: 'object',
      description: 'it waits its turn',
      required: ['piece', 'before'],
      additionalProperties: false,
      properties: {
        piece: { const: 'waiting' },
        before: { type: 'integer', description: 'so many of yours go before' },
      },
    },
    {
      type: 'object',
      description: 'what the rows hold, before the first of them',
      required: ['piece', 'columns', 'notes', 'how'],
      additionalProperties: false,
      properties: {
        piece: { const: 'columns' },
        columns: huntResult.properties.columns,
        notes: huntResult.properties.notes,
        how: huntResult.properties.how,
      },
    },
    {
      type: 'object',
      description: 'further rows',
      required: ['piece', 'rows', 'events'],
      additionalProperties: false,
      properties: {
        piece: { const: 'rows' },
        rows: huntResult.properties.rows,
        events: huntResult.properties.events,
      },
    },
    {
      type: 'object',
      description: 'all rows as far as they are known: they take the place of what came before',
      required: ['piece', 'rows', 'events', 'coverage'],
      additionalProperties: false,
      properties: {
        piece: { const: 'picture' },
        rows: huntResult.properties.rows,
        events: huntResult.properties.events,
        coverage,
      },
    },
    {
      type: 'object',
      description: 'how far it has read; the rows stay as they are',
      required: ['piece', 'coverage'],
      additionalProperties: false,
      properties: { piece: { const: 'coverage' }, coverage },
    },
    {
      type: 'object',
      description: 'no more rows come',
      required: ['piece', 'complete', 'milliseconds'],
      additionalProperties: false,
      properties: {
        piece: { const: 'end' },
        complete: huntResult.properties.complete,
        milliseconds: huntResult.properties.milliseconds,
      },
    },
    {
      type: 'object',
      description: 'how many rows each step let through',
      required: ['piece', 'steps', 'remarks'],
      additionalProperties: false,
      properties: {
        piece: { const: 'steps' },
        steps: huntResult.properties.steps,
        remarks: huntResult.properties.remarks,
      },
    },
    failurePiece,
  ],
} as const;
export type HuntPiece = Wire<typeof huntPiece>;

/** What a hunt would read, before it runs. */
export const huntCost = {
  type: 'object',
  required: ['events', 'small'],
  additionalProperties: false,
  properties: {
    events: { type: 'number', description: 'events of its kinds and sources in its windows' },
    small: { type: 'boolean', description: 'whether it runs within a moment' },
  },
} as const;
export type HuntCost = Wire<typeof huntCost>;

export const timelineRequest = {
  type: 'object',
  required: ['text', 'window'],
  additionalProperties: false,
  properties: {
    text: { type: 'string', maxLength: 100_000 },
    window,
    parameters,
    carried: carriedConditions,
    bars: { type: 'integer', minimum: 5, maximum: 400, default: 60 },
    split: {
      type: 'string',
      maxLength: 60,
      description: 'the field that splits each bar',
      default: 'outcome',
    },
  },
} as const;

export const timeline = {
  type: 'object',
  required: ['window', 'seconds', 'split', 'bars'],
  additionalProperties: false,
  properties: {
    window,
    seconds: { type: 'number', description: 'width of a bar' },
    split: { type: 'string', description: 'the field that splits the bars' },
    bars: {
      type: 'array',
      items: {
        type: 'object',
        required: ['time', 'split', 'other', 'count'],
        additionalProperties: false,
        properties: {
          time: moment,
          split: maybeText,
          other: { type: 'boolean', description: 'true for the lighter values, put together' },
          count: { type: 'number' },
        },
      },
    },
  },
} as const;
export type Timeline = Wire<typeof timeline>;

export const checkRequest = {
  type: 'object',
  required: ['text'],
  additionalProperties: false,
  properties: { text: { type: 'string', maxLength: 100_000 } },
} as const;

export const valuesQuery = {
  type: 'object',
  required: ['field'],
  additionalProperties: false,
  properties: {
    field: { type: 'string', maxLength: 300 },
    prefix: { type: 'string', maxLength: 200, default: '' },
  },
} as const;

export const values = {
  type: 'object',
  required: ['values'],
  additionalProperties: false,
  properties: {
    values: {
      type: 'array',
      items: {
        type: 'object',
        required: ['value', 'count'],
        additionalProperties: false,
        properties: { value: { type: 'string' }, count: { type: 'number' } },
      },
    },
  },
} as const;
export type FieldValues = Wire<typeof values>;

/** One event in full: its columns by name, nulls left out. */
export const storedEvent = {
  type: 'object',
  required: ['id', 'time', 'received', 'source', 'kind', 'original', 'raw'],
  additionalProperties: true,
  properties: {
    id: { type: 'string' },
    time: moment,
    received: moment,
    source: { type: 'string' },
    kind: { type: 'string' },
    original: { type: 'object' },
    raw: { type: 'string' },
    explained: {
      type: 'object',
      additionalProperties: { type: 'string' },
      description: 'codes in plain words, by field, from the lists of codes',
    },
    marked: {
      type: 'array',
      description: 'the rules that it met: those that marked it, and those that raised an alert of it',
      items: {
        type: 'object',
        required: ['rule', 'title', 'level', 'alert'],
        additionalProperties: false,
        properties: {
          rule: { type: 'string' },
          title: { type: 'string' },
          level: levels,
          alert: { type: ['integer', 'null'] },
        },
      },
    },
  },
} as const;
export type StoredEventWire = Wire<typeof storedEvent>;
