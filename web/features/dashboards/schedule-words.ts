/** Days that a schedule may name in words; everything else is written as a cron expression. */
export const scheduleDays = {
  daily: 'Every day',
  workdays: 'Monday to Friday',
  mondays: 'Every Monday',
  firsts: 'The first of each month',
  cron: 'As cron says',
} as const;
export type ScheduleDays = keyof typeof scheduleDays;

const DAYS_OF_CRON: Readonly<Record<Exclude<ScheduleDays, 'cron'>, string>> = {
  daily: '* * *',
  workdays: '* * 1-5',
  mondays: '* * 1',
  firsts: '1 * *',
};

/** A cron expression of days in words and a time such as 07:00. */
export function cronOf(days: Exclude<ScheduleDays, 'cron'>, time: string): string {
  const [hour = '0', minute = '0'] = time.split(':');
  return `${Number(minute)} ${Number(hour)} ${DAYS_OF_CRON[days]}`;
}

/** Days and time of a cron expression, where words say it. @returns days `cron` for every other one */
export function readCron(cron: string): { readonly days: ScheduleDays; readonly time: string } {
  const read = /^(\d{1,2}) (\d{1,2}) (.+)$/.exec(cron.trim().replace(/\s+/g, ' '));
  const days = (Object.keys(DAYS_OF_CRON) as (keyof typeof DAYS_OF_CRON)[]).find(
    (name) => DAYS_OF_CRON[name] === read?.[3],
  );
  if (read === null || days === undefined) return { days: 'cron', time: '07:00' };
  const [, minute = '', hour = ''] = read;
  return { days, time: `${hour.padStart(2, '0')}:${minute.padStart(2, '0')}` };
}

/** When a board is answered, as a sentence says it. */
export function cronWords(cron: string): string {
  const { days, time } = readCron(cron);
  return days === 'cron'
    ? `at the times ${cron}`
    : `${scheduleDays[days].toLowerCase().replace('monday', 'Monday').replace('friday', 'Friday')} at ${time}`;
}
