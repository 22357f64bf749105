import type { Request, Response } from 'express';
import type { AnswerOf, AnyEndpoint, BodyOf, ParamsOf, QueryOf } from '../../core/wire/endpoint.js';
import type { Person } from '../../core/wire/people.js';

/** What a handler is given. */
export interface Call<P, Q, B> {
  readonly params: P;
  readonly query: Q;
  readonly body: B;
  /** Who calls; absent on routes open to anyone or to senders. */
  readonly person: Person;
  readonly request: Request;
  readonly response: Response;
  /** Set when the caller has gone away. */
  readonly signal: AbortSignal;
}

/** A handler that wrote the response itself returns this. */
export const ANSWERED = Symbol('answered');

/** An endpoint with what this server does when it is called. */
export interface Route extends AnyEndpoint {
  handle(call: Call<never, never, never>): unknown;
}

type MaybePromise<T> = T | Promise<T>;
/** What a handler may return: the answer as it is described. */
type Answered<E> = [AnswerOf<E>] extends [undefined] ? unknown : AnswerOf<E> | typeof ANSWERED;

/** Says what is done when an endpoint is called; the handler's types come from the endpoint's schemas. */
export function handles<E extends AnyEndpoint>(
  endpoint: E,
  handle: (call: Call<ParamsOf<E>, QueryOf<E>, BodyOf<E>>) => MaybePromise<Answered<E>>,
): Route {
  return { ...endpoint, handle };
}
