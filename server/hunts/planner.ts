import type { Pool, QueryResultRow } from 'pg';
import { DAY, type Instant } from '../../core/base/instant.js';
import { EARLIEST, LATEST } from '../../core/recipes/record-time.js';
import { compileHunt } from '../../core/wick/compile.js';
import { compileFollowable, type Followable } from '../../core/wick/followable.js';
import type { ListRef, Plan } from '../../core/wick/plan.js';
import type { HuntRequest } from '../../core/wire/hunts.js';
import { LISTS_WITH_COLUMNS, LISTS_TO_ASK } from './sql.js';
import { readWindow } from './window.js';

/** What a hunt is made of before it is planned. */
export type HuntQuestion = Pick<HuntRequest, 'text' | 'window' | 'parameters' | 'carried'>;

/** Reads hunts against what exists now: lists, and the moment. */
export class HuntPlanner {
  constructor(
    private readonly pool: Pool,
    readonly now: () => Instant,
  ) {}

  /** Checks a hunt. @throws HuntError, Failure */
  async plan({ text, window, parameters = {}, carried = [] }: HuntQuestion): Promise<Plan> {
    return compileHunt(text, {
      window: readWindow(window),
      now: this.now(),
      lists: await this.lists([text, ...carried].join('\n')),
      parameters,
      carried,
    });
  }

  /** Checks a hunt while it is written: blanks that are not filled in are no mistake yet. @throws HuntError */
  async check(text: string): Promise<void> {
    const now = this.now();
    compileHunt(text, {
      window: { from: now - 30 * DAY, to: now },
      now,
      lists: await this.lists(text),
      writing: true,
    });
  }

  /** As much of a hunt as can be followed, whenever its events happened, and the lists it names. @throws HuntError */
  async followable({
    text,
    parameters = {},
    carried = [],
  }: Omit<HuntQuestion, 'window'>): Promise<Followable & { readonly lists: readonly string[] }> {
    const fullText = [text, ...carried].join('\n');
    const known = await this.lists(fullText);
    const found = compileFollowable(text, {
      window: { from: EARLIEST, to: LATEST },
      now: this.now(),
      lists: known,
      parameters,
      carried,
    });
    const lower = fullText.toLowerCase();
    return {
      ...found,
      lists: known.map(({ name }) => name).filter((name) => lower.includes(name.toLowerCase())),
    };
  }

  /** The lists there are; with their columns for a text that may look something up. */
  private async lists(text: string): Promise<ListRef[]> {
    return /\blook\s+up\b/i.test(text)
      ? (await this.pool.query<ListRef & QueryResultRow>(LISTS_WITH_COLUMNS)).rows
      : (await this.pool.query<ListRef & QueryResultRow>(LISTS_TO_ASK)).rows;
  }
}
