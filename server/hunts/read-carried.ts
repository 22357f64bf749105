import type { Json } from '../../core/base/json.js';
import { invalid } from '../failure.js';

/** Conditions that are carried, where they stand in an address. @throws Failure 400 */
export function readCarried(text: string | undefined): string[] {
  if (text === undefined || text === '') return [];
  try {
    const read = JSON.parse(text) as Json;
    if (Array.isArray(read) && read.every((one) => typeof one === 'string')) return read;
  } catch {
    // Told below.
  }
  throw invalid(`"carried" must be a JSON array of conditions, such as ["user = 'teo.marrash'"].`);
}
