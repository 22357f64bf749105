import { caseRoles, markings, pinKinds, reportForms } from '../cases/words.js';
import { verdicts } from './alerts.js';
import { levels, maybeMoment, maybeText, moment, texts, type Wire } from './common.js';
import { next, pageQuery } from './paging.js';

const caseState = { enum: ['open', 'closed'] } as const;
export const title = { type: 'string', minLength: 1, maxLength: 300 } as const;
export const marking = { enum: markings, description: 'TLP 2.0, the strictest first' } as const;
export const maybeMarking = { enum: [...markings, null], description: 'null: that of the case' } as const;
const maybeVerdict = { enum: [...verdicts, null] } as const;
export const maybeLevel = { enum: [...levels.enum, null] } as const;
const who = { type: 'string' } as const;

export const caseSummary = {
  type: 'object',
  required: [
    'id',
    'number',
    'title',
    'owner',
    'state',
    'severity',
    'verdict',
    'waitingOn',
    'created',
    'updated',
    'pins',
    'watched',
  ],
  additionalProperties: false,
  properties: {
    id: { type: 'integer' },
    number: { type: 'string', description: 'year and count, such as 26-118' },
    title: { type: 'string' },
    owner: { type: 'string' },
    state: caseState,
    severity: maybeLevel,
    verdict: maybeVerdict,
    waitingOn: { type: 'string', description: 'what it waits for; empty where for nothing' },
    created: moment,
    updated: moment,
    pins: { type: 'integer' },
    watched: {
      anyOf: [{ enum: ['seen', 'news'] }, { type: 'null' }],
      description: 'whether whoever asks follows it, and whether it changed since they looked',
    },
  },
} as const;
export type CaseSummary = Wire<typeof caseSummary>;
export const caseQuery = { type: 'object', additionalProperties: false, properties: pageQuery } as const;
export const caseList = {
  type: 'object',
  required: ['cases', 'next'],
  additionalProperties: false,
  properties: { cases: { type: 'array', items: caseSummary }, next },
} as const;
export type CaseList = Wire<typeof caseList>;

export const pinFields = {
  kind: { enum: pinKinds },
  ref: { type: 'string', minLength: 1, maxLength: 8000 },
  title: { type: 'string', maxLength: 500 },
} as const;
export const why = { type: 'string', maxLength: 1000, description: 'why it was pinned, in a line' } as const;

const casePin = {
  type: 'object',
  required: [
    'id',
    'kind',
    'ref',
    'title',
    'time',
    'who',
    'at',
    'why',
    'key',
    'marking',
    'sha256',
    'outcome',
    'level',
    'place',
  ],
  additionalProperties: false,
  properties: {
    id: { type: 'integer' },
    ...pinFields,
    time: maybeMoment,
    who,
    at: moment,
    why,
    key: { type: 'boolean' },
    marking: maybeMarking,
    sha256: { ...maybeText, description: 'of what was frozen; null where it was pinned before evidence was' },
    outcome: maybeText,
    level: maybeText,
    place: maybeText,
  },
} as const;
export type CasePinWire = Wire<typeof casePin>;

const caseTask = {
  type: 'object',
  required: ['id', 'what', 'owner', 'due', 'done', 'doneBy'],
  additionalProperties: false,
  properties: {
    id: { type: 'integer' },
    what: { type: 'string' },
    owner: who,
    due: maybeMoment,
    done: maybeMoment,
    doneBy: maybeText,
  },
} as const;

const caseSubject = {
  type: 'object',
  required: ['kind', 'name', 'role'],
  additionalProperties: false,
  properties: {
    kind: { type: 'string' },
    name: { type: 'string' },
    role: { enum: [...caseRoles, null], description: 'null: named by the evidence, without a role yet' },
  },
} as const;

const caseNote = {
  type: 'object',
  required: ['id', 'who', 'at', 'text', 'pin', 'inReport', 'isLine'],
  additionalProperties: false,
  properties: {
    id: { type: 'integer' },
    who,
    at: moment,
    text: { type: 'string' },
    pin: { type: ['integer', 'null'] },
    inReport: { type: 'boolean' },
    isLine: { type: 'boolean', description: 'written by the workbench: what was done' },
  },
} as const;
export type CaseNote = Wire<typeof caseNote>;

