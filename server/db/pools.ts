import type { Pool } from 'pg';
import { makePool } from './pool.js';

/**
 * Connections by what they are for, so that none of it can take those of the others: a dozen heavy hunts leave sign-in,
 * health and intake alone.
 */
export interface Pools {
  /** Short statements of pages and requests. */
  readonly general: Pool;
  /** Sign-in, sessions, and whether the server is well. */
  readonly health: Pool;
  /** Records that come in, and who may send them. */
  readonly intake: Pool;
  /** Hunts on screens, and what is asked like them. */
  readonly hunts: Pool;
  /** Files of any size, which may be read slowly. */
  readonly exports: Pool;
  /** Work by the clock. */
  readonly jobs: Pool;
}

const SIZES: { readonly [K in keyof Pools]: number } = {
  general: 10,
  health: 3,
  intake: 4,
  hunts: 8,
  exports: 3,
  jobs: 6,
};

/** Opens the pools of a server. @param onBroken is told of idle connections that broke */
export function makePools(url: string, onBroken: (error: Error) => void): Pools {
  const pools = Object.fromEntries(
    Object.entries(SIZES).map(([name, max]) => [name, makePool(url, { max })]),
  ) as unknown as Pools;
  for (const pool of Object.values(pools) as Pool[]) pool.on('error', onBroken);
  return pools;
}

/** One pool for everything, for tests and tools. */
export const onePool = (pool: Pool): Pools => ({
  general: pool,
  health: pool,
  intake: pool,
  hunts: pool,
  exports: pool,
  jobs: pool,
});

export const endPools = async (pools: Pools): Promise<void> => {
  await Promise.all([...new Set<Pool>(Object.values(pools) as Pool[])].map((pool) => pool.end()));
};
