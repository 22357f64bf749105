import type { Recognised } from '../formats/recognise.js';
import { EARLIEST, LATEST, readTime } from './record-time.js';
import { timeForms, type Recipe } from './recipe-schema.js';
import { compileTimeFormat } from './time-format.js';
import type { Json } from '../base/json.js';
import type { Instant } from '../base/instant.js';

/** The form a time is written in. @returns undefined when it is none of those that can be read */
export function timeFormOf(value: Json, received: Instant): string | undefined {
  const YEARS = 40;
  const near = (time: Instant): boolean =>
    time > EARLIEST && time < LATEST && Math.abs(time - received) < YEARS * 366 * 86_400_000_000;
  const context = { received, zone: 'UTC', zones: new Map<string, string>() };
  const named = timeForms.find((form) => {
    const time = readTime(value, form, context);
    return time !== null && near(time);
  });
  if (named !== undefined || typeof value !== 'string') return named;
  return commonFormats.find(([, read]) => {
    const time = read(value.trim(), context);
    return time !== null && near(time);
  })?.[0];
}

/** Forms that logs are often written in, besides those with names. */
const commonFormats = [
  'yyyy-MM-dd HH:mm:ss.S z',
  'yyyy-MM-dd HH:mm:ss z',
  'yyyy-MM-dd HH:mm:ss',
  'yyyy-MM-dd HH:mm:ss,S',
  'yyyy/MM/dd HH:mm:ss',
  'EEE MMM d HH:mm:ss.S yyyy',
  'EEE MMM d HH:mm:ss yyyy',
  'EEE, d MMM yyyy HH:mm:ss XXX',
  'EEE, d MMM yyyy HH:mm:ss z',
  'd-MMM-yyyy HH:mm:ss.S',
  'dd/MM/yyyy HH:mm:ss',
  'MMM d HH:mm:ss',
  'MMM d HH:mm:ss.S',
  'MMM d yyyy HH:mm:ss',
].map((format) => [format, compileTimeFormat(format)] as const);

/** A first recipe for records that look like this; what its columns are is left to whoever knows the source. */
export function draftRecipe(
  name: string,
  recognised: Recognised,
  time: { from: string; as: string } | undefined,
): Recipe {
  const { format, columns, delimiter, records } = recognised;
  const written: Recipe['time'] =
    time ??
    (format === 'syslog'
      ? { from: 'timestamp', as: 'syslog' }
      : format === 'combined-log'
        ? { from: 'time', as: 'access-log' }
        : format === 'audit-log'
          ? { from: 'time', as: 'epoch-seconds' }
          : format === 'os-event-xml'
            ? { from: 'SystemTime', as: 'iso' }
            : { from: 'time', as: 'iso' });
  return {
    name,
    title: `Records of ${name}`,
    version: 1,
    format,
    ...(records !== undefined && { records }),
    ...(columns !== undefined && { columns }),
    ...(delimiter !== undefined && delimiter !== ',' && { delimiter }),
    time: written,
    constants: { kind: 'system' },
    map: {},
  };
}
