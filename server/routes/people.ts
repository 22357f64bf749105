import { rateLimit } from 'express-rate-limit';
import { madeToken, newToken, person, signIn } from '../../core/wire/people.js';
import { nothing } from '../../core/wire/common.js';
import { route, type Route } from '../http/route.js';
import { Failure } from '../http/failure.js';
import type { People } from '../services/people.js';

/** Sign-ins that fail, an address and a quarter of an hour. */
const MOST_FAILED = 20;

/** Waits for a function of the older kind, which calls back with an error or nothing. */
function whenCalled(start: (done: (error?: unknown) => void) => void): Promise<void> {
  return new Promise((resolve, reject) =>
    start((error) => {
      if (error === undefined || error === null) resolve();
      else reject(error instanceof Error ? error : new Error('The call failed.', { cause: error }));
    }),
  );
}

export function peopleRoutes(people: People): Route[] {
  const limiter = rateLimit({
    windowMs: 15 * 60_000,
    limit: MOST_FAILED,
    skipSuccessfulRequests: true,
    standardHeaders: 'draft-8',
    legacyHeaders: false,
    handler: (_request, _response, next) =>
      next(
        new Failure(429, 'too-many-tries', 'Too many sign-ins have failed. Wait a quarter of an hour.', {
          retryAfter: 900,
        }),
      ),
  });
  return [
    route('post', '/session', {
      access: 'anyone',
      summary: 'Sign in',
      body: signIn,
      answer: person,
      async handle({ body, request, response }) {
        await whenCalled((done) => void limiter(request, response, done));
        const found = await people.signIn(body.name, body.password);
        // A new session id, so that one planted before the sign-in is worth nothing.
        await whenCalled((done) => request.session.regenerate(done));
        request.session.userId = found.id;
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
    route('post', '/tokens', {
      access: 'reader',
      summary: 'Make a personal token for the API',
      body: newToken,
      answer: madeToken,
      handle: async ({ body, person: who }) => ({ token: await people.makeToken(who, body.label) }),
    }),
  ];
}
