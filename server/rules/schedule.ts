import { CronExpressionParser } from 'cron-parser';
import { BUCKET_ORIGIN, type Instant } from '../../core/base/instant.js';
import type { HuntRuns } from '../../core/sigma/rule-model.js';

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
    case 'cron': {
      const currentDate = new Date(Math.floor(after / 1000));
      return (
        CronExpressionParser.parse(runs.expression, { currentDate, tz: runs.zone }).next().getTime() * 1000
      );
    }
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
    case 'cron': {
      // The one before is earlier than the moment it is asked from, so that is moved on by the least there is.
      const currentDate = new Date(Math.floor(until / 1000) + 1);
      const before = CronExpressionParser.parse(runs.expression, { currentDate, tz: runs.zone })
        .prev()
        .getTime();
      // Backwards, a time that never comes as clocks go forward is passed over: forwards it is not.
      let found = before * 1000;
      for (let after = nextDue(runs, found); after !== null && after <= until; after = nextDue(runs, found))
        found = after;
      return found;
    }
  }
}
