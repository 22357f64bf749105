import { queryOptions } from '@tanstack/react-query';
import type {
  AnswerOf,
  AnyEndpoint,
  ParamsOf,
  PieceOf,
  SentBodyOf,
  SentQueryOf,
} from '../../core/wire/endpoint.js';
import { ask } from './client.js';
import { jsonLines } from './json-lines.js';

/** Names in a path; numbers are written out. */
type Params<P> = { readonly [K in keyof P]: P[K] | (string extends P[K] ? number : never) };
/** Undefined parts are left out. */
type Query<Q> = { readonly [K in keyof Q]: Q[K] | undefined };
type Frozen<T> = T extends (infer Item)[]
  ? readonly Frozen<Item>[]
  : T extends object
    ? { readonly [K in keyof T]: Frozen<T[K]> }
    : T;
type Nothing = Record<never, never>;
type Given<K extends string, T, Told> = [T] extends [undefined]
  ? { readonly [N in K]?: undefined }
  : Nothing extends T
    ? { readonly [N in K]?: Told }
    : { readonly [N in K]: Told };

/** What is said to an endpoint: names in its path, its query and its body, as it describes them. */
export type Said<E> = Given<'params', ParamsOf<E>, Params<ParamsOf<E>>> &
  Given<'query', SentQueryOf<E>, Query<SentQueryOf<E>>> &
  Given<'body', SentBodyOf<E>, Frozen<SentBodyOf<E>>>;
type MaybeSaid<E> = object extends Said<E> ? [said?: Said<E>] : [said: Said<E>];

interface Loose {
  readonly params?: Readonly<Record<string, string | number>>;
  readonly query?: Readonly<Record<string, string | number | boolean | undefined>>;
  readonly body?: unknown;
}

/**
 * Where an endpoint is asked, under `/api/v1`: for links, and for whoever asks it from a shell.
 * @returns path and query; what is undefined or empty in the query is left out
 */
export function addressOf<E extends AnyEndpoint>(endpoint: E, ...[said]: MaybeSaid<E>): string {
  const { params = {}, query = {} } = (said ?? {}) as Loose;
  const path = endpoint.path.replace(/:(\w+)/g, (_, name: string) => encodeURIComponent(params[name] ?? ''));
  const asked = new URLSearchParams(
    Object.entries(query).flatMap(([name, value]) =>
      value === undefined || value === '' ? [] : [[name, String(value)]],
    ),
  ).toString();
  return asked === '' ? path : `${path}?${asked}`;
}

/** Calls an endpoint and reads its answer. @throws ApiFailure */
export async function call<E extends AnyEndpoint>(
  endpoint: E,
  said: Said<E> & { readonly signal?: AbortSignal },
): Promise<AnswerOf<E>> {
  const { body, signal } = said as Loose & { readonly signal?: AbortSignal };
  const response = await ask(addressOf(endpoint, said), {
    method: endpoint.method,
    ...(body !== undefined && { body }),
    ...(signal !== undefined && { signal }),
  });
  return (await response.json()) as AnswerOf<E>;
}

/** Sends bytes as they are to an endpoint that takes them. @throws ApiFailure */
export async function send<E extends AnyEndpoint>(
  endpoint: E,
  raw: Blob,
  said: Said<E>,
): Promise<AnswerOf<E>> {
  return (await (
    await ask(addressOf(endpoint, said), { method: endpoint.method, raw })
  ).json()) as AnswerOf<E>;
}

/** Calls an endpoint that answers line by line; a failure on the way is thrown. @throws ApiFailure */
export const pieces = <E extends AnyEndpoint>(
  endpoint: E,
  said: Said<E>,
  signal: AbortSignal,
): AsyncGenerator<Exclude<PieceOf<E>, { piece: 'failure' }>> =>
  jsonLines(addressOf(endpoint, said), (said as Loose).body, signal);

type Key = readonly unknown[];

/** The first word of a path: what an endpoint is about. */
const subjectOf = ({ path }: AnyEndpoint): string => path.split('/')[1] ?? '';

/** The key of everything kept about a subject, such as `alerts`: to ask anew for what has changed. */
export const about = (subject: string): { readonly queryKey: Key } => ({ queryKey: [subject] });

/** The key of what an endpoint answered: to one asking, or to all of them where none is given. */
export const keyOf = <E extends AnyEndpoint>(endpoint: E, said?: Said<E>): Key => [
  subjectOf(endpoint),
  `${endpoint.method} ${endpoint.path}`,
  ...(said === undefined ? [] : [said]),
];

/** An asking as the cache of answers knows it: its key, and how it is asked. */
export const answerTo = <E extends AnyEndpoint>(endpoint: E, ...[said]: MaybeSaid<E>) =>
  queryOptions<AnswerOf<E>>({
    queryKey: [...keyOf(endpoint), said ?? {}],
    queryFn: ({ signal }) => call(endpoint, { ...(said ?? ({} as Said<E>)), signal }),
  });
