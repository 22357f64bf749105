import type { PlacedHit } from '../../core/detect/sweep.js';
import type { Place, PlacedFact } from '../../core/triage/facts.js';
import type { ReportFile } from '../../core/triage/report.js';

/** What a sweep read and found, as it goes. */
export interface Swept {
  readonly files: ReportFile[];
  readonly hits: PlacedHit<Place>[];
  readonly facts: PlacedFact[];
  /** Records that were too many for the studies. */
  factsLeft: number;
  /** Rules that were asked of a record, by their positions. */
  readonly asked: Set<number>;
}
