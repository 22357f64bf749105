import type { Problem } from '../core/wire/common.js';

type Place = NonNullable<Problem['place']>;

/** What can be told to a caller, by stable names; `http/problems.ts` says how each is answered. */
export type FailureCode =
  | 'all-taken'
  | 'archive-too-large'
  | 'bad-address'
  | 'bad-hunt'
  | 'bad-intake-rule'
  | 'bad-list'
  | 'bad-log-source'
  | 'bad-mailbox'
  | 'bad-case-file'
  | 'bad-cut'
  | 'bad-rule'
  | 'broken-archive'
  | 'broken-body'
  | 'broken-file'
  | 'busy'
  | 'button-used'
  | 'case-full'
  | 'changed-meanwhile'
  | 'runs-already'
  | 'stands-elsewhere'
  | 'database-away'
  | 'decided-already'
  | 'foreign-page'
  | 'full'
  | 'held-by-case'
  | 'in-use'
  | 'internal'
  | 'into-itself'
  | 'invalid'
  | 'last-admin'
  | 'loses-real'
  | 'name-taken'
  | 'needs-verdict'
  | 'no-archive'
  | 'no-directory'
  | 'not-a-network'
  | 'not-a-recipe'
  | 'not-an-address'
  | 'not-delivered'
  | 'not-found'
  | 'not-given-up'
  | 'not-its-subject'
  | 'not-json'
  | 'not-readable'
  | 'not-replayed'
  | 'not-signed-in'
  | 'not-yours'
  | 'nothing-to-try'
  | 'open-already'
  | 'own-request'
  | 'path-full'
  | 'result-too-large'
  | 'role'
  | 'rule-has-alerts'
  | 'rule-is-on'
  | 'running'
  | 'same-name'
  | 'secret-again'
  | 'secret-in-address'
  | 'slow-sender'
  | 'stopped'
  | 'test-failed'
  | 'there-already'
  | 'token'
  | 'tokens-full'
  | 'too-costly'
  | 'too-large'
  | 'too-loud'
  | 'too-many'
  | 'too-many-tries'
  | 'too-much'
  | 'too-slow'
  | 'unknown-encoding'
  | 'unknown-field'
  | 'unknown-kind'
  | 'unknown-person'
  | 'unknown-recipe'
  | 'unknown-response'
  | 'unknown-source'
  | 'wrong-content-type'
  | 'wrong-key'
  | 'wrong-method'
  | 'wrong-password'
  | 'wrong-sign-in';

/** A failure that is told to the caller: what went wrong, and what to do. */
export class Failure extends Error {
  override readonly name = 'Failure';

  /** @param extra where it lies, after how many seconds it may go, and `told`: the code that the caller is told instead */
  constructor(
    readonly code: FailureCode,
    message: string,
    readonly extra: {
      readonly place?: Place;
      readonly retryAfter?: number;
      readonly told?: string;
      readonly cause?: unknown;
    } = {},
  ) {
    super(message, { cause: extra.cause });
  }
}

export const notFound = (what: string): Failure => new Failure('not-found', `There is no ${what}.`);
export const invalid = (message: string): Failure => new Failure('invalid', message);