export const caseDetail = {
  ...caseSummary,
  required: [
    ...caseSummary.required,
    'lede',
    'marking',
    'handed',
    'mergedInto',
    'pinned',
    'notes',
    'tasks',
    'subjects',
    'techniques',
    'draft',
    'writing',
    'watchers',
    'links',
  ],
  properties: {
    ...caseSummary.properties,
    lede: { type: 'string', description: 'how the report opens' },
    marking,
    handed: {
      anyOf: [
        {
          type: 'object',
          required: ['by', 'line', 'at'],
          additionalProperties: false,
          properties: { by: who, line: { type: 'string' }, at: moment },
        },
        { type: 'null' },
      ],
    },
    mergedInto: { type: ['integer', 'null'] },
    pinned: { type: 'array', description: 'what was pinned, by when it happened', items: casePin },
    notes: { type: 'array', items: caseNote },
    tasks: { type: 'array', items: caseTask },
    subjects: { type: 'array', items: caseSubject },
    techniques: {
      type: 'array',
      items: {
        type: 'object',
        required: ['id', 'name'],
        additionalProperties: false,
        properties: { id: { type: 'string' }, name: { type: 'string' } },
      },
    },
    draft: {
      anyOf: [
        {
          type: 'object',
          required: ['text', 'pin', 'at'],
          additionalProperties: false,
          properties: { text: { type: 'string' }, pin: { type: ['integer', 'null'] }, at: moment },
        },
        { type: 'null' },
      ],
      description: 'a note of your own that is not kept yet',
    },
    writing: { ...texts, description: 'who else is writing a note' },
    watchers: { ...texts, description: 'who follows it' },
    links: {
      type: 'array',
      description: 'cases that belong together with it',
      items: {
        type: 'object',
        required: ['id', 'number', 'title', 'state', 'why'],
        additionalProperties: false,
        properties: {
          id: { type: 'integer' },
          number: { type: 'string' },
          title: { type: 'string' },
          state: caseState,
          why: { type: 'string' },
        },
      },
    },
  },
} as const;
export type CaseDetail = Wire<typeof caseDetail>;

export const newPin = {
  type: 'object',
  required: ['kind', 'ref', 'title'],
  additionalProperties: false,
  properties: {
    ...pinFields,
    time: maybeMoment,
    why: { ...why, default: '' },
    key: { type: 'boolean', default: false },
  },
} as const;
export type NewPin = Omit<Wire<typeof newPin>, 'why' | 'key'> & {
  readonly why?: string;
  readonly key?: boolean;
};

export const pinChange = {
  type: 'object',
  minProperties: 1,
  additionalProperties: false,
  properties: { why, key: { type: 'boolean' }, marking: maybeMarking },
} as const;

/** A pinned thing as it was when it was pinned. */
export const pinContent = {
  type: 'object',
  required: ['frozen', 'sha256', 'holds', 'facts', 'table', 'subjects'],
  additionalProperties: false,
  properties: {
    frozen: { description: 'the thing itself; null where it was pinned before evidence was frozen' },
    sha256: maybeText,
    holds: { type: ['boolean', 'null'], description: 'whether it still has the hash it was pinned with' },
    facts: {
      type: 'array',
      items: {
        type: 'object',
        required: ['label', 'value'],
        additionalProperties: false,
        properties: { label: { type: 'string' }, value: { type: 'string' } },
      },
    },
    table: {
      anyOf: [
        {
          type: 'object',
          required: ['columns', 'rows', 'total'],
          additionalProperties: false,
          properties: {
            columns: texts,
            rows: { type: 'array', items: texts },
            total: { type: 'integer' },
          },
        },
        { type: 'null' },
      ],
    },
    subjects: {
      type: 'array',
      items: {
        type: 'object',
        required: ['kind', 'name'],
        additionalProperties: false,
        properties: { kind: { type: 'string' }, name: { type: 'string' } },
      },
    },
  },
} as const;
export type PinContent = Wire<typeof pinContent>;

/** Whether what is pinned is what it was. */
export const caseVerified = {
  type: 'object',
  required: ['holds', 'pins'],
  additionalProperties: false,
  properties: {
    holds: { type: 'boolean' },
    pins: {
      type: 'array',
      items: {
        type: 'object',
        required: ['id', 'title', 'sha256', 'holds'],
        additionalProperties: false,
        properties: {
          id: { type: 'integer' },
          title: { type: 'string' },
          sha256: maybeText,
          holds: { type: ['boolean', 'null'], description: 'null where nothing was frozen' },
        },
      },
    },
  },
} as const;
export type CaseVerified = Wire<typeof caseVerified>;

