import type { Pool } from 'pg';
import { formatInstant, type Instant } from '../../core/base/instant.js';
import type { HuntRunList } from '../../core/wire/rules.js';
import { RUNS_OF_RULE } from './sql.js';

const MAX_RUNS = 50;

/** What rules have done. */
export class RuleHistory {
  constructor(private readonly pool: Pool) {}

  /** The last runs of a hunt that is a rule, the newest first. */
  async runs(rule: string): Promise<HuntRunList['runs']> {
    const { rows } = await this.pool.query<{
      due: Instant;
      version: number;
      milliseconds: number;
      measured: number | null;
      told: number;
      failure: string | null;
    }>(RUNS_OF_RULE, [rule, MAX_RUNS]);
    return rows.map(({ due, ...run }) => ({ due: formatInstant(due), ...run }));
  }
}
