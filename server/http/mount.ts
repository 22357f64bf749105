import express, { type NextFunction, type Request, type Response, type Router } from 'express';
import type { Logger } from 'pino';
import type { Person, Role } from '../../core/wire/people.js';
import { roles } from '../../core/wire/people.js';
import { HuntError } from '../../core/wick/hunt-error.js';
import { isBroken } from '../store/run-query.js';
import { asPerson } from '../store/who-asks.js';
import { Failure, invalid, toProblem } from './failure.js';
import { ANSWERED, type Access, type Call, type Route } from './route.js';
import { check, mistakeIn } from './validate.js';

/** Finds out who sends a request; null for nobody. */
export type Identify = (request: Request) => Promise<{ person: Person; bySession: boolean } | null>;

const rankOf = (role: Role): number => roles.indexOf(role);

/**
 * True for the origin of our own pages: where they are found by people, or the host that was asked. A proxy may ask for
 * another host than people do, so the address from the settings counts, too.
 */
function isOwnOrigin(origin: string, request: Request, address: string | null): boolean {
  // "null" is the origin of pages without one; it is nobody's.
  const parsed = URL.parse(origin);
  if (parsed === null) return false;
  return (
    parsed.host === request.get('host') || (address !== null && parsed.origin === URL.parse(address)?.origin)
  );
}

/** Refuses texts that no column can hold. @throws Failure 400 */
function requireStorable(value: unknown, what: string): void {
  if (typeof value === 'string') {
    if (value.includes('\0'))
      throw invalid(`The ${what} holds a NUL character, which no text can keep. Leave it out.`);
  } else if (Array.isArray(value)) for (const inner of value) requireStorable(inner, what);
  else if (typeof value === 'object' && value !== null)
    for (const [name, inner] of Object.entries(value)) {
      requireStorable(name, what);
      requireStorable(inner, what);
    }
}

/** Requests that change something must come from our own page, not from one that borrows the cookie. */
function requireOwnPage(request: Request, address: string | null): void {
  const site = request.get('sec-fetch-site');
  const origin = request.get('origin');
  const foreign =
    site !== undefined
      ? site !== 'same-origin'
      : origin !== undefined && !isOwnOrigin(origin, request, address);
  if (foreign)
    throw new Failure(
      403,
      'foreign-page',
      'This request came from another page. Use the workbench itself, or a personal token.',
    );
}

async function admit(
  request: Request,
  access: Access,
  identify: Identify,
  address: string | null,
): Promise<Person | null> {
  if (access === 'anyone' || access === 'source-key') return null;
  const found = await identify(request);
  if (found === null)
    throw new Failure(401, 'not-signed-in', 'Nobody is signed in. Sign in, or send a personal token.');
  if (rankOf(found.person.role) < rankOf(access))
    throw new Failure(
      403,
      'role',
      `This needs the role "${access}", and ${found.person.name} has "${found.person.role}".`,
    );
  if (found.bySession && request.method !== 'GET') requireOwnPage(request, address);
  return found.person;
}

const NOBODY: Person = { name: '', displayName: '', role: 'reader' };

/** JSON bodies may be so large; what is larger comes as a raw body and is streamed. */
const JSON_LIMIT = '4mb';
/** Those of many files. */
const LARGE_JSON_LIMIT = '64mb';

export interface MountOptions {
  /** Holds every answer against its schema; for tests. */
  readonly checkAnswers?: boolean;
  /** Where people find this server, when that is not where it listens. */
  readonly address?: string | null;
}

/**
 * Puts routes on a router: who may call, what they may say, how failures are told.
 * @param options see {@link MountOptions}
 */
