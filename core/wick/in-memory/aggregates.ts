import { unreachable } from '../../base/unreachable.js';
import { Big } from 'big.js';
import { ExactSum, settle } from '../../text/numbers.js';
import type { Aggregate, Value } from '../plan.js';
import type { Compile } from './compile-parts.js';
import type { Row } from './row.js';
import { anyOf, keyText, orderValues } from './values.js';

/** Gathers rows of one group, in the order they happened, and gives the figure. */
export interface Gather {
  add(row: Row): void;
  value(): Value;
}

/** `values` keeps at most so many. */
const MAX_VALUES = 100;

/** Makes an aggregate ready: each call of the result gathers one group. */
export function compileAggregate(aggregate: Aggregate, compile: Compile): () => Gather {
  const test = aggregate.where === undefined ? () => true : compile.condition(aggregate.where);
  const { value } = aggregate;
  if (value === undefined) {
    return () => {
      let rows = 0;
      return { add: (row) => void (test(row) && rows++), value: () => rows };
    };
  }
  const evaluate = compile.expr(value);
  const over = (add: (found: NonNullable<Value>) => void, result: () => Value): Gather => ({
    add(row) {
      const found = evaluate(row);
      if (found !== null) add(found);
    },
    value: result,
  });
  return () => gatherValues(aggregate, over);
}

type Over = (add: (found: NonNullable<Value>) => void, result: () => Value) => Gather;

function gatherValues(aggregate: Aggregate, over: Over): Gather {
  const type = aggregate.value?.type ?? 'any';
  switch (aggregate.fn) {
    case 'count': {
      if (aggregate.distinct) {
        const seen = new Set<string>();
        return over(
          (found) => seen.add(keyText(found)),
          () => seen.size,
        );
      }
      let rows = 0;
      return over(
        () => rows++,
        () => rows,
      );
    }
    case 'sum':
    case 'avg': {
      const sum = new ExactSum();
      let numbers = 0;
      return over(
        (found) => {
          if (typeof found !== 'number') return;
          sum.add(found);
          numbers++;
        },
        () => {
          const total = numbers === 0 ? null : sum.value();
          return total === null || aggregate.fn === 'sum' ? total : settle(total / numbers);
        },
      );
    }
    case 'stddev': {
      const found: number[] = [];
      return over(
        (value) => void (typeof value === 'number' && found.push(value)),
        () => sampleDeviation(found),
      );
    }
    case 'median':
    case 'percentile': {
      const found: number[] = [];
      const share = (aggregate.percent ?? 50) / 100;
      return over(
        (value) => void (typeof value === 'number' && found.push(value)),
        () => percentile(found, share),
      );
    }
    case 'min':
    case 'max': {
      let best: Value = null;
      const wanted = aggregate.fn === 'min' ? -1 : 1;
      return over(
        (value) => {
          if (best === null || Math.sign(orderValues(value, best, type)) === wanted) best = value;
        },
        () => best,
      );
    }
    case 'first':
    case 'last': {
      let kept: Value = null;
      return over(
        (value) => void ((aggregate.fn === 'last' || kept === null) && (kept = value)),
        () => kept,
      );
    }
    case 'values': {
      const seen = new Map<string, NonNullable<Value>>();
      return over(
        (value) => seen.set(keyText(value), value),
        () => {
          if (seen.size === 0) return null;
          const sorted = [...seen.values()].sort((a, b) => orderValues(a, b, type)).slice(0, MAX_VALUES);
          return sorted.map((value) => anyOf(value, type));
        },
      );
    }
    default:
      return unreachable(aggregate.fn);
  }
}

/** Linear interpolation between the two nearest ranks (type 7 of R. J. Hyndman and Y. Fan, 1996). */
export function percentile(found: readonly number[], share: number): number | null {
  if (found.length === 0) return null;
  const sorted = [...found].sort((a, b) => a - b);
  const place = share * (sorted.length - 1);
  const low = sorted[Math.floor(place)] ?? 0;
  const high = sorted[Math.ceil(place)] ?? 0;
  return low === high ? low : settle(low + (place - Math.floor(place)) * (high - low));
}

/** Standard deviation of a sample, from exact sums so that the order of rows does not matter; null under two. */
export function sampleDeviation(found: readonly number[]): number | null {
  const n = found.length;
  if (n < 2) return null;
  let sum = new Big(0);
  let squares = new Big(0);
  for (const value of found) {
    const exact = new Big(String(value));
    sum = sum.plus(exact);
    squares = squares.plus(exact.times(exact));
  }
  const spread = settle(squares.times(n).minus(sum.times(sum)).toNumber());
  return spread === null ? null : settle(Math.sqrt(Math.max(0, spread) / (n * (n - 1))));
}
