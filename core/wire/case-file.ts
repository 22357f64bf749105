import { caseRoles } from '../cases/words.js';
import { marking, maybeLevel, maybeMarking, pinFields, title, why } from './cases.js';
import { maybeMoment, moment, type Wire } from './common.js';

const longText = { type: 'string', maxLength: 20_000 } as const;

/** A case as a file: what another installation reads. */
export const caseFile = {
  type: 'object',
  required: ['format', 'version', 'case'],
  properties: {
    files: {
      type: 'array',
      maxItems: 1000,
      description: 'the files that are pinned, as they came',
      items: {
        type: 'object',
        required: ['sha256', 'base64'],
        additionalProperties: false,
        properties: {
          sha256: { type: 'string', pattern: '^[0-9a-f]{64}$' },
          base64: { type: 'string', maxLength: 14_000_000, pattern: '^[A-Za-z0-9+/]*={0,2}$' },
        },
      },
    },
    format: { const: 'under-lamp-case' },
    version: { const: 1 },
    made: moment,
    case: {
      type: 'object',
      required: ['number', 'title', 'severity', 'lede', 'marking', 'pins', 'notes', 'tasks', 'subjects'],
      properties: {
        number: { type: 'string', maxLength: 20 },
        title,
        severity: maybeLevel,
        lede: { type: 'string', maxLength: 5000 },
        marking,
        pins: {
          type: 'array',
          maxItems: 1000,
          items: {
            type: 'object',
            required: [
              'kind',
              'ref',
              'title',
              'time',
              'who',
              'at',
              'why',
              'key',
              'marking',
              'frozen',
              'sha256',
            ],
            properties: {
              ...pinFields,
              time: maybeMoment,
              who: { type: 'string', maxLength: 200 },
              at: moment,
              why,
              key: { type: 'boolean' },
              marking: maybeMarking,
              frozen: { type: ['string', 'null'], maxLength: 4_000_000 },
              sha256: { type: ['string', 'null'], pattern: '^[0-9a-f]{64}$' },
            },
          },
        },
        notes: {
          type: 'array',
          maxItems: 1000,
          items: {
            type: 'object',
            required: ['who', 'at', 'text'],
            properties: { who: { type: 'string', maxLength: 200 }, at: moment, text: longText },
          },
        },
        tasks: {
          type: 'array',
          maxItems: 1000,
          items: {
            type: 'object',
            required: ['what', 'owner', 'due', 'done'],
            properties: {
              what: { type: 'string', maxLength: 300 },
              owner: { type: 'string', maxLength: 200 },
              due: maybeMoment,
              done: maybeMoment,
            },
          },
        },
        subjects: {
          type: 'array',
          maxItems: 1000,
          items: {
            type: 'object',
            required: ['kind', 'name', 'role'],
            properties: {
              kind: { type: 'string', minLength: 1, maxLength: 40 },
              name: { type: 'string', minLength: 1, maxLength: 500 },
              role: { enum: caseRoles },
            },
          },
        },
      },
    },
  },
} as const;
export type CaseFileWire = Wire<typeof caseFile>;
