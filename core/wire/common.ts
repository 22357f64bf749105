import type { FromSchema, JSONSchema } from 'json-schema-to-ts';

/** The TypeScript type a schema describes; schemas are the only source of both. */
export type Wire<S extends JSONSchema> = FromSchema<S>;

/** A moment on the wire: ISO 8601 in UTC. */
export const moment = { type: 'string', format: 'date-time', maxLength: 40 } as const;
export const maybeMoment = { anyOf: [moment, { type: 'null' }] } as const;
export const texts = { type: 'array', items: { type: 'string' } } as const;
export const maybeText = { anyOf: [{ type: 'string' }, { type: 'null' }] } as const;

/** An object all of whose properties are required and no others allowed. */
export const window = {
  type: 'object',
  required: ['from', 'to'],
  additionalProperties: false,
  properties: { from: moment, to: moment },
} as const;

export type WireWindow = Wire<typeof window>;

/** A failure as RFC 9457 says it, with a stable code and what to do. */
export const problem = {
  type: 'object',
  required: ['type', 'title', 'status', 'code', 'detail'],
  properties: {
    type: { type: 'string' },
    title: { type: 'string' },
    status: { type: 'integer' },
    code: { type: 'string', description: 'stable name of what went wrong' },
    detail: { type: 'string', description: 'what went wrong and what to do, in plain words' },
    place: {
      type: 'object',
      description: 'where in a text',
      required: ['line', 'column', 'end'],
      properties: {
        line: { type: 'integer' },
        column: { type: 'integer' },
        end: { type: 'integer' },
        suggestion: { type: 'string' },
      },
    },
  },
} as const;

export type Problem = Wire<typeof problem>;

/** The last line of an answer in lines, where it failed on the way. */
export const failurePiece = {
  type: 'object',
  description: 'it failed on the way; nothing follows',
  required: ['piece', 'problem'],
  additionalProperties: false,
  properties: { piece: { const: 'failure' }, problem },
} as const;

export const levels = { enum: ['informational', 'low', 'medium', 'high', 'critical'] } as const;
export const nothing = { type: 'object', additionalProperties: false } as const;
