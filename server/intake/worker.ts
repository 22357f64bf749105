import { workerData } from 'node:worker_threads';
import type { Instant } from '../../core/base/instant.js';
import type { ListLookup } from '../../core/recipes/apply.js';
import { openPlaces } from '../mmdb/places.js';
import { makePool } from '../store/pool.js';
import { SourceCatalogue } from './catalogue.js';
import { RuleSet } from './rule-set.js';
import { RecordStore, type BatchResult } from './store-records.js';

/** What a thread of intake is told when it begins. */
export interface WorkerSettings {
  readonly databaseUrl: string;
  /** MMDB files of networks. */
  readonly places: readonly string[];
}

/** A batch to be stored. */
export interface WorkerTask {
  readonly source: string;
  readonly records: readonly string[];
  readonly received: Instant | readonly Instant[];
  readonly waiting: readonly number[];
}

const settings = workerData as WorkerSettings;
const pool = makePool(settings.databaseUrl, { max: 2 });
const places: ListLookup | null = settings.places.length === 0 ? null : openPlaces(settings.places);
const catalogue = new SourceCatalogue(pool, places);
const store = new RecordStore(pool, new RuleSet());

/** Stores one batch; null when its source is gone. */
export default async function storeBatch(task: WorkerTask): Promise<BatchResult | null> {
  const source = await catalogue.find(task.source);
  if (source === undefined) return null;
  const { received } = task;
  return store.store(
    source,
    task.records,
    typeof received === 'number' ? received : (position) => received[position] ?? 0,
    task.waiting,
  );
}
