import { DAY, HOUR, type Instant } from '../../core/base/instant.js';
import { generateTide, isFedLate } from '../../demo/generate/index.js';
import type { DemoRecord } from '../../demo/generate/record.js';
import type { Sender } from '../sender.js';

/** The made-up world that goes on. */
export interface World {
  readonly seed: number;
  readonly end: Instant;
}

/** After a stop, at most so much is made up for; the gap before stays a gap. */
const CATCH_UP = 26 * HOUR;

/** Keeps sending what the systems of the demo world would log. What the late feed brings is left to the feed. */
export class Tide {
  /** Everything until then has been sent. */
  sentUntil: Instant;
  /** Why the last round failed; null when it went well. */
  trouble: string | null = null;
  private made: { until: Instant; records: readonly DemoRecord[] } = { until: 0, records: [] };

  constructor(
    private readonly world: World,
    private readonly sender: Sender,
    private readonly now: () => Instant,
    /** What a firewall stands before: it never comes in. */
    private readonly isDropped: (record: DemoRecord) => boolean = () => false,
  ) {
    this.sentUntil = Math.max(world.end, now() - CATCH_UP);
  }

  /** Sends what has become due; what could not be sent is tried again by the next round. */
  async round(): Promise<void> {
    const until = this.now();
    // Some hours are made at once and given out as they pass.
    if (until > this.made.until)
      this.made = {
        until: until + DAY / 4,
        records: generateTide(this.world, this.sentUntil, until + DAY / 4).filter(
          (record) => !isFedLate(record),
        ),
      };
    const due = this.made.records.filter(
      (record) => record.received > this.sentUntil && record.received <= until && !this.isDropped(record),
    );
    try {
      await this.sender.send(due);
      this.sentUntil = until;
      this.trouble = null;
    } catch (error) {
      this.trouble = error instanceof Error ? error.message : String(error);
    }
  }
}
