import { parse, stringify } from 'lossless-json';
import { type IncomingHttpHeaders, STATUS_CODES } from 'node:http';
import { isJsonObject, type Json } from '../../core/base/json.js';
import { fieldReader } from '../../core/recipes/field-path.js';
import { INTAKE_LIMITS } from '../../core/wire/sources.js';
import { type GuardedAnswer, guardedRequest } from '../deliver/guarded-request.js';
import { PullFailure } from './pull-failure.js';

/** How an address is asked. */
export interface AddressRequest {
  /** Whole, with whatever it is asked by. */
  readonly address: string;
  readonly token: string | null;
  readonly etag: string | null;
  readonly accept?: string;
  /** Whether the address may lie inside. */
  readonly allowPrivate: boolean;
}

/** Where in an answer things stand. */
export interface AnswerShape {
  readonly items: string;
  readonly next: string;
}

/** An answer, taken apart. */
export interface Page {
  /** Each item as the text of its own JSON, digits untouched; one that is a text stands for itself. */
  readonly items: readonly string[];
  readonly next: string | null;
  readonly etag: string | null;
  /** Nothing has changed since the answer that carried the etag. */
  readonly unchanged: boolean;
}

const FETCH_MILLISECONDS = 30_000;

/** When to ask again, by seconds or by a date (RFC 9110, section 10.2.3); within an hour whatever is said. */
export function retryAfterSeconds(header: string | undefined, now: number): number | null {
  if (header === undefined) return null;
  const seconds = /^\s*\d{1,9}\s*$/.test(header) ? Number(header) : (Date.parse(header) - now) / 1000;
  return Number.isFinite(seconds) && seconds > 0 ? Math.min(Math.ceil(seconds), 3600) : null;
}

function refuse(response: GuardedAnswer): PullFailure {
  if (response.status >= 300 && response.status < 400)
    return new PullFailure(
      `It is redirected to ${(response.headers.location ?? 'elsewhere').slice(0, 200)}. Give that address if it is right.`,
    );
  const refusedToken = response.status === 401 || response.status === 403;
  return new PullFailure(
    refusedToken
      ? `It answers ${response.status}: the token is missing or wrong.`
      : `It answers ${response.status} ${STATUS_CODES[response.status] ?? ''}.`.replace(/ \.$/, '.'),
    retryAfterSeconds(response.headers['retry-after'], Date.now()),
    undefined,
    refusedToken,
  );
}

/** A cursor in an answer: text or a number, nothing else. */
function readCursor(value: unknown): string | null {
  if (typeof value === 'string') return value === '' ? null : value.slice(0, 4000);
  return typeof value === 'number' || typeof value === 'bigint' ? String(value) : null;
}

/** What an address answered. */
export interface FetchedAnswer {
  readonly text: string;
  readonly headers: IncomingHttpHeaders;
  /** Nothing has changed since the answer that carried the etag. */
  readonly unchanged: boolean;
}

/**
 * Asks an address. Redirects are not followed, an answer is bounded in size and time.
 * @throws PullFailure saying what is wrong
 */
export async function fetchAnswer(request: AddressRequest, stop: AbortSignal): Promise<FetchedAnswer> {
  try {
    const response = await guardedRequest(request.address, {
      method: 'GET',
      headers: {
        Accept: request.accept ?? 'application/json',
        'Accept-Encoding': 'identity',
        'User-Agent': 'under-lamp',
        ...(request.token !== null && { Authorization: `Bearer ${request.token}` }),
        ...(request.etag !== null && { 'If-None-Match': request.etag }),
      },
      allowPrivate: request.allowPrivate,
      maxBytes: INTAKE_LIMITS.bytes,
      milliseconds: FETCH_MILLISECONDS,
      signal: stop,
    });
    const { headers, text } = response;
    if (response.status === 304) return { text: '', headers, unchanged: true };
    if (response.status < 200 || response.status >= 300) throw refuse(response);
    if (response.cut)
      throw new PullFailure(
        `An answer is longer than ${INTAKE_LIMITS.bytes.toLocaleString('en')} bytes. Ask for smaller pages in the address.`,
      );
    return { text, headers, unchanged: false };
  } catch (error) {
    if (error instanceof PullFailure) throw error;
    throw new PullFailure(error instanceof Error ? error.message : String(error), null, error);
  }
}

/** Takes an answer apart. @throws PullFailure where it does not look as it was said to */
export function readPage(
  text: string,
  { items: itemsAt, next: nextAt }: AnswerShape,
): Pick<Page, 'items' | 'next'> {
  let answer: unknown;
  let plain: Json;
  try {
    plain = JSON.parse(text) as Json;
    // Read a second time without losing the digits of long numbers, for the items.
    answer = parse(text);
  } catch (error) {
    throw new PullFailure(`The answer is no JSON: ${(error as Error).message.slice(0, 120)}`, null, error);
  }
  const at = (whole: unknown, path: string): unknown =>
    path === '' ? whole : fieldReader(path)(whole as never);
  const found = itemsAt === '' || isJsonObject(plain) ? at(answer, itemsAt) : undefined;
  if (!Array.isArray(found))
    throw new PullFailure(
      itemsAt === ''
        ? 'The answer is no JSON array. Say where in it the items stand.'
        : `The answer has no array at "${itemsAt}".`,
    );
  return {
    items: found.map((item) => (typeof item === 'string' ? item : (stringify(item) ?? 'null'))),
    next: nextAt === '' || !isJsonObject(plain) ? null : readCursor(at(plain, nextAt)),
  };
}
