/** The number of something kept, as it stands in a path. */
export const rowNumber = { type: 'string', pattern: '^[1-9][0-9]{0,14}$' } as const;

export const byNumber = {
  type: 'object',
  required: ['id'],
  additionalProperties: false,
  properties: { id: rowNumber },
} as const;

export const byUuid = {
  type: 'object',
  required: ['id'],
  additionalProperties: false,
  properties: { id: { type: 'string', format: 'uuid' } },
} as const;

export const bySource = {
  type: 'object',
  required: ['source'],
  additionalProperties: false,
  properties: { source: { type: 'string', maxLength: 100 } },
} as const;
