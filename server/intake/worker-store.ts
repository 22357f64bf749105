import { Piscina } from 'piscina';
import type { Instant } from '../../core/base/instant.js';
import type { Event } from '../../core/events/event.js';
import { notFound } from '../failure.js';
import type { IntakeSource } from './catalogue.js';
import type { RecordWriter, StoreOptions } from './record-writer.js';
import type { BatchResult, RecordStore } from './store-records.js';
import type { WorkerSettings, WorkerTask } from './worker.js';

/**
 * Megabytes a thread may take. A batch of the largest size needs about 120, most of it garbage as soon as it is stored: a
 * young generation that holds it whole spares moving it on, and a bound on the old one keeps memory flat at any length.
 */
const THREAD_MEMORY = { maxOldGenerationSizeMb: 256, maxYoungGenerationSizeMb: 96 };

/** Hands batches to threads, each with connections of its own, so that reading records uses every core. */
export class WorkerStore implements RecordWriter {
  /** Batches handed over and not yet answered. */
  private readonly underWay = new Set<Promise<unknown>>();
  private readonly threads: Piscina<WorkerTask, BatchResult | null>;

  /**
   * @param file the built worker
   * @param here makes days for whoever stores elsewhere
   */
  constructor(
    file: string,
    count: number,
    settings: WorkerSettings,
    private readonly here: RecordStore,
  ) {
    this.threads = new Piscina({
      filename: file,
      workerData: settings,
      minThreads: 1,
      maxThreads: count,
      idleTimeout: 60_000,
      resourceLimits: THREAD_MEMORY,
    });
  }

  async store(
    source: IntakeSource,
    records: readonly string[],
    received: Instant | ((position: number) => Instant),
    more: StoreOptions = {},
  ): Promise<BatchResult> {
    // However few: no record is read by the thread that answers requests.
    const work = this.threads.run({
      source: source.name,
      ...(source.otherwise && { otherwise: source.otherwise }),
      records,
      received: typeof received === 'number' ? received : records.map((_, position) => received(position)),
      ...more,
    });
    this.underWay.add(work);
    const stored = await work.finally(() => this.underWay.delete(work));
    if (stored === null) throw notFound(`source "${source.name}" any more`);
    return stored;
  }

  makeDays(events: readonly Pick<Event, 'time'>[]): Promise<void> {
    return this.here.makeDays(events);
  }

  /** Waits for the batches under way. */
  async stop(): Promise<void> {
    await Promise.allSettled(this.underWay);
    await this.threads.destroy();
  }
}
