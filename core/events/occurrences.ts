import { storable } from '../text/storable.js';
import { recordMark } from './event-id.js';

/** Different records that are remembered at once; twice as many while the older half is being forgotten. */
const MAX_REMEMBERED = 250_000;

/**
 * Counts identical records within one delivery, in bounded memory: two halves of the most recent different records are
 * remembered. A record whose identical predecessor lies more than {@link MAX_REMEMBERED} different records back is
 * taken for the first of its kind. What is forgotten depends on the records alone, so that the same delivery, or a longer
 * copy of it, is counted alike.
 */
export class Occurrences {
  private recent = new Map<string, number>();
  private older = new Map<string, number>();

  /**
   * @param delivery the name of the delivery; empty where it has none
   * @param keyOf what stands for a record; a hash keeps long deliveries small
   */
  constructor(
    private readonly delivery = '',
    private readonly keyOf: (record: string) => string = (record) => record,
    private readonly maxRemembered = MAX_REMEMBERED,
  ) {}

  /**
   * How many records identical to this one came before it.
   * @param atLeast how many its sender knows to have come before, in earlier parts of the delivery
   */
  next(record: string, atLeast = 0): number {
    // Records that are kept as the same text are identical.
    const key = this.keyOf(storable(record).trim());
    const known = this.recent.get(key) ?? this.older.get(key) ?? 0;
    const earlier = Math.max(known, atLeast);
    this.recent.set(key, earlier + 1);
    if (this.recent.size >= this.maxRemembered) {
      this.older = this.recent;
      this.recent = new Map();
    }
    return earlier;
  }

  /** What tells a record from identical ones of this delivery. */
  mark(record: string, atLeast = 0): string {
    return recordMark(this.next(record, atLeast), this.delivery);
  }
}

/** Writes how many identical records came before some records of a part: `4=1,17=3`, positions from 1. */
export const writeEarlierCopies = (copies: ReadonlyMap<number, number>): string =>
  Array.from(copies, ([position, earlier]) => `${position + 1}=${earlier}`).join(',');

/**
 * Reads what {@link writeEarlierCopies} wrote.
 * @returns by position from 0; null where it cannot be read
 */
export function readEarlierCopies(text: string): Map<number, number> | null {
  const copies = new Map<number, number>();
  if (text === '') return copies;
  for (const part of text.split(',')) {
    const match = /^ ?([1-9]\d{0,6})=(\d{1,9})$/.exec(part);
    if (match === null) return null;
    copies.set(Number(match[1]) - 1, Number(match[2]));
  }
  return copies;
}
