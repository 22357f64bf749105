import { parentPort, workerData } from 'node:worker_threads';
import { PreparedSweep, type SweepPlan } from './sweep-plan.js';
import type { Piece } from './sweep-threads.js';

/** The plan, where this is a thread of a sweep; null in the command itself. */
export const planOfThread = (): SweepPlan | null =>
  (workerData as { sweep?: SweepPlan } | null)?.sweep ?? null;

/** What a thread of a sweep does: sweeps the pieces it is sent, one after another. */
export function runThread(plan: SweepPlan): void {
  const sweep = new PreparedSweep(plan);
  const decoder = new TextDecoder();
  parentPort?.on('message', ({ shape, lines, records }: Piece) => {
    const whole =
      lines === null
        ? records
        : decoder
            .decode(lines)
            .split('\n')
            .filter((line) => line !== '' && line.trim() !== '');
    parentPort?.postMessage(sweep.sweep(whole, shape));
  });
}
