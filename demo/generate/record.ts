import type { Instant } from '../../core/base/instant.js';

/** Happenings of the demo world that tests look for. */
export type Happening =
  | 'spray'
  | 'streak'
  | 'second-sign-in'
  | 'factor-fatigue'
  | 'acting'
  | 'large-export'
  | 'key-change'
  | 'look-alike'
  | 'storage-burst'
  | 'desk-takeover'
  | 'log-cleared'
  | 'beacon'
  | 'database-deleted'
  | 'backup-noise'
  | 'scan-noise'
  | 'balancer-noise'
  | 'run-as-noise'
  | 'sandbox-noise'
  | 'script-noise'
  | 'satellite'
  | 'left-contractor'
  | 'gate-allows';

/** A record as its source would send it. */
export interface DemoRecord {
  readonly source: string;
  readonly raw: string;
  /** When it happened, by the source's clock. */
  readonly time: Instant;
  /** When it came in. */
  readonly received: Instant;
  /** What its id is derived from. */
  readonly identity: string;
  readonly happening?: Happening;
}
