import type { Pool } from 'pg';
import { DAY, formatInstant, type Instant } from '../../core/base/instant.js';
import { LET_BUTTONS_GO, LET_EVIDENCE_GO, LET_GO } from './sql.js';

/** What is done with is kept for so long, and then let go, so that nothing grows without end. */
const KEPT = {
  /** Batches that are counted: nobody asks for one again. */
  batches: 30 * DAY,
  /** What went out, or was given up. */
  deliveries: 180 * DAY,
  /** Tokens that have ended; until then their owner sees that they have. */
  tokens: 30 * DAY,
  /** Replays: a rule whose replay is older is replayed again before it is switched on. */
  replays: 180 * DAY,
  /** Records that their receiver did not take; until then somebody may try again. */
  forwards: 30 * DAY,
  /** Boards that were removed: until then they can be taken back. */
  boards: 30 * DAY,
} as const;
/** Rows let go at once, so that no statement holds others up. */
const MAX_AT_ONCE = 20_000;

/** Lets go of what is done with. @returns how many rows went, by what they were */
export async function letGo(pool: Pool, now: Instant): Promise<Readonly<Record<string, number>>> {
  const gone: Record<string, number> = {};
  const run = async (what: string, text: string, values: readonly unknown[]): Promise<void> => {
    let count = 0;
    let last: number;
    do {
      last = (await pool.query(text, [...values, MAX_AT_ONCE])).rowCount ?? 0;
      count += last;
    } while (last === MAX_AT_ONCE);
    gone[what] = count;
  };
  for (const [what, text] of Object.entries(LET_GO) as [keyof typeof KEPT, string][])
    await run(what, text, [formatInstant(now - KEPT[what])]);
  await run('buttons', LET_BUTTONS_GO, [formatInstant(now)]);
  await run('evidence', LET_EVIDENCE_GO, []);
  return gone;
}
