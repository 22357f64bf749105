import type { Recognised } from '../formats/recognise.js';
import { EARLIEST, LATEST, readTime } from './record-time.js';
import { timeForms, type Recipe, type TimeForm } from './recipe-schema.js';
import type { Json } from '../base/json.js';
import type { Instant } from '../base/instant.js';

/** The form a time is written in. @returns undefined when it is none of those that can be read */
export function timeFormOf(value: Json, received: Instant): TimeForm | undefined {
  const YEARS = 40;
  const near = (time: Instant): boolean =>
    time > EARLIEST && time < LATEST && Math.abs(time - received) < YEARS * 366 * 86_400_000_000;
  return timeForms.find((form) => {
    const time = readTime(value, form, received);
    return time !== null && near(time);
  });
}

/** A first recipe for records that look like this; what its columns are is left to whoever knows the source. */
export function draftRecipe(
  name: string,
  recognised: Recognised,
  time: { from: string; as: TimeForm } | undefined,
): Recipe {
  const { format, columns, delimiter } = recognised;
  const written: Recipe['time'] =
    time ??
    (format === 'syslog'
      ? { from: 'timestamp', as: 'syslog' }
      : format === 'combined-log'
        ? { from: 'time', as: 'access-log' }
        : format === 'os-event-xml'
          ? { from: 'SystemTime', as: 'iso' }
          : { from: 'time', as: 'iso' });
  return {
    name,
    title: `Records of ${name}`,
    version: 1,
    format,
    ...(columns !== undefined && { columns }),
    ...(delimiter !== undefined && delimiter !== ',' && { delimiter }),
    time: written,
    constants: { kind: 'system' },
    map: {},
  };
}
