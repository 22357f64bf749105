import { workerData } from 'node:worker_threads';
import type { Instant } from '../../core/base/instant.js';
import type { ListLookup } from '../../core/recipes/apply.js';
import { openPlaces } from '../mmdb/places.js';
import { readOtherwise } from './read-otherwise.js';
import { makePool } from '../db/pool.js';
import { SourceCatalogue, type OtherWay } from './catalogue.js';
import type { StoreOptions } from './record-writer.js';
import { RuleSet } from './rule-set.js';
import { RecordStore, type BatchResult } from './store-records.js';

/** What a thread of intake is told when it begins. */
export interface WorkerSettings {
  readonly databaseUrl: string;
  /** MMDB files of networks. */
  readonly places: readonly string[];
}

/** A batch to be stored. */
export interface WorkerTask extends StoreOptions {
  readonly source: string;
  readonly records: readonly string[];
  readonly received: Instant | readonly Instant[];
  readonly otherwise?: OtherWay;
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
  const { received, otherwise } = task;
  return store.store(
    otherwise === undefined ? source : await readOtherwise(pool, source, otherwise, places),
    task.records,
    typeof received === 'number' ? received : (position) => received[position] ?? 0,
    task,
  );
}
