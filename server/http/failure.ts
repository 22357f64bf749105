import type { Problem } from '../../core/wire/common.js';

type Place = NonNullable<Problem['place']>;

/** A failure that is told to the caller: what went wrong, and what to do. */
export class Failure extends Error {
  override readonly name = 'Failure';

  constructor(
    readonly status: number,
    readonly code: string,
    message: string,
    readonly extra: { readonly place?: Place; readonly retryAfter?: number; readonly cause?: unknown } = {},
  ) {
    super(message, { cause: extra.cause });
  }
}

export const notFound = (what: string): Failure => new Failure(404, 'not-found', `There is no ${what}.`);
export const invalid = (message: string): Failure => new Failure(400, 'invalid', message);

const titles: Readonly<Record<number, string>> = {
  400: 'The request cannot be read',
  401: 'Sign in first',
  403: 'Not allowed',
  404: 'Not found',
  409: 'Changed meanwhile',
  413: 'Too large',
  415: 'Unknown content type',
  422: 'It says something that cannot be done',
  429: 'Too many requests',
  503: 'Busy',
};

/** A failure as an RFC 9457 document. */
export function toProblem(failure: Failure): Problem {
  const { place } = failure.extra;
  return {
    type: `/problems/${failure.code}`,
    title: titles[failure.status] ?? 'It failed',
    status: failure.status,
    code: failure.code,
    detail: failure.message,
    ...(place && { place }),
  };
}
