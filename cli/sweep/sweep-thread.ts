import { parentPort, workerData } from 'node:worker_threads';
import { PreparedSweep, type SweepPlan } from './sweep-plan.js';
import { recordsOf } from './read-pieces.js';
import type { Piece } from './sweep-threads.js';

/** The plan, where this is a thread of a sweep; null in the command itself. */
export const planOfThread = (): SweepPlan | null =>
  (workerData as { sweep?: SweepPlan } | null)?.sweep ?? null;

/** What a thread of a sweep does: sweeps the pieces it is sent, one after another. */
export function runThread(plan: SweepPlan): void {
  const sweep = new PreparedSweep(plan);
  parentPort?.on('message', (piece: Piece) => {
    parentPort?.postMessage(sweep.sweep(recordsOf(piece), piece.shape));
  });
}