export function mountRoutes(
  router: Router,
  routes: readonly Route[],
  identify: Identify,
  { checkAnswers = false, address = null }: MountOptions = {},
): void {
  const parseJson = express.json({ limit: JSON_LIMIT, strict: true });
  const parseLarge = express.json({ limit: LARGE_JSON_LIMIT, strict: true });
  for (const route of routes) {
    const handle = async (request: Request, response: Response): Promise<void> => {
      const person = await admit(request, route.access, identify, address);
      const gone = new AbortController();
      response.on('close', () => gone.abort());
      requireStorable(request.params, 'address');
      requireStorable(request.query, 'address');
      if (route.body !== undefined && !route.rawBody) requireStorable(request.body, 'request');
      const call = {
        params: route.params === undefined ? undefined : check(route.params, { ...request.params }, 'path'),
        query: route.query === undefined ? undefined : check(route.query, { ...request.query }, 'query'),
        body: route.body === undefined ? undefined : check(route.body, request.body, 'request'),
        person: person ?? NOBODY,
        request,
        response,
        signal: gone.signal,
      } as unknown as Call<never, never, never>;
      const answer = await asPerson(person?.name ?? '', () => route.handle(call));
      if (answer === ANSWERED) return;
      if (checkAnswers && route.answer !== undefined) requireDescribed(route, answer);
      response.json(answer);
    };
    const guard = async (request: Request, _response: Response, next: NextFunction): Promise<void> => {
      // Whoever may not call a route does not make the server read a body either.
      await admit(request, route.access, identify, address);
      next();
    };
    router[route.method](
      route.path,
      ...(route.rawBody || route.body === undefined
        ? [handle]
        : [guard, route.largeBody ? parseLarge : parseJson, handle]),
    );
  }
}

/** Holds an answer against its schema: what the API's description promises is what is sent. */
function requireDescribed(route: Route, answer: unknown): void {
  const mistake = route.answer === undefined ? null : mistakeIn(route.answer, answer, 'answer');
  if (mistake !== null) throw new Error(`${route.method} ${route.path}: ${mistake}`);
}

/** A mistake in a hunt as a failure that says where. */
export function huntFailure(error: HuntError): Failure {
  const { line, column, end } = error.span;
  return new Failure(422, error.code, error.message, {
    place: { line, column, end, ...(error.suggestion !== undefined && { suggestion: error.suggestion }) },
  });
}

function toFailure(error: unknown): Failure {
  if (error instanceof Failure) return error;
  if (error instanceof HuntError) return huntFailure(error);
  const { type, status, code } = error as { type?: unknown; status?: unknown; code?: unknown };
  // A value of the request that its column cannot hold: too large a number, a text that is none.
  if (typeof code === 'string' && /^22/.test(code))
    return new Failure(
      400,
      'invalid',
      `A value of the request cannot be kept: ${(error as Error).message}.`,
      {
        cause: error,
      },
    );
  if (isBroken(error))
    return new Failure(503, 'database-away', 'The database is away for a moment. Try again.', {
      retryAfter: 2,
      cause: error,
    });
  if (type === 'entity.too.large')
    return new Failure(413, 'too-large', `The request is larger than ${JSON_LIMIT}.`);
  if (type === 'entity.parse.failed') return new Failure(400, 'not-json', 'The request is not JSON.');
  if (typeof status === 'number' && status >= 400 && status < 500)
    return new Failure(status, 'invalid', 'The request cannot be read.');
  return new Failure(
    500,
    'internal',
    'Something went wrong on our side. It is written in the log; try again, and tell whoever runs the workbench.',
    { cause: error },
  );
}

/** The last handler: tells failures as problem documents, and logs those that are ours. */
export function tellFailures(logger: Logger) {
  return (error: unknown, request: Request, response: Response, _next: NextFunction): void => {
    const failure = toFailure(error);
    if (failure.status >= 500) logger.error({ err: error, path: request.path }, 'request failed');
    if (response.headersSent) {
      response.destroy();
      return;
    }
    if (failure.extra.retryAfter !== undefined) response.set('Retry-After', String(failure.extra.retryAfter));
    response
      .status(failure.status)
      .type('application/problem+json')
      .send(JSON.stringify(toProblem(failure)));
  };
}
