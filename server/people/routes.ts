import type { Request } from 'express';
import { rateLimit } from 'express-rate-limit';
import type { Pool } from 'pg';
import { listChanges } from '../../core/wire/endpoints/changes.js';
import {
  addPerson,
  changePassword,
  changePerson,
  listPeople,
  listTokens,
  makeToken,
  readSession,
  revokeToken,
  signInPerson,
  signOut,
} from '../../core/wire/endpoints/people.js';
import { TOKEN_DAYS } from '../../core/wire/people.js';
import { Failure } from '../failure.js';
import { handles, type Route } from '../http/route.js';
import { changesOf } from '../trail/changes.js';
import type { People } from './service.js';

/** Sign-ins that fail in a quarter of an hour. */
const MAX_FAILED_OF_ADDRESS = 20;
const MAX_FAILED_OF_ACCOUNT = 10;

/** Waits for a function of the older kind, which calls back with an error or nothing. */
function whenCalled(start: (done: (error?: unknown) => void) => void): Promise<void> {
  return new Promise((resolve, reject) =>
    start((error) => {
      if (error === undefined || error === null) resolve();
      else reject(error instanceof Error ? error : new Error('The call failed.', { cause: error }));
    }),
  );
}

/** Slows down whoever guesses: failures of one address, and of one account whatever the address. */
function limitFailures(limit: number, what: string, keyOf: ((request: Request) => string) | null) {
  return rateLimit({
    windowMs: 15 * 60_000,
    limit,
    skipSuccessfulRequests: true,
    standardHeaders: 'draft-8',
    legacyHeaders: false,
    ...(keyOf !== null && { keyGenerator: keyOf }),
    handler: (_request, _response, next) =>
      next(
        new Failure('too-many-tries', `Too many sign-ins ${what} have failed. Wait a quarter of an hour.`, {
          retryAfter: 900,
        }),
      ),
  });
}

/** Keeps the session before the answer begins: who goes on at its first byte is signed in already. */
const keepSession = ({ session }: Request): Promise<void> =>
  whenCalled((done) => session.save((error) => done(error)));

/** Tokens are for programs; what decides over access needs a person who is signed in. @throws Failure 403 */
function requireSession(request: Request): void {
  if (request.get('authorization') !== undefined)
    throw new Failure('token', 'A token cannot do this. Sign in on a page.');
}

export function peopleRoutes(people: People, pool: Pool): Route[] {
  const ofAddress = limitFailures(MAX_FAILED_OF_ADDRESS, 'from your address', null);
  const ofAccount = limitFailures(
    MAX_FAILED_OF_ACCOUNT,
    'to this account',
    (request) =>
      `account ${String((request.body as { name?: unknown }).name)
        .trim()
        .toLowerCase()}`,
  );
  return [
    handles(signInPerson, async ({ body, request, response }) => {
      await whenCalled((done) => void ofAddress(request, response, done));
      await whenCalled((done) => void ofAccount(request, response, done));
      const found = await people.signIn(body.name, body.password, request.ip ?? '');
      // A new session id, so that one planted before the sign-in is worth nothing.
      await whenCalled((done) => request.session.regenerate(done));
      request.session.userId = found.id;
      request.session.began = Date.now();
      await keepSession(request);
      return found.person;
    }),
    handles(readSession, ({ person: who }) => who),
    handles(signOut, async ({ request }) => {
      await new Promise<void>((resolve) => request.session.destroy(() => resolve()));
      return {};
    }),
    handles(changePassword, async ({ body, person: who, request }) => {
      requireSession(request);
      await people.changePassword(who, body.present, body.next, request.sessionID);
      // This one goes on, as if it began with the new password.
      request.session.began = Date.now();
      await keepSession(request);
      return {};
    }),
    handles(listTokens, async ({ person: who }) => people.tokens(who)),
    handles(makeToken, async ({ body, person: who, request }) => {
      requireSession(request);
      return people.makeToken(who, body.label, body.days ?? TOKEN_DAYS.usual);
    }),
    handles(revokeToken, async ({ params, person: who }) => {
      await people.revokeToken(who, params.id);
      return {};
    }),
    handles(listPeople, async () => ({ people: await people.all() })),
    handles(addPerson, async ({ body, request }) => {
      requireSession(request);
      await people.add(body);
      return {};
    }),
    handles(changePerson, async ({ params, body, request }) => {
      requireSession(request);
      await people.change(params.name, body);
      return {};
    }),
    handles(listChanges, async ({ query, person: who }) => {
      if (query.kind === 'person' && who.role !== 'admin')
        throw new Failure('role', 'What changed about people is for administrators.');
      return changesOf(pool, query);
    }),
  ];
}
