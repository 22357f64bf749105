import type { Problem } from '../../core/wire/common.js';
import { HuntError } from '../../core/wick/hunt-error.js';
import { isBroken } from '../db/bounded-statements.js';
import { Failure, type FailureCode } from '../failure.js';

/** JSON bodies may be so large; what is larger comes as a raw body and is streamed. */
export const JSON_LIMIT = '4mb';

/** The status of each failure (RFC 9110, section 15); 499 is for a caller who went away. */
const statuses: Readonly<Record<FailureCode, number>> = {
  'all-taken': 503,
  'archive-too-large': 422,
  'bad-address': 422,
  'bad-hunt': 422,
  'bad-intake-rule': 422,
  'bad-list': 422,
  'bad-log-source': 422,
  'bad-mailbox': 422,
  'bad-case-file': 422,
  'bad-cut': 422,
  'bad-rule': 422,
  'broken-archive': 422,
  'broken-body': 400,
  'broken-file': 400,
  busy: 429,
  'button-used': 410,
  'case-full': 409,
  'changed-meanwhile': 409,
  'runs-already': 409,
  'stands-elsewhere': 409,
  'database-away': 503,
  'decided-already': 409,
  'foreign-page': 403,
  full: 409,
  'held-by-case': 409,
  'in-use': 409,
  internal: 500,
  'into-itself': 422,
  invalid: 400,
  'loses-real': 409,
  'last-admin': 409,
  'name-taken': 409,
  'needs-verdict': 422,
  'no-archive': 422,
  'no-directory': 409,
  'not-a-network': 422,
  'not-a-recipe': 422,
  'not-an-address': 422,
  'not-delivered': 502,
  'not-found': 404,
  'not-given-up': 409,
  'not-its-subject': 422,
  'not-json': 400,
  'not-readable': 422,
  'not-replayed': 409,
  'not-signed-in': 401,
  'not-yours': 403,
  'nothing-to-try': 422,
  'open-already': 409,
  'own-request': 403,
  'path-full': 409,
  'result-too-large': 422,
  role: 403,
  'rule-has-alerts': 409,
  'rule-is-on': 409,
  running: 409,
  'same-name': 409,
  'secret-again': 422,
  'secret-in-address': 422,
  'slow-sender': 408,
  stopped: 499,
  'test-failed': 409,
  'there-already': 409,
  token: 403,
  'tokens-full': 409,
  'too-costly': 422,
  'too-large': 413,
  'too-loud': 422,
  'too-many': 429,
  'too-many-tries': 429,
  'too-much': 422,
  'too-slow': 422,
  'unknown-encoding': 415,
  'unknown-field': 422,
  'unknown-kind': 422,
  'unknown-person': 422,
  'unknown-recipe': 422,
  'unknown-response': 422,
  'unknown-source': 422,
  'wrong-content-type': 415,
  'wrong-key': 401,
  'wrong-method': 405,
  'wrong-password': 403,
  'wrong-sign-in': 401,
};

const titles: Readonly<Record<number, string>> = {
  400: 'The request cannot be read',
  401: 'Sign in first',
  403: 'Not allowed',
  404: 'Not found',
  405: 'Unknown method',
  409: 'Changed meanwhile',
  413: 'Too large',
  415: 'Unknown content type',
  422: 'It says something that cannot be done',
  429: 'Too many requests',
  503: 'Busy',
};

/** A failure as an RFC 9457 document. */
export function toProblem({ code: failed, message, extra: { place, told } }: Failure): Problem {
  const status = statuses[failed];
  const code = told ?? failed;
  return {
    type: `/problems/${code}`,
    title: titles[status] ?? 'It failed',
    status,
    code,
    detail: message,
    ...(place && { place }),
  };
}

/** A mistake in a hunt as a failure that says where. */
export function huntFailure(error: HuntError): Failure {
  const { line, column, end } = error.span;
  return new Failure('bad-hunt', error.message, {
    told: error.code,
    place: { line, column, end, ...(error.suggestion !== undefined && { suggestion: error.suggestion }) },
  });
}

/** Anything that was thrown, as it is told. */
export function toFailure(error: unknown): Failure {
  if (error instanceof Failure) return error;
  if (error instanceof HuntError) return huntFailure(error);
  const { type, status, code } = error as { type?: unknown; status?: unknown; code?: unknown };
  // A value of the request that its column cannot hold: too large a number, a text that is none.
  if (typeof code === 'string' && /^22/.test(code))
    return new Failure('invalid', `A value of the request cannot be kept: ${(error as Error).message}.`, {
      cause: error,
    });
  if (isBroken(error))
    return new Failure('database-away', 'The database is away for a moment. Try again.', {
      retryAfter: 2,
      cause: error,
    });
  if (type === 'entity.too.large')
    return new Failure('too-large', `The request is larger than ${JSON_LIMIT}.`);
  if (type === 'entity.parse.failed') return new Failure('not-json', 'The request is not JSON.');
  if (typeof status === 'number' && status >= 400 && status < 500)
    return new Failure(status === 415 ? 'unknown-encoding' : 'invalid', 'The request cannot be read.');
  return new Failure(
    'internal',
    'Something went wrong on our side. It is written in the log; try again, and tell whoever runs the workbench.',
    { cause: error },
  );
}
