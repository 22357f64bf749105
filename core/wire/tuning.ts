import { changeKinds, cutOps, noiseKinds, tactics } from '../tuning/words.js';
import { failurePiece, levels, maybeMoment, maybeText, moment, texts, window, type Wire } from './common.js';

export const count = { type: 'integer', minimum: 0 } as const;
const maybeNumber = { type: ['number', 'null'] } as const;

const judgementCounts = {
  type: 'object',
  required: ['real', 'harmless', 'wrong', 'unsure', 'unsettled'],
  additionalProperties: false,
  properties: { real: count, harmless: count, wrong: count, unsure: count, unsettled: count },
} as const;
export type JudgementCountsWire = Wire<typeof judgementCounts>;

export const tuningQuery = {
  type: 'object',
  required: ['from', 'to'],
  additionalProperties: false,
  properties: { from: moment, to: moment },
} as const;

const rankedRule = {
  type: 'object',
  required: [
    'id',
    'title',
    'level',
    'kind',
    'state',
    'matches',
    'alerts',
    'alertsBefore',
    'perDay',
    'subjects',
    'verdicts',
    'work',
    'lastReal',
    'silentDays',
  ],
  additionalProperties: false,
  properties: {
    id: { type: 'string' },
    title: { type: 'string' },
    level: levels,
    kind: { enum: noiseKinds },
    state: { enum: ['draft', 'on', 'off'] },
    matches: count,
    alerts: count,
    alertsBefore: { ...count, description: 'alerts of as long a time before' },
    perDay: { type: 'number', description: 'alerts a day' },
    subjects: count,
    verdicts: { ...judgementCounts, description: 'of its alerts' },
    work: {
      ...maybeNumber,
      description: 'minutes of work: the median from taken to settled, for each alert',
    },
    lastReal: maybeMoment,
    silentDays: { ...maybeNumber, description: 'days since it last matched; null where it never did' },
  },
} as const;
export type RankedRuleWire = Wire<typeof rankedRule>;

const rankedSubject = {
  type: 'object',
  required: ['subject', 'rules', 'alerts', 'matches', 'verdicts', 'work'],
  additionalProperties: false,
  properties: {
    subject: { type: 'string' },
    rules: { ...texts, description: 'titles of the rules that name it' },
    alerts: count,
    matches: count,
    verdicts: judgementCounts,
    work: maybeNumber,
  },
} as const;
export type RankedSubjectWire = Wire<typeof rankedSubject>;

const silentRule = {
  type: 'object',
  required: ['id', 'title', 'why', 'kind'],
  additionalProperties: false,
  properties: {
    id: { type: 'string' },
    title: { type: 'string' },
    kind: { enum: ['source-absent', 'source-quiet', 'list-empty', 'field-empty', 'nothing-met'] },
    why: { type: 'string', description: 'why it never matched, in words, with the nearest miss' },
  },
} as const;
export type SilentRuleWire = Wire<typeof silentRule>;

/** Rules and subjects by the noise they make. */
export const noiseRanking = {
  type: 'object',
  required: ['window', 'rules', 'subjects'],
  additionalProperties: false,
  properties: {
    window,
    rules: {
      type: 'array',
      items: rankedRule,
      description: 'those that raise alerts first, the noisiest first',
    },
    subjects: { type: 'array', items: rankedSubject },
  },
} as const;
export type NoiseRanking = Wire<typeof noiseRanking>;

/** Rules that are on and matched nothing. */
export const silentRules = {
  type: 'object',
  required: ['silent'],
  additionalProperties: false,
  properties: { silent: { type: 'array', items: silentRule } },
} as const;

const cutCondition = {
  type: 'object',
  required: ['field', 'op', 'value'],
  additionalProperties: false,
  properties: {
    field: { type: 'string', minLength: 1, maxLength: 300 },
    op: { enum: cutOps },
    value: { anyOf: [{ type: 'string', maxLength: 1000 }, { type: 'null' }] },
  },
} as const;
export const cut = {
  type: 'object',
  required: ['all'],
  additionalProperties: false,
  properties: { all: { type: 'array', minItems: 1, maxItems: 5, items: cutCondition } },
} as const;
export type CutWire = Wire<typeof cut>;
export const cuts = { type: 'array', maxItems: 20, items: cut } as const;

