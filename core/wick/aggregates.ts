/** Every aggregate of the language, for checking and completion. Both engines implement each. */
export const aggregates = {
  count: {
    call: 'count()',
    meaning: 'how many rows; count(x) where x is not null; count(distinct x); count(where condition)',
  },
  sum: { call: 'sum(x)', meaning: 'sum of the numbers' },
  avg: { call: 'avg(x)', meaning: 'mean of the numbers' },
  min: { call: 'min(x)', meaning: 'the least value' },
  max: { call: 'max(x)', meaning: 'the greatest value' },
  median: { call: 'median(x)', meaning: 'the middle of the numbers' },
  percentile: { call: 'percentile(x, 95)', meaning: 'the number below which so many per cent lie' },
  stddev: { call: 'stddev(x)', meaning: 'standard deviation of the sample' },
  first: { call: 'first(x)', meaning: 'the earliest value that is not null' },
  last: { call: 'last(x)', meaning: 'the latest value that is not null' },
  values: { call: 'values(x)', meaning: 'the different values, at most 100' },
} as const;

export type AggregateName = keyof typeof aggregates;
export const aggregateNames = Object.keys(aggregates) as AggregateName[];
export const isAggregateName = (name: string): name is AggregateName => Object.hasOwn(aggregates, name);

/** Whether nothing to reckon with gives 0 rather than nothing, as for what counts or sums (`swing`). */
export const emptyIsZero = (fn: AggregateName): boolean => fn === 'count' || fn === 'sum';
