import { availableParallelism } from 'node:os';
import { Worker } from 'node:worker_threads';
import type { FileShape, SweepPlan, SweptPiece } from './sweep-plan.js';

/** A piece of a file: whole lines as bytes, or records that were cut already. */
export interface Piece {
  readonly shape: FileShape;
  readonly lines: Uint8Array | null;
  readonly records: readonly string[];
}

type Waiting = { readonly done: (swept: SweptPiece) => void; readonly failed: (error: Error) => void };

/** Threads that sweep pieces, one a core; each takes the next piece when it is through with its own. */
export class SweepThreads {
  private readonly workers: Worker[];
  private readonly waiting = new Map<Worker, Waiting[]>();

  constructor(plan: SweepPlan) {
    this.workers = Array.from({ length: availableParallelism() }, () => {
      const worker = new Worker(new URL(import.meta.url), { workerData: { sweep: plan } });
      this.waiting.set(worker, []);
      worker.on('message', (swept: SweptPiece) => this.waiting.get(worker)?.shift()?.done(swept));
      worker.on('error', (error) => {
        for (const { failed } of this.waiting.get(worker)?.splice(0) ?? []) failed(error);
      });
      return worker;
    });
  }

  /** How many pieces may be under way before reading waits. */
  get most(): number {
    return this.workers.length * 3;
  }

  /** Sweeps a piece in whatever thread has least to do. */
  sweep(piece: Piece): Promise<SweptPiece> {
    const load = (worker: Worker): number => this.waiting.get(worker)?.length ?? 0;
    const [worker] = [...this.workers].sort((a, b) => load(a) - load(b));
    if (worker === undefined) throw new Error('There are threads.');
    return new Promise((done, failed) => {
      this.waiting.get(worker)?.push({ done, failed });
      worker.postMessage(piece, piece.lines === null ? [] : [piece.lines.buffer as ArrayBuffer]);
    });
  }

  async end(): Promise<void> {
    await Promise.all(this.workers.map((worker) => worker.terminate()));
  }
}
