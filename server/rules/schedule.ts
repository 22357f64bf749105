import { BUCKET_ORIGIN, type Instant } from '../../core/base/instant.js';
import type { HuntRuns } from '../../core/sigma/rule-model.js';
import { cronAfter, cronUntil } from '../../core/text/cron.js';

/**
 * When a hunt runs next. Spans are counted from Monday midnight UTC, so that every server and every replay has the same
 * moments.
 * @param after the moment it is to be later than
 * @returns null for one that runs with every event
 * @throws Error for a cron expression that cannot be read
 */
export function nextDue(runs: HuntRuns, after: Instant): Instant | null {
  switch (runs.how) {
    case 'live':
      return null;
    case 'every':
      return Math.floor((after - BUCKET_ORIGIN) / runs.micros) * runs.micros + runs.micros + BUCKET_ORIGIN;
    case 'cron':
      return cronAfter(runs.expression, runs.zone, after);
  }
}

/**
 * When a hunt last ran, or would have.
 * @param until the moment it is to be no later than
 * @returns null for one that runs with every event
 * @throws Error for a cron expression that cannot be read
 */
export function lastDue(runs: HuntRuns, until: Instant): Instant | null {
  switch (runs.how) {
    case 'live':
      return null;
    case 'every':
      return Math.floor((until - BUCKET_ORIGIN) / runs.micros) * runs.micros + BUCKET_ORIGIN;
    case 'cron':
      return cronUntil(runs.expression, runs.zone, until);
  }
}
