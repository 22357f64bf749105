import type { Instant } from '../core/base/instant.js';
import type { ListLookup } from '../core/recipes/apply.js';
import { SourceCatalogue } from './intake/catalogue.js';
import type { RecordWriter } from './intake/record-writer.js';
import { checksHere } from './checks/check-here.js';
import type { Checks } from './checks/checks.js';
import { Puller } from './pull/puller.js';
import { makeSeal, type Seal } from './seal.js';
import { studiesHere, type StudyThreads } from './tuning/study-threads.js';
import type { Pools } from './db/pools.js';
import { Lists } from './lists/service.js';

/** What requests and the work beside them both use, made once for a server. */
export interface SharedParts {
  readonly catalogue: SourceCatalogue;
  readonly store: RecordWriter;
  readonly lists: Lists;
  readonly seal: Seal;
  readonly puller: Puller;
  /** Reads what somebody wrote and nobody has kept. */
  readonly checks: Checks;
  /** Searches matches for cuts. */
  readonly studies: StudyThreads;
  /** The address by which people and buttons of messages find this server. */
  readonly base: () => string;
  /** Where networks stand that no list knows. */
  readonly places: ListLookup | null;
}

/** @param store reads and stores records, in this thread or others */
export function makeShared(
  pools: Pools,
  store: RecordWriter,
  settings: {
    readonly sessionSecret: string;
    readonly places: ListLookup | null;
    readonly base?: () => string;
    readonly checks?: Checks;
    readonly studies?: StudyThreads;
  },
  now: () => Instant,
): SharedParts {
  const catalogue = new SourceCatalogue(pools.intake, settings.places);
  const lists = new Lists(pools.general);
  const seal = makeSeal(settings.sessionSecret);
  const puller = new Puller({ pool: pools.jobs, catalogue, store, lists, seal, now });
  const base = settings.base ?? (() => 'http://127.0.0.1');
  const checks = settings.checks ?? checksHere(pools.general, now, settings.places);
  const studies = settings.studies ?? studiesHere;
  return { checks, studies, catalogue, store, lists, seal, puller, places: settings.places, base };
}
