import type { Instant } from '../../core/base/instant.js';
import { silentOf, sweepWindows, type PlacedHit, type SweptWindow } from '../../core/detect/sweep.js';
import type { Event } from '../../core/events/event.js';
import type { Rule } from '../../core/sigma/rule-model.js';
import { type HowToRead, NoLog, piecesOf, recordsOf } from '../sweep/read-pieces.js';
import type { FileShape, PreparedSweep } from '../sweep/sweep-plan.js';

/** A record that some rule matched or counted. */
export interface KeptRecord {
  readonly file: string;
  readonly line: number;
  readonly time: Instant | null;
  readonly event: Event;
  /** Its place among all records that could be read. */
  readonly place: number;
}

/** A record of a sample, with the rules that it meets. */
export interface SampledRecord {
  readonly event: Event;
  readonly met: readonly number[];
}

/** What rules found in files. */
export interface Collected {
  readonly rules: readonly Rule[];
  /** Records that rules met, each once. */
  readonly records: readonly KeptRecord[];
  /** For each detection rule the records that it met, as positions in `records`. */
  readonly metBy: readonly (readonly number[])[];
  /** What correlations counted; places are positions in `records`. */
  readonly hits: readonly PlacedHit<number>[];
  readonly windows: readonly SweptWindow<number>[];
  readonly silent: ReadonlySet<number>;
  readonly sample: readonly SampledRecord[];
  /** Records that could be read, and the span of their times. */
  readonly read: number;
  readonly unreadable: number;
  readonly span: { readonly from: Instant; readonly to: Instant } | null;
}

/** More records that rules met than this are not held: nobody tunes what matches everything. */
const MAX_KEPT = 400_000;
const SAMPLE = 4000;

/** Too much was matched. */
export class TooLoud extends Error {
  override readonly name = 'TooLoud';
}

/** Reads every record of some files once. @param see is shown each that could be read */
export async function readAll(
  files: readonly string[],
  how: HowToRead,
  sweep: PreparedSweep,
  see: (record: Omit<KeptRecord, 'place'>, shape: FileShape) => void,
): Promise<number> {
  let unreadable = 0;
  for (const file of files) {
    let line = 0;
    try {
      for await (const piece of piecesOf(file, how)) {
        const read = sweep.reader(piece.shape);
        for (const record of recordsOf(piece)) {
          const found = read(record);
          if (found === 'left out') continue;
          line++;
          if (found === null) unreadable++;
          else see({ file, line, time: found.time, event: found.event }, piece.shape);
        }
      }
    } catch (error) {
      if (!(error instanceof NoLog)) throw error;
      process.stderr.write(`${file} is passed over: ${error.message}\n`);
    }
  }
  return unreadable;
}

/**
 * Sweeps files with what matched kept, and a sample of all records: of each the same, whatever machine it runs on
 * (algorithm R of J. S. Vitter, 1985, with a generator of its own).
 * @throws TooLoud where rules match too much to be held
 */
export async function collect(
  files: readonly string[],
  how: HowToRead,
  sweep: PreparedSweep,
): Promise<Collected> {
  const { rules } = sweep;
  const records: KeptRecord[] = [];
  const metBy = rules.map((): number[] => []);
  const hits: PlacedHit<number>[] = [];
  const sample: SampledRecord[] = [];
  let read = 0;
  let from = Infinity;
  let to = -Infinity;
  let state = 1;
  const unreadable = await readAll(files, how, sweep, ({ file, line, time, event }, shape) => {
    const place = read++;
    if (time !== null) {
      from = Math.min(from, time);
      to = Math.max(to, time);
    }
    const { met, hits: own } = sweep.sweeperOf(shape).sweep(event, time);
    state = (Math.imul(state, 1664525) + 1013904223) >>> 0;
    const slot = sample.length < SAMPLE ? sample.length : Math.floor((state / 2 ** 32) * read);
    if (slot < SAMPLE) sample[slot] = { event, met };
    if (met.length === 0) return;
    if (records.length >= MAX_KEPT)
      throw new TooLoud(
        `The rules match more than ${MAX_KEPT.toLocaleString('en')} records. Give fewer rules, or fewer files.`,
      );
    const at = records.push({ file, line, time, event, place }) - 1;
    for (const rule of met) metBy[rule]?.push(at);
    for (const hit of own) hits.push({ ...hit, order: place, place: at });
  });
  return {
    rules,
    records,
    metBy,
    hits,
    windows: sweepWindows(rules, hits, 'in their order'),
    silent: silentOf(rules),
    sample,
    read,
    unreadable,
    span: from <= to ? { from, to } : null,
  };
}
