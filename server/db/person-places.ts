import { Failure } from '../failure.js';

/** How much may run at once. */
export interface PlaceLimits {
  /** Of one person. */
  readonly perPerson: number;
  /** Of all together. */
  readonly total: number;
  /** Of one person that wait. */
  readonly waiting: number;
}

interface Waiting {
  readonly person: string;
  readonly go: () => void;
  /** Told whenever fewer are before it. */
  moved: () => void;
}

/** A place that was asked for: taken at once, or waited for. */
export interface Entry {
  /** How many go before; 0 once the place is there. */
  readonly before: number;
  /** Resolves when the place is there. */
  readonly taken: Promise<void>;
  /** Resolves when fewer go before, or the place is there. */
  changed(): Promise<void>;
  /** Gives the place back, or stops waiting. */
  leave(): void;
}

/**
 * Places for work of persons: nobody takes all of them, and who waits is served in turn. Packages that limit what runs
 * at once have one queue for all; here each person has a share, and is told how many go before.
 */
export class PersonPlaces {
  private readonly running = new Map<string, number>();
  private readonly queue: Waiting[] = [];
  private total = 0;

  constructor(private readonly limits: PlaceLimits) {}

  private isFree(person: string): boolean {
    return this.total < this.limits.total && (this.running.get(person) ?? 0) < this.limits.perPerson;
  }

  private begin(person: string): void {
    this.total++;
    this.running.set(person, (this.running.get(person) ?? 0) + 1);
  }

  /** @throws Failure 429 where the person has as many waiting as may */
  enter(person: string): Entry {
    if (this.isFree(person)) {
      this.begin(person);
      return this.entry(person, null, Promise.resolve());
    }
    const own = this.queue.filter((waiting) => waiting.person === person).length;
    if (own >= this.limits.waiting)
      throw new Failure(
        'too-many',
        `${own} of your questions wait already, and ${this.limits.perPerson} run. Stop one, or wait until one ends.`,
        { retryAfter: 2 },
      );
    let go: () => void = () => undefined;
    const taken = new Promise<void>((open) => (go = open));
    const waiting: Waiting = { person, go, moved: () => undefined };
    this.queue.push(waiting);
    return this.entry(person, waiting, taken);
  }

  private entry(person: string, waiting: Waiting | null, taken: Promise<void>): Entry {
    const { queue } = this;
    let left = false;
    return {
      taken,
      get before() {
        return waiting === null ? 0 : queue.indexOf(waiting) + 1;
      },
      changed: () =>
        waiting === null
          ? Promise.resolve()
          : Promise.race([taken, new Promise<void>((moved) => (waiting.moved = moved))]),
      leave: () => {
        if (left) return;
        left = true;
        const at = waiting === null ? -1 : queue.indexOf(waiting);
        if (at >= 0) queue.splice(at, 1);
        else this.end(person);
        for (const other of queue) other.moved();
      },
    };
  }

  private end(person: string): void {
    this.total--;
    const left = (this.running.get(person) ?? 1) - 1;
    if (left === 0) this.running.delete(person);
    else this.running.set(person, left);
    // The first whose person has room, not merely the first.
    const next = this.queue.findIndex((waiting) => this.isFree(waiting.person));
    const [waiting] = next < 0 ? [] : this.queue.splice(next, 1);
    if (waiting === undefined) return;
    this.begin(waiting.person);
    waiting.go();
  }

  /** Waits for a place. @returns how to give it back @throws Failure 429, 499 where the caller goes away meanwhile */
  async take(person: string, signal: AbortSignal): Promise<() => void> {
    const entry = this.enter(person);
    if (entry.before > 0) {
      const taken = new AbortController();
      const gone = new Promise<void>((resolve) =>
        signal.addEventListener('abort', () => resolve(), { once: true, signal: taken.signal }),
      );
      if (!signal.aborted) await Promise.race([entry.taken, gone]);
      taken.abort();
    }
    if (signal.aborted) {
      entry.leave();
      throw new Failure('stopped', 'The hunt was stopped.');
    }
    return () => entry.leave();
  }
}
