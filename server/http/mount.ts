import express, { type NextFunction, type Request, type Response, type Router } from 'express';
import type { Logger } from 'pino';
import type { Access } from '../../core/wire/endpoint.js';
import { type Person, reaches } from '../../core/wire/people.js';
import { asPerson } from '../db/who-asks.js';
import { Failure, invalid } from '../failure.js';
import { JSON_LIMIT, toFailure, toProblem } from './problems.js';
import { ANSWERED, type Call, type Route } from './route.js';
import { check, mistakeIn } from './validate.js';

/** Finds out who sends a request; null for nobody. */
export type Identify = (request: Request) => Promise<{ person: Person; bySession: boolean } | null>;

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
    throw new Failure('not-signed-in', 'Nobody is signed in. Sign in, or send a personal token.');
  if (!reaches(found.person.role, access))
    throw new Failure(
      'role',
      `This needs the role "${access}", and ${found.person.name} has "${found.person.role}".`,
    );
  if (found.bySession && request.method !== 'GET') requireOwnPage(request, address);
  return found.person;
}

const NOBODY: Person = { name: '', displayName: '', role: 'reader' };

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
      if (request.is('json') === false)
        throw new Failure('wrong-content-type', 'Send JSON, and say so: Content-Type: application/json.');
      next();
    };
    router[route.method](
      route.path,
      ...(route.rawBody || route.body === undefined
        ? [handle]
        : [guard, route.largeBody ? parseLarge : parseJson, handle]),
    );
  }
  refuseOtherMethods(router, routes);
}

/** A path that is there, asked by a method that is not, says which are (RFC 9110, 15.5.6). */
function refuseOtherMethods(router: Router, routes: readonly Route[]): void {
  const parameters = (path: string): number => path.split(':').length;
  // Fixed names before those that may be any id.
  const paths = [...new Set(routes.map((route) => route.path))].sort((a, b) => parameters(a) - parameters(b));
  for (const path of paths) {
    const methods = routes.filter((route) => route.path === path).map(({ method }) => method.toUpperCase());
    const allowed = [...methods, ...(methods.includes('GET') ? ['HEAD'] : [])].join(', ');
    router.all(path, (request, response) => {
      response.set('Allow', allowed);
      throw new Failure('wrong-method', `${request.method} does nothing here. Use ${allowed}.`);
    });
  }
}

/** Holds an answer against its schema: what the API's description promises is what is sent. */
function requireDescribed(route: Route, answer: unknown): void {
  const mistake = route.answer === undefined ? null : mistakeIn(route.answer, answer, 'answer');
  if (mistake !== null) throw new Error(`${route.method} ${route.path}: ${mistake}`);
}

/** The last handler: tells failures as problem documents, and logs those that are ours. */
export function tellFailures(logger: Logger) {
  return (error: unknown, request: Request, response: Response, _next: NextFunction): void => {
    const failure = toFailure(error);
    const problem = toProblem(failure);
    if (problem.status >= 500) logger.error({ err: error, path: request.path }, 'request failed');
    if (response.headersSent) {
      response.destroy();
      return;
    }
    if (failure.extra.retryAfter !== undefined) response.set('Retry-After', String(failure.extra.retryAfter));
    response.status(problem.status).type('application/problem+json').send(JSON.stringify(problem));
  };
}
