import { guardedRequest } from '../deliver/guarded-request.js';
import { PullFailure } from './pull-failure.js';

/** Who asks for a token, where. */
export interface ClientCredentials {
  readonly tokenAddress: string;
  readonly clientId: string;
  readonly secret: string;
  readonly scope: string;
  readonly allowPrivate: boolean;
}

interface Held {
  readonly token: string;
  /** Milliseconds; used no longer than until a little before it ends. */
  readonly until: number;
}

const ASK_MILLISECONDS = 15_000;
const MAX_BYTES = 64 * 1024;
/** Where an answer does not say how long a token holds. */
const USUAL_SECONDS = 300;
const EARLY_SECONDS = 20;
const MAX_HELD = 500;

/** RFC 6749, section 2.3.1: both are form-encoded before they are put together. */
const formEncoded = (text: string): string => encodeURIComponent(text).replace(/%20/g, '+');

/** Access tokens by client credentials (RFC 6749, section 4.4), kept while they hold. */
export class AccessTokens {
  private readonly held = new Map<string, Held>();

  constructor(private readonly now: () => number = Date.now) {}

  /** A token for a client. @throws PullFailure saying what is wrong */
  async get(asked: ClientCredentials, stop: AbortSignal): Promise<string> {
    const key = keyOf(asked);
    const known = this.held.get(key);
    if (known !== undefined && known.until > this.now()) return known.token;
    const got = await this.ask(asked, stop);
    if (this.held.size >= MAX_HELD) this.held.clear();
    this.held.set(key, got);
    return got.token;
  }

  /** Forgets a token that was refused, so that the next is a new one. */
  forget(asked: ClientCredentials): void {
    this.held.delete(keyOf(asked));
  }

  private async ask(asked: ClientCredentials, stop: AbortSignal): Promise<Held> {
    const body = new URLSearchParams({ grant_type: 'client_credentials' });
    if (asked.scope !== '') body.set('scope', asked.scope);
    const basic = Buffer.from(`${formEncoded(asked.clientId)}:${formEncoded(asked.secret)}`).toString(
      'base64',
    );
    const answer = await guardedRequest(asked.tokenAddress, {
      method: 'POST',
      headers: {
        'Content-Type': 'application/x-www-form-urlencoded',
        Accept: 'application/json',
        Authorization: `Basic ${basic}`,
      },
      body: body.toString(),
      allowPrivate: asked.allowPrivate,
      maxBytes: MAX_BYTES,
      milliseconds: ASK_MILLISECONDS,
      signal: stop,
    }).catch((error: unknown) => {
      throw new PullFailure(
        `No access token: ${error instanceof Error ? error.message : String(error)}`,
        null,
        error,
      );
    });
    const read = readToken(answer.text);
    if (answer.status !== 200 || read.token === null)
      throw new PullFailure(
        `No access token: ${asked.tokenAddress} answers ${answer.status}${read.error === null ? '' : `, "${read.error}"`}.`,
      );
    return {
      token: read.token,
      until: this.now() + Math.max(1, (read.seconds ?? USUAL_SECONDS) - EARLY_SECONDS) * 1000,
    };
  }
}

const keyOf = ({ tokenAddress, clientId, secret, scope }: ClientCredentials): string =>
  JSON.stringify([tokenAddress, clientId, secret, scope]);

/** What a token endpoint says (RFC 6749, sections 5.1 and 5.2). */
function readToken(text: string): {
  readonly token: string | null;
  readonly seconds: number | null;
  readonly error: string | null;
} {
  let answer: { access_token?: unknown; expires_in?: unknown; error?: unknown; token_type?: unknown } = {};
  try {
    answer = (JSON.parse(text) ?? {}) as typeof answer;
  } catch {
    // Told below as an answer without a token.
  }
  const bearer = typeof answer.token_type !== 'string' || /^bearer$/i.test(answer.token_type);
  const { access_token: token, expires_in: seconds, error } = answer;
  return {
    token: bearer && typeof token === 'string' && /^[\x21-\x7e]{1,8000}$/.test(token) ? token : null,
    seconds: typeof seconds === 'number' && seconds > 0 ? seconds : null,
    error: typeof error === 'string' ? error.slice(0, 100) : null,
  };
}
