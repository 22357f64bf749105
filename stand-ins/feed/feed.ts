import { HOUR, type Instant } from '../../core/base/instant.js';
import { generateTide, isFedLate } from '../../demo/generate/index.js';
import type { DemoRecord } from '../../demo/generate/record.js';
import type { World } from '../tide/tide.js';

const PAGE = 500;
/** So much is held; who asks later than that has missed it. */
const HELD = 48 * HOUR;

/** The booking application's feed: half of its records, three to six hours late, given out page by page. */
export class Feed {
  private made: { from: Instant; until: Instant; records: readonly DemoRecord[] } = {
    from: 0,
    until: 0,
    records: [],
  };

  constructor(
    private readonly world: World,
    private readonly now: () => Instant,
  ) {}

  /** What has come out so far, oldest first. */
  held(): readonly DemoRecord[] {
    const until = this.now();
    const from = Math.max(this.world.end, until - HELD);
    if (until > this.made.until)
      this.made = {
        from,
        until: until + HOUR,
        records: generateTide(this.world, from, until + HOUR).filter(isFedLate),
      };
    return this.made.records.filter(({ received }) => received > from && received <= until);
  }

  /**
   * The page after a cursor; a cursor is the moment at which its last record came out. Records that came out at one
   * moment stay on one page, so that none falls between two.
   */
  page(cursor: string | undefined): { items: unknown[]; next: string } {
    const after = Number(cursor ?? 0) || 0;
    const rest = this.held().filter(({ received }) => received > after);
    const cut = rest[PAGE - 1]?.received ?? Infinity;
    const page = rest.filter(({ received }) => received <= cut);
    return {
      items: page.map(({ raw }) => JSON.parse(raw) as unknown),
      next: String(page.at(-1)?.received ?? after),
    };
  }
}