const coveringRule = {
  type: 'object',
  required: ['id', 'title', 'tags', 'state', 'onMatch', 'blind', 'tests', 'lastReal'],
  additionalProperties: false,
  properties: {
    id: { type: 'string' },
    title: { type: 'string' },
    tags: texts,
    state: { enum: ['draft', 'on', 'off'] },
    onMatch: { enum: ['alert', 'mark', 'count'] },
    blind: { ...maybeText, description: 'why it sees nothing; null where it sees' },
    tests: count,
    lastReal: maybeMoment,
  },
} as const;

/** Techniques by tactic, each with the rules that look for it. */
export const coverage = {
  type: 'object',
  required: ['tactics'],
  additionalProperties: false,
  properties: {
    tactics: {
      type: 'array',
      items: {
        type: 'object',
        required: ['tactic', 'techniques'],
        additionalProperties: false,
        properties: {
          tactic: { enum: tactics },
          techniques: {
            type: 'array',
            items: {
              type: 'object',
              required: ['id', 'name', 'standing', 'rules'],
              additionalProperties: false,
              properties: {
                id: { type: 'string' },
                name: { type: 'string' },
                standing: { enum: ['seen', 'marked', 'blind', 'off', 'none'] },
                rules: { type: 'array', items: coveringRule },
              },
            },
          },
        },
      },
    },
  },
} as const;
export type CoverageWire = Wire<typeof coverage>;

export const studyRequest = {
  type: 'object',
  required: ['window'],
  additionalProperties: false,
  properties: { window: { ...window, description: 'the time of proof' } },
} as const;

const dayCounts = {
  type: 'object',
  required: ['day', 'matches', 'alerts', 'real'],
  additionalProperties: false,
  properties: { day: moment, matches: count, alerts: count, real: count },
} as const;
export const days = { type: 'array', items: dayCounts } as const;

const restsOnNode = {
  type: 'object',
  required: ['id', 'column', 'title', 'says', 'state', 'address'],
  additionalProperties: false,
  properties: {
    id: { type: 'string' },
    column: { enum: ['sources', 'conditions', 'rule', 'does'] },
    title: { type: 'string' },
    says: { type: 'string' },
    state: { enum: ['well', 'late', 'quiet', 'absent', 'empty'] },
    address: { ...maybeText, description: 'where it is opened; null for what has no page' },
  },
} as const;
export type RestsOnNode = Wire<typeof restsOnNode>;

const restsOn = {
  type: 'object',
  required: ['nodes', 'edges'],
  additionalProperties: false,
  properties: {
    nodes: { type: 'array', items: restsOnNode },
    edges: { type: 'array', items: { type: 'array', items: { type: 'string' }, minItems: 2, maxItems: 2 } },
  },
} as const;
export type RestsOn = Wire<typeof restsOn>;

const proposal = {
  type: 'object',
  required: [
    'all',
    'words',
    'removed',
    'alerts',
    'removedHarmless',
    'removedUnsettled',
    'realLost',
    'heldOut',
    'adds',
    'list',
  ],
  additionalProperties: false,
  properties: {
    all: { type: 'array', items: cutCondition },
    words: { type: 'string' },
    removed: count,
    alerts: { ...count, description: 'alerts removed' },
    removedHarmless: count,
    removedUnsettled: count,
    realLost: { ...texts, description: 'matches settled as real that it would lose, by name' },
    heldOut: {
      type: 'object',
      required: ['found', 'removed', 'realLost'],
      additionalProperties: false,
      properties: { found: { type: 'boolean' }, removed: count, realLost: count },
    },
    adds: { ...texts, description: 'the lines it adds to the rule' },
    list: { ...maybeText, description: 'the column that a list row would hold, where it is only a value' },
  },
} as const;
export type ProposalWire = Wire<typeof proposal>;

