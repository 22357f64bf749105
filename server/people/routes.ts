import { rateLimit } from 'express-rate-limit';
import type { Request } from 'express';
import type { Pool } from 'pg';
import { changeList, changesQuery } from '../../core/wire/changes.js';
import {
  madeToken,
  newPassword,
  newPerson,
  newToken,
  person,
  personChange,
  personList,
  signIn,
  TOKEN_DAYS,
  tokenList,
} from '../../core/wire/people.js';
import { nothing } from '../../core/wire/common.js';
import { route, type Route } from '../http/route.js';
import { Failure } from '../failure.js';
import type { People } from './service.js';
import { changesOf } from '../trail/changes.js';

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

const byName = {
  type: 'object',
  required: ['name'],
  properties: { name: { type: 'string', maxLength: 200 } },
} as const;

const byTokenId = {
  type: 'object',
  required: ['id'],
  properties: {
    id: { type: 'string', pattern: '^[0-9a-f]{8}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{12}$' },
  },
} as const;

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
    route('post', '/session', {
      access: 'anyone',
      summary: 'Sign in',
      body: signIn,
      answer: person,
      async handle({ body, request, response }) {
        await whenCalled((done) => void ofAddress(request, response, done));
        await whenCalled((done) => void ofAccount(request, response, done));
        const found = await people.signIn(body.name, body.password, request.ip ?? '');
        // A new session id, so that one planted before the sign-in is worth nothing.
        await whenCalled((done) => request.session.regenerate(done));
        request.session.userId = found.id;
        request.session.began = Date.now();
        return found.person;
      },
    }),
    route('get', '/session', {
      access: 'reader',
      summary: 'Who is signed in',
      answer: person,
      handle: ({ person: who }) => who,
    }),
    route('delete', '/session', {
      access: 'reader',
      summary: 'Sign out',
      answer: nothing,
      async handle({ request }) {
        await new Promise<void>((resolve) => request.session.destroy(() => resolve()));
        return {};
      },
    }),
    route('put', '/session/password', {
      access: 'reader',
      summary: 'Change the own password; other sessions and all tokens end',
      body: newPassword,
      answer: nothing,
      async handle({ body, person: who, request }) {
        requireSession(request);
        await people.changePassword(who, body.present, body.next, request.sessionID);
        // This one goes on, as if it began with the new password.
        request.session.began = Date.now();
        return {};
      },
    }),
    route('get', '/tokens', {
      access: 'reader',
      summary: 'The own personal tokens that still hold',
      answer: tokenList,
      handle: async ({ person: who }) => people.tokens(who),
    }),
    route('post', '/tokens', {
      access: 'reader',
      summary: 'Make a personal token for the API; a token cannot make tokens',
      body: newToken,
      answer: madeToken,
      async handle({ body, person: who, request }) {
        requireSession(request);
        return people.makeToken(who, body.label, body.days ?? TOKEN_DAYS.usual);
      },
    }),
    route('delete', '/tokens/:id', {
      access: 'reader',
      summary: 'Revoke a personal token of your own',
      params: byTokenId,
      answer: nothing,
      async handle({ params, person: who }) {
        await people.revokeToken(who, params.id);
        return {};
      },
    }),
    route('get', '/people', {
      access: 'admin',
      summary: 'Everybody who may use the workbench',
      answer: personList,
      handle: async () => ({ people: await people.all() }),
    }),
    route('post', '/people', {
      access: 'admin',
      summary: 'Add a person',
      body: newPerson,
      answer: nothing,
      async handle({ body, request }) {
        requireSession(request);
        await people.add(body);
        return {};
      },
    }),
    route('patch', '/people/:name', {
      access: 'admin',
      summary:
        'Give a person another name, role or password, or disable them; sessions and tokens end at once',
      params: byName,
      body: personChange,
      answer: nothing,
      async handle({ params, body, request }) {
        requireSession(request);
        await people.change(params.name, body);
        return {};
      },
    }),
    route('get', '/changes', {
      access: 'reader',
      summary: 'Who changed rules, log sources, lists, destinations, sources and people, and when',
      query: changesQuery,
      answer: changeList,
      async handle({ query, person: who }) {
        if (query.kind === 'person' && who.role !== 'admin')
          throw new Failure('role', 'What changed about people is for administrators.');
        return changesOf(pool, query.kind, query.name ?? null);
      },
    }),
  ];
}