export const newCase = {
  type: 'object',
  required: ['title'],
  additionalProperties: false,
  properties: { title, pins: { type: 'array', maxItems: 100, items: newPin, default: [] } },
} as const;

export const caseChange = {
  type: 'object',
  minProperties: 1,
  additionalProperties: false,
  properties: {
    title,
    owner: { type: 'string', minLength: 1, maxLength: 200 },
    line: { type: 'string', maxLength: 1000, description: 'what to say to whom it is handed' },
    state: caseState,
    verdict: { ...maybeVerdict, description: 'needed to close it' },
    settle: { type: 'boolean', description: 'settle its alerts with the same verdict when it is closed' },
    severity: maybeLevel,
    waitingOn: { type: 'string', maxLength: 300 },
    lede: { type: 'string', maxLength: 5000 },
    marking,
  },
} as const;
export type CaseChange = Wire<typeof caseChange>;

export const newNote = {
  type: 'object',
  required: ['text'],
  additionalProperties: false,
  properties: {
    text: { type: 'string', minLength: 1, maxLength: 20_000 },
    pin: { type: ['integer', 'null'], default: null },
    inReport: { type: 'boolean', default: true },
  },
} as const;

export const noteDraft = {
  type: 'object',
  required: ['text'],
  additionalProperties: false,
  properties: {
    text: { type: 'string', maxLength: 20_000 },
    pin: { type: ['integer', 'null'], default: null },
  },
} as const;

export const newTask = {
  type: 'object',
  required: ['what', 'owner'],
  additionalProperties: false,
  properties: {
    what: { type: 'string', minLength: 1, maxLength: 300 },
    owner: { type: 'string', minLength: 1, maxLength: 200 },
    due: maybeMoment,
  },
} as const;
export const taskChange = {
  type: 'object',
  required: ['done'],
  additionalProperties: false,
  properties: { done: { type: 'boolean' } },
} as const;

export const subjectRole = {
  type: 'object',
  required: ['kind', 'name', 'role'],
  additionalProperties: false,
  properties: {
    kind: { type: 'string', minLength: 1, maxLength: 40 },
    name: { type: 'string', minLength: 1, maxLength: 500 },
    role: { enum: [...caseRoles, null], description: 'null takes it off' },
  },
} as const;

export const caseMerge = {
  type: 'object',
  required: ['from'],
  additionalProperties: false,
  properties: { from: { type: 'integer', description: 'the case whose things go over' } },
} as const;

export const caseSplit = {
  type: 'object',
  required: ['title', 'pins'],
  additionalProperties: false,
  properties: {
    title,
    pins: { type: 'array', minItems: 1, maxItems: 1000, items: { type: 'integer' } },
  },
} as const;

export const caseWatch = {
  type: 'object',
  required: ['watching'],
  additionalProperties: false,
  properties: { watching: { type: 'boolean' } },
} as const;

export const caseLink = {
  type: 'object',
  required: ['to'],
  additionalProperties: false,
  properties: {
    to: { type: 'integer' },
    why: { type: 'string', maxLength: 300, default: '' },
  },
} as const;

export const caseSuggestions = {
  type: 'object',
  required: ['suggested'],
  additionalProperties: false,
  properties: {
    suggested: {
      type: 'array',
      items: {
        type: 'object',
        required: ['kind', 'id', 'title', 'subject', 'level', 'at', 'shares', 'rarity'],
        additionalProperties: false,
        properties: {
          kind: { enum: ['alert', 'case'] },
          id: { type: 'integer' },
          title: { type: 'string' },
          subject: { type: 'string' },
          level: maybeText,
          at: moment,
          shares: { ...texts, description: 'what it has in common with the case' },
          rarity: {
            type: 'integer',
            description: 'how many alerts of thirty days name the rarest thing that is shared',
          },
        },
      },
    },
  },
} as const;
export type CaseSuggestion = Wire<typeof caseSuggestions>['suggested'][number];

export const reportQuery = {
  type: 'object',
  required: ['form'],
  additionalProperties: false,
  properties: { form: { enum: reportForms }, marking: { ...marking, description: 'of those it is for' } },
} as const;
