import { SECOND, type Instant } from '../../core/base/instant.js';

/** What is kept of one piece of an answer: a list that grows while it is counted. */
interface Running<Piece> {
  /** Pieces so far; null for those that a later one has taken the place of. */
  readonly pieces: (Piece | null)[];
  /** When it began to be counted. */
  started: Instant;
  done: boolean;
  failure: unknown;
  waiters: Set<() => void>;
  readers: number;
  readonly stop: AbortController;
  /** Once it is done, or was stopped. */
  ended: Promise<void>;
}

interface Kept<Piece> {
  readonly pieces: readonly Piece[];
  readonly counted: Instant;
  /** What it rests on, see {@link Validity}. */
  readonly state: string | null;
  readonly weight: number;
}

/** For how long an answer holds. */
export interface Validity {
  /** Seconds after which it is counted anew. */
  readonly refresh: number;
  /**
   * For a window that has ended: what its answer rests on. While that stays the same the answer holds however old it
   * is. Null for a window that still goes on.
   */
  readonly state: string | null;
}

/** What a caller is told of a piece besides what it holds. */
export interface Told<Piece> {
  readonly piece: Piece;
  readonly counted: Instant;
  readonly kept: boolean;
}

/** Bytes, about, that are kept of all answers together. */
const MAX_WEIGHT = 64_000_000;
const MAX_ANSWERS = 1000;

/**
 * Asks the same question once for everybody who waits for it, and keeps what was counted: fifty people who look at one
 * board cost the database as much as one. What nobody waits for any longer is stopped.
 */
export class SharedAnswers<Piece> {
  private readonly running = new Map<string, Running<Piece>>();
  /** What begins once the one that is running has ended: for all who ask for it afresh meanwhile. */
  private readonly next = new Map<string, Running<Piece>>();
  /** The one used longest ago comes first. */
  private readonly kept = new Map<string, Kept<Piece>>();
  private weight = 0;

  constructor(
    private readonly now: () => Instant,
    private readonly limits: {
      /** How much room a piece takes. */
      readonly weigh: (piece: Piece) => number;
      /** Whether a piece takes the place of those before it that it also covers. */
      readonly replaces: (piece: Piece, before: Piece) => boolean;
    },
  ) {}

  /** How many answers are kept, and being counted. */
  get size(): { readonly kept: number; readonly running: number; readonly weight: number } {
    return { kept: this.kept.size, running: this.running.size, weight: this.weight };
  }

  /**
   * The answer to a question: what is kept where it still holds, else as it is counted, for all who ask meanwhile.
   * @param key equal for equal questions of people who may see the same
   * @param ask counts it; the signal says that nobody waits any longer
   * @param fresh counts anew: neither what is kept will do, nor what began before it was asked for; however many ask so,
   *   a question is counted once at a time
   */
  async *answer(
    key: string,
    validity: Validity,
    ask: (signal: AbortSignal) => AsyncGenerator<Piece>,
    signal: AbortSignal,
    fresh = false,
  ): AsyncGenerator<Told<Piece>> {
    const known = fresh ? null : this.holding(key, validity);
    if (known !== null) {
      for (const piece of known.pieces) yield { piece, counted: known.counted, kept: true };
      return;
    }
    yield* this.follow(this.runFor(key, validity, ask, fresh), signal);
  }

  private runFor(
    key: string,
    validity: Validity,
    ask: (signal: AbortSignal) => AsyncGenerator<Piece>,
    fresh: boolean,
  ): Running<Piece> {
    const before = this.running.get(key);
    const joined = fresh ? this.next.get(key) : (before ?? this.next.get(key));
    if (joined !== undefined) return joined;
    const run: Running<Piece> = {
      pieces: [],
      started: this.now(),
      done: false,
      failure: null,
      waiters: new Set(),
      readers: 0,
      stop: new AbortController(),
      ended: Promise.resolve(),
    };
    if (before === undefined) {
      this.running.set(key, run);
      run.ended = this.count(run, key, validity, ask);
      return run;
    }
    this.next.set(key, run);
    run.ended = before.ended.then(() => {
      if (this.next.get(key) === run) this.next.delete(key);
      // Nobody waits for it any longer.
      if (run.stop.signal.aborted) return undefined;
      run.started = this.now();
      this.running.set(key, run);
      return this.count(run, key, validity, ask);
    });
    return run;
  }

  private holding(key: string, { refresh, state }: Validity): Kept<Piece> | null {
    const known = this.kept.get(key);
    if (known === undefined) return null;
    const young = this.now() - known.counted < refresh * SECOND;
    const untouched = state !== null && known.state === state;
    // Something came into a window that has ended: the answer is of before.
    if (state === null ? !young : !untouched) return null;
    this.kept.delete(key);
    this.kept.set(key, known);
    return known;
  }

  private async count(
    run: Running<Piece>,
    key: string,
    { state }: Validity,
    ask: (signal: AbortSignal) => AsyncGenerator<Piece>,
  ): Promise<void> {
    try {
      for await (const piece of ask(run.stop.signal)) {
        for (const [i, before] of run.pieces.entries())
          if (before !== null && this.limits.replaces(piece, before)) run.pieces[i] = null;
        run.pieces.push(piece);
        wake(run);
      }
      if (!run.stop.signal.aborted) this.keep(key, run, state);
    } catch (error) {
      run.failure = error;
    } finally {
      run.done = true;
      if (this.running.get(key) === run) this.running.delete(key);
      wake(run);
    }
  }

  private keep(key: string, run: Running<Piece>, state: string | null): void {
    const pieces = run.pieces.filter((piece) => piece !== null);
    const weight = pieces.reduce((sum, piece) => sum + this.limits.weigh(piece), 0);
    this.forget(key);
    this.kept.set(key, { pieces, counted: run.started, state, weight });
    this.weight += weight;
    for (const oldest of this.kept.keys()) {
      if (this.weight <= MAX_WEIGHT && this.kept.size <= MAX_ANSWERS) return;
      this.forget(oldest);
    }
  }

  private forget(key: string): void {
    this.weight -= this.kept.get(key)?.weight ?? 0;
    this.kept.delete(key);
  }

  private async *follow(run: Running<Piece>, signal: AbortSignal): AsyncGenerator<Told<Piece>> {
    run.readers++;
    const left = (): void => wake(run);
    signal.addEventListener('abort', left);
    try {
      for (let i = 0; ; i++) {
        while (i >= run.pieces.length && !run.done && !signal.aborted)
          await new Promise<void>((resolve) => run.waiters.add(resolve));
        if (signal.aborted) return;
        if (i >= run.pieces.length) {
          if (run.failure instanceof Error) throw run.failure;
          return;
        }
        const piece = run.pieces[i];
        if (piece != null) yield { piece, counted: run.started, kept: false };
      }
    } finally {
      signal.removeEventListener('abort', left);
      run.readers--;
      if (run.readers === 0 && !run.done) {
        run.stop.abort();
        for (const runs of [this.running, this.next])
          for (const [key, other] of runs) if (other === run) runs.delete(key);
      }
    }
  }
}

function wake<Piece>(run: Running<Piece>): void {
  const waiters = [...run.waiters];
  run.waiters.clear();
  for (const go of waiters) go();
}
