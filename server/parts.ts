import type { Pool } from 'pg';
import type { Instant } from '../core/base/instant.js';
import type { ListLookup } from '../core/recipes/apply.js';
import { SourceCatalogue } from './intake/catalogue.js';
import type { RecordWriter } from './intake/record-writer.js';
import { Puller } from './pull/puller.js';
import { makeSeal, type Seal } from './seal.js';
import { Lists } from './services/lists.js';

/** What requests and the work beside them both use, made once for a server. */
export interface SharedParts {
  readonly catalogue: SourceCatalogue;
  readonly store: RecordWriter;
  readonly lists: Lists;
  readonly seal: Seal;
  readonly puller: Puller;
  /** The address by which people and buttons of messages find this server. */
  readonly base: () => string;
  /** Where networks stand that no list knows. */
  readonly places: ListLookup | null;
}

/** @param store reads and stores records, in this thread or others */
export function makeShared(
  pool: Pool,
  store: RecordWriter,
  settings: {
    readonly sessionSecret: string;
    readonly places: ListLookup | null;
    readonly base?: () => string;
  },
  now: () => Instant,
): SharedParts {
  const catalogue = new SourceCatalogue(pool, settings.places);
  const lists = new Lists(pool);
  const seal = makeSeal(settings.sessionSecret);
  const puller = new Puller({ pool, catalogue, store, lists, seal, now });
  const base = settings.base ?? (() => 'http://127.0.0.1');
  return { catalogue, store, lists, seal, puller, places: settings.places, base };
}
