import { CronExpressionParser } from 'cron-parser';

/** Any moment does to see whether another follows. */
const SOME_DAY = new Date('2024-01-01T00:00:00Z');

/**
 * What is wrong with a cron expression of five parts, in any zone.
 * @returns null of one that can be kept to
 */
export function cronMistake(expression: string): string | null {
  if (!/^\S+(\s+\S+){4}$/.test(expression) || expression.length > 200)
    return '"cron" has five parts: minute, hour, day, month, weekday';
  let read;
  try {
    read = CronExpressionParser.parse(expression, { currentDate: SOME_DAY, tz: 'UTC' });
  } catch (error) {
    return `"cron" cannot be kept to: ${error instanceof Error ? error.message : String(error)}`;
  }
  try {
    read.next();
    return null;
  } catch {
    return '"cron" names a day that never comes';
  }
}
