import { isIP } from 'node:net';

/** What an attack was answered: how often each. */
export class Answers {
  private readonly counted = new Map<string, number>();

  add(what: string): void {
    this.counted.set(what, (this.counted.get(what) ?? 0) + 1);
  }

  /** The most frequent first. */
  toString(): string {
    return [...this.counted]
      .sort(([, a], [, b]) => b - a)
      .map(([what, times]) => `${times} × ${what}`)
      .join('; ');
  }
}

/** The workbench that is tried: an address of this machine itself, asked as one of its people. */
export class Besieged {
  private constructor(
    readonly base: URL,
    private readonly cookie: string,
  ) {}

  /** @throws Error for an address that is not of this machine, or a sign-in that is refused */
  static async enter(address: string, name: string, password: string): Promise<Besieged> {
    const base = new URL(address);
    const host = base.hostname.replace(/^\[|\]$/g, '');
    if (base.protocol !== 'http:' || isIP(host) === 0 || !/^(127\.|::1$)/.test(host))
      throw new Error(
        `${address} is no loopback address; only those are tried, such as http://127.0.0.1:7380`,
      );
    const answer = await fetch(new URL('/api/v1/session', base), {
      method: 'POST',
      headers: { 'Content-Type': 'application/json' },
      body: JSON.stringify({ name, password }),
    });
    if (!answer.ok) throw new Error(`Signing in as ${name} gave ${answer.status}.`);
    return new Besieged(base, answer.headers.get('set-cookie')?.split(';')[0] ?? '');
  }

  get headers(): Record<string, string> {
    return { Cookie: this.cookie };
  }

  /** Asks, waiting at most so long. */
  fetch(method: string, path: string, body: unknown, milliseconds: number): Promise<Response> {
    return fetch(new URL(`/api/v1${path}`, this.base), {
      method,
      headers: { ...this.headers, ...(body !== undefined && { 'Content-Type': 'application/json' }) },
      ...(body !== undefined && { body: JSON.stringify(body) }),
      signal: AbortSignal.timeout(milliseconds),
    });
  }

  /** Asks, and tells in a few words how it was answered. */
  async try(
    answers: Answers,
    method: string,
    path: string,
    body: unknown,
    milliseconds: number,
  ): Promise<void> {
    try {
      const response = await this.fetch(method, path, body, milliseconds);
      const text = await response.text();
      const said = /"(?:detail|reason)":\s*"((?:[^"\\]|\\.){1,110})/.exec(text)?.[1];
      answers.add(said === undefined ? String(response.status) : `${response.status}, “${said}”`);
    } catch (error) {
      answers.add(error instanceof Error && error.name === 'TimeoutError' ? 'no answer in time' : 'cut off');
    }
  }
}
