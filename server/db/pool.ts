import { Pool, types as builtin, type CustomTypesConfig, type PoolConfig } from 'pg';
import { parseInstant, type Instant } from '../../core/base/instant.js';

const TIMESTAMPTZ = 1184;
const INT8 = 20;

/** PostgreSQL's text of a timestamptz, with the session in UTC, as microseconds. */
export function readTimestamp(text: string): Instant {
  // '2026-11-14 08:03:12.718+00': the offset is always +00, since every session of ours is in UTC.
  return parseInstant(text.replace(/\+00$/, 'Z')) ?? Number.NaN;
}

/** Times as microseconds, whole numbers as numbers: the forms the rest of the program works with. */
const types: CustomTypesConfig = {
  getTypeParser(oid: number, format?: 'text' | 'binary') {
    if (oid === TIMESTAMPTZ) return readTimestamp;
    if (oid === INT8) return Number;
    return builtin.getTypeParser(oid, format) as (text: string) => unknown;
  },
};

/** A pool whose sessions are in UTC and read times as {@link Instant}s. */
export function makePool(url: string, options: PoolConfig = {}): Pool {
  const pool = new Pool({
    connectionString: url,
    types,
    max: 12,
    options: '-c timezone=UTC -c search_path=public',
    ...options,
  });
  // A connection that breaks, in use or not, is told to whoever asks it next; unheard it would end the program.
  pool.on('connect', (client) => client.on('error', () => undefined));
  pool.on('error', () => undefined);
  return pool;
}
