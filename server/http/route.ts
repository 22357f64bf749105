import type { Request, Response } from 'express';
import type { FromSchema, JSONSchema } from 'json-schema-to-ts';
import type { Person, Role } from '../../core/wire/people.js';

/** Who may call a route: anyone, a sender with its source's key, or people from a role upwards. */
export type Access = 'anyone' | 'source-key' | Role;

export type Method = 'get' | 'post' | 'put' | 'patch' | 'delete';

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

/** A route as it is registered, its schemas erased to what the server needs. */
export interface Route {
  readonly method: Method;
  /** Under `/api/v1`, parameters as `:name`. */
  readonly path: string;
  readonly access: Access;
  readonly summary: string;
  readonly params?: JSONSchema;
  readonly query?: JSONSchema;
  readonly body?: JSONSchema;
  /** Absent where the answer is no JSON document. */
  readonly answer?: JSONSchema;
  /** Takes the body as it comes, not as JSON. */
  readonly rawBody?: true;
  /** Takes JSON of many files. */
  readonly largeBody?: true;
  handle(call: Call<never, never, never>): unknown;
}

type MaybePromise<T> = T | Promise<T>;
type Typed<S> = S extends JSONSchema ? FromSchema<S> : undefined;

/** Describes one route; the handler's types come from its schemas. */
export function route<
  const P extends JSONSchema | undefined,
  const Q extends JSONSchema | undefined,
  const B extends JSONSchema | undefined,
  const A extends JSONSchema | undefined,
>(
  method: Method,
  path: string,
  def: {
    readonly access: Access;
    readonly summary: string;
    readonly params?: P;
    readonly query?: Q;
    readonly body?: B;
    readonly answer?: A;
    readonly rawBody?: true;
    readonly largeBody?: true;
    handle(
      call: Call<Typed<P>, Typed<Q>, Typed<B>>,
    ): MaybePromise<(A extends JSONSchema ? FromSchema<A> : unknown) | typeof ANSWERED>;
  },
): Route {
  return { method, path, ...def } as unknown as Route;
}
