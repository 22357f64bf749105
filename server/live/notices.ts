import { Client } from 'pg';
import type { Logger } from 'pino';

/** What PostgreSQL tells all servers about. */
export type Notice =
  | { readonly topic: 'alerts'; readonly ids: readonly number[] }
  | { readonly topic: 'sources'; readonly name: string }
  | { readonly topic: 'cases'; readonly id: number }
  | { readonly topic: 'batch'; readonly batch: BatchNotice };

/** Events that have just been stored, and where they are found. */
export interface BatchNotice {
  readonly id: number;
  readonly events: number;
  /** The stretch of time they lie in, ISO 8601. */
  readonly first: string;
  readonly last: string;
}
type Listener = (notice: Notice) => void;

/** A lost connection is tried again after so long. */
const RETRY_MILLISECONDS = 1000;

function parse(channel: string, payload: string): Notice {
  switch (channel) {
    case 'lamp_alerts':
      return { topic: 'alerts', ids: JSON.parse(payload) as number[] };
    case 'lamp_cases':
      return { topic: 'cases', id: Number(payload) };
    case 'lamp_batches':
      return { topic: 'batch', batch: JSON.parse(payload) as BatchNotice };
    default:
      return { topic: 'sources', name: payload };
  }
}

/** Listens to PostgreSQL's notices on a connection of its own, and tells whoever asks. */
export class Notices {
  private readonly listeners = new Set<Listener>();
  private client: Client | undefined;
  private stopped = false;
  private retry: NodeJS.Timeout | undefined;

  constructor(
    private readonly url: string,
    private readonly logger: Logger,
  ) {}

  async start(): Promise<void> {
    const client = new Client({ connectionString: this.url });
    this.client = client;
    client.on('notification', ({ channel, payload }) => {
      const notice = parse(channel, payload ?? '');
      for (const listener of this.listeners) listener(notice);
    });
    client.on('error', (error) => {
      this.logger.warn({ err: error }, 'the connection for notices was lost');
      client.end().catch(() => undefined);
      this.startAgain();
    });
    await client.connect();
    await client.query('LISTEN lamp_alerts');
    await client.query('LISTEN lamp_sources');
    await client.query('LISTEN lamp_cases');
    await client.query('LISTEN lamp_batches');
  }

  private startAgain(): void {
    if (this.stopped || this.retry !== undefined) return;
    this.retry = setTimeout(() => {
      this.retry = undefined;
      this.start().catch(() => this.startAgain());
    }, RETRY_MILLISECONDS);
  }

  /** @returns how to stop being told */
  subscribe(listener: Listener): () => void {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  }

  async stop(): Promise<void> {
    this.stopped = true;
    clearTimeout(this.retry);
    await this.client?.end().catch(() => undefined);
  }
}
