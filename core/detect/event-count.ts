import type { Instant } from '../base/instant.js';
import type { CorrelationRule } from '../sigma/predicate.js';

/** A match that a correlation counts. */
export interface Hit {
  readonly eventId: string;
  readonly time: Instant;
  /** Order of arrival, which settles equal times. */
  readonly seq: number;
}

/** Hits that together met the condition; the last one completes it. */
export interface CompletedWindow {
  readonly hits: readonly Hit[];
}

function meets(condition: CorrelationRule['condition'], count: number): boolean {
  return condition.every(({ sign, count: wanted }) => {
    switch (sign) {
      case 'gt':
        return count > wanted;
      case 'gte':
        return count >= wanted;
      case 'lt':
        return count < wanted;
      case 'lte':
        return count <= wanted;
      case 'eq':
        return count === wanted;
      case 'neq':
        return count !== wanted;
    }
  });
}

/**
 * Finds the windows of one group in which enough hits fall: a window slides over event time, and the hits of one
 * that completes are spent, so that each run of happenings is told once.
 * @param hits of one group, unspent, in any order
 */
export function completedWindows(
  hits: readonly Hit[],
  rule: Pick<CorrelationRule, 'timespan' | 'condition'>,
): CompletedWindow[] {
  const sorted = [...hits].sort((a, b) => a.time - b.time || a.seq - b.seq);
  const found: CompletedWindow[] = [];
  let open: Hit[] = [];
  for (const hit of sorted) {
    open = open.filter((earlier) => earlier.time >= hit.time - rule.timespan);
    open.push(hit);
    if (meets(rule.condition, open.length)) {
      found.push({ hits: open });
      open = [];
    }
  }
  return found;
}
