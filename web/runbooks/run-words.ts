import type { RunSummary } from '../../core/wire/runbooks.js';
import { showTime } from '../ui/format.js';

/** How a run stands, in a few words. */
export function runWords(run: RunSummary, zone: string): string {
  switch (run.state) {
    case 'running':
      switch (run.waits) {
        case 'answer':
          return `asks: ${run.at ?? ''}`;
        case 'response':
          return `waits for approval: ${run.at ?? ''}`;
        case 'time':
          return `waits${run.wake === null ? '' : ` until ${showTime(run.wake, zone, 'minute')}`}`;
        default:
          return `at work: ${run.at ?? ''}`;
      }
    case 'done':
      return 'came to its end';
    case 'stopped':
      return `stopped by ${run.endedBy ?? ''}${run.said === null ? '' : `: ${run.said}`}`;
    case 'failed':
      return run.said ?? 'ended early';
  }
}
