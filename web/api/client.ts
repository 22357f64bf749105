import type { Method } from '../../core/wire/endpoint.js';
import type { Problem } from '../../core/wire/common.js';

/** A request that the server refused, or that did not reach it. */
export class ApiFailure extends Error {
  override readonly name = 'ApiFailure';

  constructor(readonly problem: Problem) {
    super(problem.detail);
  }
}

const unreachable = (): Problem => ({
  type: 'about:blank',
  title: 'No connection',
  status: 0,
  code: 'no-connection',
  detail: 'The server does not answer. It may be starting again; try in a moment.',
});

/** The failure a response tells. */
export async function readFailure(response: Response): Promise<ApiFailure> {
  try {
    return new ApiFailure((await response.json()) as Problem);
  } catch {
    return new ApiFailure({
      ...unreachable(),
      status: response.status,
      detail: `The server answered ${response.status}.`,
    });
  }
}

export interface Ask {
  readonly method?: Method;
  readonly body?: unknown;
  /** A file as it is, in place of a JSON body. */
  readonly raw?: Blob;
  readonly signal?: AbortSignal;
  readonly accept?: string;
}

/** Sends a request to the API. @throws ApiFailure */
export async function ask(
  path: string,
  { method = 'get', body, raw, signal, accept = 'application/json' }: Ask = {},
): Promise<Response> {
  let response: Response;
  try {
    response = await fetch(`/api/v1${path}`, {
      method: method.toUpperCase(),
      headers: {
        Accept: accept,
        ...(body !== undefined && { 'Content-Type': 'application/json' }),
        ...(raw !== undefined && { 'Content-Type': 'application/octet-stream' }),
      },
      credentials: 'same-origin',
      ...(body !== undefined && { body: JSON.stringify(body) }),
      ...(raw !== undefined && { body: raw }),
      ...(signal !== undefined && { signal }),
    });
  } catch (error) {
    if (error instanceof DOMException && error.name === 'AbortError') throw error;
    throw new ApiFailure(unreachable());
  }
  if (!response.ok) throw await readFailure(response);
  return response;
}
