import { Failure } from '../failure.js';

/** How much may be under way at once. */
export interface PlaceLimits {
  /** Of one source. */
  readonly perSource: number;
  /** Of all together. */
  readonly total: number;
  /** Of one source that wait until a place is free. */
  readonly waiting: number;
}

/** Requests whose body is being received: each may hold the largest body in memory. */
export const RECEIVING: PlaceLimits = { perSource: 4, total: 32, waiting: 0 };
/** Requests whose records are being stored, and bodies that wait for it. */
export const STORING: PlaceLimits = { perSource: 2, total: 16, waiting: 4 };

/**
 * Places for work of sources, so that one that sends much, or slowly, leaves room for the others. As with persons
 * (`server/db/person-places.ts`), a queue for all would let one source fill it.
 */
export class SourcePlaces {
  private readonly taken = new Map<string, number>();
  private readonly waiting = new Map<string, (() => void)[]>();
  private total = 0;

  constructor(private readonly limits: PlaceLimits) {}

  /** @throws Failure 429 where there is none free, nor room to wait for one */
  async within<T>(source: string, work: () => Promise<T>): Promise<T> {
    await this.take(source);
    try {
      return await work();
    } finally {
      this.free(source);
    }
  }

  private async take(source: string): Promise<void> {
    const own = this.taken.get(source) ?? 0;
    if (own < this.limits.perSource && this.total < this.limits.total) {
      this.taken.set(source, own + 1);
      this.total++;
      return;
    }
    const waiting = this.waiting.get(source) ?? [];
    // Only those wait whose own source will make room for them.
    if (own < this.limits.perSource || waiting.length >= this.limits.waiting)
      throw new Failure(
        'busy',
        own < this.limits.perSource
          ? 'Intake is behind. Send it again in a moment.'
          : `${own + waiting.length} requests of this source are under way already. Send it again in a moment.`,
        { retryAfter: 1 },
      );
    this.waiting.set(source, waiting);
    await new Promise<void>((go) => waiting.push(go));
  }

  /** Gives a place to the next of the same source, or back. */
  private free(source: string): void {
    const waiting = this.waiting.get(source) ?? [];
    const next = waiting.shift();
    if (waiting.length === 0) this.waiting.delete(source);
    if (next !== undefined) return next();
    this.total--;
    const left = (this.taken.get(source) ?? 1) - 1;
    if (left === 0) this.taken.delete(source);
    else this.taken.set(source, left);
  }
}

/** The places of everything that takes records in over HTTP, whatever the protocol. */
export interface IntakePlaces {
  readonly receiving: SourcePlaces;
  readonly storing: SourcePlaces;
}

export const makeIntakePlaces = (): IntakePlaces => ({
  receiving: new SourcePlaces(RECEIVING),
  storing: new SourcePlaces(STORING),
});
