import type { FromSchema, JSONSchema } from 'json-schema-to-ts';
import type { Role } from './people.js';

/** Who may call an endpoint: anyone, a sender with its source's key, or people from a role upwards. */
export type Access = 'anyone' | 'source-key' | Role;

export type Method = 'get' | 'post' | 'put' | 'patch' | 'delete';

/** What an endpoint gives besides or instead of one JSON document. */
export type OtherAnswer =
  /** JSON, one document a line, as they come. */
  | 'application/x-ndjson'
  /** Server-sent events. */
  | 'text/event-stream'
  | 'text/csv'
  | 'text/plain'
  | 'text/html'
  | 'text/markdown'
  /** A file of JSON, whose form is not ours to describe. */
  | 'application/json'
  | 'application/yaml'
  | 'application/zip'
  /** A file as it came, whatever it is. */
  | 'application/octet-stream';

/** An endpoint with its schemas erased to what any of them may be. */
export interface AnyEndpoint {
  readonly method: Method;
  /** Under `/api/v1`, parameters as `:name`. */
  readonly path: string;
  readonly access: Access;
  /** What it does, in one line. */
  readonly summary: string;
  readonly params?: JSONSchema;
  readonly query?: JSONSchema;
  readonly body?: JSONSchema;
  /** Absent where the answer is no JSON document. */
  readonly answer?: JSONSchema;
  /** One line, or one event, of an answer that comes in pieces. */
  readonly piece?: JSONSchema;
  /** In which other forms it answers. */
  readonly gives?: readonly OtherAnswer[];
  /** A body as somebody may send it. */
  readonly example?: unknown;
  /** Takes the body as it comes, not as JSON. */
  readonly rawBody?: true;
  /** Takes JSON of many files. */
  readonly largeBody?: true;
}

type MaybeSchema = JSONSchema | undefined;

/** An endpoint as the server, the pages and the description of the API know it. */
export interface Endpoint<
  P extends MaybeSchema,
  Q extends MaybeSchema,
  B extends MaybeSchema,
  A extends MaybeSchema,
  I extends MaybeSchema,
> extends AnyEndpoint {
  readonly params?: P & JSONSchema;
  readonly query?: Q & JSONSchema;
  readonly body?: B & JSONSchema;
  readonly answer?: A & JSONSchema;
  readonly piece?: I & JSONSchema;
  /** Never there: it holds the types, so that they are worked out once. */
  readonly types?: {
    readonly params: Typed<P>;
    readonly query: Typed<Q>;
    readonly body: Typed<B>;
    readonly answer: Typed<A>;
    readonly piece: Typed<I>;
    readonly sentQuery: Sent<Q>;
    readonly sentBody: Sent<B>;
  };
}

type Typed<S> = S extends JSONSchema ? FromSchema<S> : undefined;
/** As it is sent: what has a default may be left out. */
type Sent<S> = S extends JSONSchema ? FromSchema<S, { keepDefaultedPropertiesOptional: true }> : undefined;
type TypesOf<E> = E extends { readonly types?: infer T } ? Exclude<T, undefined> : never;
type Part<E, K extends string> = TypesOf<E> extends Record<K, infer T> ? T : never;

export type ParamsOf<E> = Part<E, 'params'>;
export type QueryOf<E> = Part<E, 'query'>;
export type BodyOf<E> = Part<E, 'body'>;
/** A query as a caller gives it. */
export type SentQueryOf<E> = Part<E, 'sentQuery'>;
/** A body as a caller gives it. */
export type SentBodyOf<E> = Part<E, 'sentBody'>;
/** What it answers as a JSON document. */
export type AnswerOf<E> = Part<E, 'answer'>;
/** One piece of what it answers line by line. */
export type PieceOf<E> = Part<E, 'piece'>;

/**
 * Describes one endpoint; the server's handler, the pages' calls and the description of the API are made of it.
 * @param method how it is asked
 * @param path under `/api/v1`, parameters as `:name`
 * @param definition who may call it, and the schemas of what is said and answered
 */
export function endpoint<
  const P extends MaybeSchema = undefined,
  const Q extends MaybeSchema = undefined,
  const B extends MaybeSchema = undefined,
  const A extends MaybeSchema = undefined,
  const I extends MaybeSchema = undefined,
>(
  method: Method,
  path: string,
  definition: Omit<AnyEndpoint, 'method' | 'path' | 'params' | 'query' | 'body' | 'answer' | 'piece'> & {
    readonly params?: P;
    readonly query?: Q;
    readonly body?: B;
    readonly answer?: A;
    readonly piece?: I;
  },
): Endpoint<P, Q, B, A, I> {
  return { method, path, ...definition } as unknown as Endpoint<P, Q, B, A, I>;
}

/** A name for what an endpoint does, by which programs made from the description call it: `getAlertsId`. */
export function operationId({ method, path }: Pick<AnyEndpoint, 'method' | 'path'>): string {
  const words = path.split(/[^A-Za-z0-9]+/).filter((word) => word !== '');
  return method + words.map((word) => word.charAt(0).toUpperCase() + word.slice(1)).join('');
}