const origin = {
  type: 'object',
  required: ['values', 'matches', 'subjects', 'verdicts', 'explains'],
  additionalProperties: false,
  properties: {
    values: {
      type: 'array',
      items: {
        type: 'object',
        required: ['field', 'value'],
        additionalProperties: false,
        properties: { field: { type: 'string' }, value: { type: 'string' } },
      },
    },
    matches: count,
    subjects: count,
    verdicts: judgementCounts,
    explains: { type: 'number' },
  },
} as const;

const ruleChange = {
  type: 'object',
  required: ['kind', 'words', 'removed', 'removedUnsettled', 'alerts', 'text'],
  additionalProperties: false,
  description: 'another way than leaving something out; none loses a match settled as real',
  properties: {
    kind: { enum: changeKinds },
    words: { type: 'string' },
    removed: count,
    removedUnsettled: count,
    alerts: { ...count, description: 'alerts removed' },
    text: { type: 'string', description: 'the changed text, to be proved and kept' },
  },
} as const;
export type RuleChangeWire = Wire<typeof ruleChange>;

const settledBefore = {
  type: 'object',
  required: ['alert', 'subject', 'verdict', 'reason', 'owner', 'at'],
  additionalProperties: false,
  properties: {
    alert: { type: 'integer' },
    subject: { type: 'string' },
    verdict: maybeText,
    reason: maybeText,
    owner: maybeText,
    at: moment,
  },
} as const;

const keptVersion = {
  type: 'object',
  required: ['version', 'at', 'author', 'why', 'expected', 'actual'],
  additionalProperties: false,
  properties: {
    version: { type: 'integer' },
    at: moment,
    author: { type: 'string' },
    why: { type: 'string' },
    expected: {
      type: 'object',
      required: ['alertsBefore', 'alertsAfter', 'matchesBefore', 'matchesAfter', 'realKept', 'realLost'],
      additionalProperties: false,
      description: 'by the proof it was kept with, a day',
      properties: {
        alertsBefore: { type: 'number' },
        alertsAfter: { type: 'number' },
        matchesBefore: { type: 'number' },
        matchesAfter: { type: 'number' },
        realKept: count,
        realLost: count,
      },
    },
    actual: {
      anyOf: [
        {
          type: 'object',
          required: ['days', 'alerts', 'matches'],
          additionalProperties: false,
          properties: { days: { type: 'number' }, alerts: { type: 'number' }, matches: { type: 'number' } },
        },
        { type: 'null' },
      ],
      description: 'a day since then; null within the first week',
    },
  },
} as const;
export type KeptVersion = Wire<typeof keptVersion>;

/** A line of the answer: how far it is, then the study. */
export const studyPiece = {
  anyOf: [
    {
      type: 'object',
      required: ['piece', 'done', 'matches'],
      additionalProperties: false,
      properties: { piece: { const: 'progress' }, done: { type: 'number' }, matches: count },
    },
    {
      type: 'object',
      required: [
        'piece',
        'matches',
        'alerts',
        'judged',
        'days',
        'origins',
        'restsOn',
        'proposals',
        'changes',
        'before',
        'kept',
        'version',
        'tunable',
        'note',
        'milliseconds',
      ],
      additionalProperties: false,
      properties: {
        piece: { const: 'study' },
        matches: count,
        alerts: count,
        judged: judgementCounts,
        days,
        origins: { type: 'array', items: origin },
        restsOn,
        proposals: { type: 'array', items: proposal },
        changes: { type: 'array', items: ruleChange },
        before: { type: 'array', items: settledBefore },
        kept: { type: 'array', items: keptVersion },
        version: { type: 'integer' },
        tunable: { type: 'boolean', description: 'whether cuts can be proposed: hunts have none' },
        note: maybeText,
        milliseconds: { type: 'integer' },
      },
    },
    failurePiece,
  ],
} as const;
export type StudyPiece = Wire<typeof studyPiece>;
export type StudyWire = Extract<StudyPiece, { piece: 'study' }>;
