import { parse, stringify } from 'lossless-json';
import { STATUS_CODES } from 'node:http';
import { isJsonObject, type Json } from '../../core/base/json.js';
import { fieldReader } from '../../core/recipes/field-path.js';
import { INTAKE_LIMITS } from '../../core/wire/sources.js';
import { type GuardedAnswer, guardedRequest } from '../deliver/guarded-request.js';

/** How an address is asked, and where in its answers things stand. */
export interface PageRequest {
  readonly address: string;
  readonly token: string | null;
  readonly cursor: string | null;
  readonly cursorParameter: string;
  readonly items: string;
  readonly next: string;
  readonly etag: string | null;
  /** Whether the address may lie inside. */
  readonly allowPrivate: boolean;
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

/** A fetch that failed, told to whoever set it up. */
export class PullFailure extends Error {
  override readonly name = 'PullFailure';

  constructor(
    message: string,
    /** Not sooner than after so many seconds, when the other side says so. */
    readonly retryAfter: number | null = null,
    cause?: unknown,
  ) {
    super(message, { cause });
  }
}

const FETCH_MILLISECONDS = 30_000;

function refuse(response: GuardedAnswer): PullFailure {
  if (response.status >= 300 && response.status < 400)
    return new PullFailure(
      `It is redirected to ${(response.headers.location ?? 'elsewhere').slice(0, 200)}. Give that address if it is right.`,
    );
  const after = Number(response.headers['retry-after']);
  return new PullFailure(
    response.status === 401 || response.status === 403
      ? `It answers ${response.status}: the token is missing or wrong.`
      : `It answers ${response.status} ${STATUS_CODES[response.status] ?? ''}.`.replace(/ \.$/, '.'),
    Number.isFinite(after) && after > 0 ? Math.min(after, 3600) : null,
  );
}

/** A cursor in an answer: text or a number, nothing else. */
function readCursor(value: unknown): string | null {
  if (typeof value === 'string') return value === '' ? null : value.slice(0, 4000);
  return typeof value === 'number' || typeof value === 'bigint' ? String(value) : null;
}

/**
 * Asks for one page. Redirects are not followed, an answer is bounded in size and time.
 * @throws PullFailure saying what is wrong
 */
export async function fetchPage(request: PageRequest, stop: AbortSignal): Promise<Page> {
  const address = new URL(request.address);
  if (request.cursor !== null && request.cursorParameter !== '')
    address.searchParams.set(request.cursorParameter, request.cursor);
  let text: string;
  let etag: string | null;
  try {
    const response = await guardedRequest(address.toString(), {
      method: 'GET',
      headers: {
        Accept: 'application/json',
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
    if (response.status === 304) return { items: [], next: null, etag: request.etag, unchanged: true };
    if (response.status < 200 || response.status >= 300) throw refuse(response);
    if (response.cut)
      throw new PullFailure(
        `An answer is longer than ${INTAKE_LIMITS.bytes.toLocaleString('en')} bytes. Ask for smaller pages in the address.`,
      );
    etag = response.headers.etag ?? null;
    ({ text } = response);
  } catch (error) {
    if (error instanceof PullFailure) throw error;
    throw new PullFailure(error instanceof Error ? error.message : String(error), null, error);
  }
  return { ...readPage(text, request), etag, unchanged: false };
}

/** Takes an answer apart. @throws PullFailure where it does not look as it was said to */
export function readPage(
  text: string,
  { items: itemsAt, next: nextAt }: Pick<PageRequest, 'items' | 'next'>,
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
