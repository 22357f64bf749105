/** What a list is asked with, where it comes in pages: where to go on, and how many at most. */
export const pageQuery = {
  cursor: {
    type: 'string',
    minLength: 1,
    maxLength: 300,
    description: 'where to go on: "next" of the page before',
  },
  limit: { type: 'integer', minimum: 1, maximum: 1000, default: 500 },
} as const;

/** What a page says of those that follow. */
export const next = {
  type: ['string', 'null'],
  description: 'asked as "cursor", the page that follows; null at the end',
} as const;

/** Which page of a list is asked for. */
export interface PageAsk {
  readonly cursor?: string | undefined;
  readonly limit?: number | undefined;
}
