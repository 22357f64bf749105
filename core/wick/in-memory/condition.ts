import { lowerText } from '../../text/letters.js';
import { lowerAscii } from '../../base/code-points.js';
import { isJsonObject, type Json } from '../../base/json.js';
import { compilePredicate } from '../../predicate/in-memory.js';
import { unreachable } from '../../base/unreachable.js';
import { columnNames } from '../../events/columns.js';
import type { Event } from '../../events/event.js';
import { addressKey } from '../../net/address.js';
import { networkContains, parseNetwork } from '../../net/network.js';
import { regexTest } from '../../text/regex-match.js';
import { parseWildcard, wildcardTest } from '../../text/wildcard.js';
import { spellNumber } from '../../text/numbers.js';
import type { Condition, Expr, Value } from '../plan.js';
import type { ValueType } from '../../events/types.js';
import type { Compile, Test } from './compile-parts.js';
import type { Row } from './row.js';
import { compareSingles, singlesOf, singleType, textOf } from './values.js';

type Sign = (Condition & { op: 'compare' })['sign'];

const holds: Readonly<Record<Sign, (order: number) => boolean>> = {
  '=': (order) => order === 0,
  '<': (order) => order < 0,
  '<=': (order) => order <= 0,
  '>': (order) => order > 0,
  '>=': (order) => order >= 0,
};

/** Makes a condition ready to run over rows. It never throws: what does not compare is false. */
export function compileCondition(condition: Condition, compile: Compile): Test {
  switch (condition.op) {
    case 'always':
      return () => condition.holds;
    case 'and': {
      const parts = condition.parts.map((part) => compile.condition(part));
      return (row) => parts.every((part) => part(row));
    }
    case 'or': {
      const parts = condition.parts.map((part) => compile.condition(part));
      return (row) => parts.some((part) => part(row));
    }
    case 'not': {
      const part = compile.condition(condition.part);
      return (row) => !part(row);
    }
    case 'compare':
      return compileCompare(condition, compile);
    case 'between': {
      const { low, high } = condition;
      const lowValue = compile.expr(low);
      const highValue = compile.expr(high);
      return anySingle(condition.value, compile, (value, type, row) => {
        const above = compareSingles(value, type, lowValue(row), low.type);
        const below = compareSingles(value, type, highValue(row), high.type);
        return above !== null && above >= 0 && below !== null && below <= 0;
      });
    }
    case 'in': {
      const tests = condition.options.map((option) =>
        compileCompare({ op: 'compare', sign: '=', left: condition.value, right: option }, compile),
      );
      return (row) => tests.some((test) => test(row));
    }
    case 'in-list': {
      const find = compile.environment.rowsOf(condition.list);
      return anyText(condition.value, compile, (text) => find(text) !== undefined);
    }
    case 'like': {
      const fits = wildcardTest(parseWildcard(lowerText(condition.pattern), '%', '_'));
      return anyText(condition.value, compile, (text) => fits(lowerText(text)));
    }
    case 'matches':
      return anyText(condition.value, compile, regexTest(condition.regex));
    case 'within': {
      const network = parseNetwork(condition.network);
      if (network === null) return () => false;
      return anySingle(condition.value, compile, (value) => {
        const key = typeof value === 'string' ? addressKey(value.trim()) : null;
        return key !== null && networkContains(network, key);
      });
    }
    case 'null': {
      const value = compile.expr(condition.value);
      return (row) => value(row) === null;
    }
    case 'has': {
      const needle = lowerAscii(condition.needle);
      return (row) => row.event !== null && eventHas(row.event, needle);
    }
    case 'meets': {
      const meets = compilePredicate(condition.predicate);
      return (row) => row.event !== null && meets(row.event);
    }
    default:
      return unreachable(condition);
  }
}

function compileCompare({ sign, left, right }: Condition & { op: 'compare' }, compile: Compile): Test {
  const leftValue = compile.expr(left);
  const rightValue = compile.expr(right);
  const leftType = singleType(left.type);
  const rightType = singleType(right.type);
  const fits = holds[sign];
  return (row) => {
    const a = leftValue(row);
    const b = rightValue(row);
    for (const x of singlesOf(a, left.type)) {
      for (const y of singlesOf(b, right.type)) {
        const order = compareSingles(x, leftType, y, rightType);
        if (order !== null && fits(order)) return true;
      }
    }
    return false;
  };
}

/** Holds when a test holds for the value, or for one element of it if it is a list. */
function anySingle(
  expr: Expr,
  compile: Compile,
  test: (value: Value, type: ValueType, row: Row) => boolean,
): Test {
  const evaluate = compile.expr(expr);
  const type = singleType(expr.type);
  return (row) => singlesOf(evaluate(row), expr.type).some((value) => test(value, type, row));
}

/** As {@link anySingle}, on the value's text. */
const anyText = (expr: Expr, compile: Compile, test: (text: string) => boolean): Test =>
  anySingle(expr, compile, (value, type) => {
    const text = textOf(value, type);
    return text !== null && test(text);
  });

const UNSEARCHED: ReadonlySet<string> = new Set(['id', 'time', 'received']);

/** True when any value of the stored event, not its keys, holds the needle; ASCII letters ignore case. */
function eventHas(event: Event, needle: string): boolean {
  for (const name of columnNames) {
    if (UNSEARCHED.has(name)) continue;
    if (jsonHas(event[name] ?? null, needle)) return true;
  }
  return false;
}

function jsonHas(value: Json, needle: string): boolean {
  if (typeof value === 'string') return lowerAscii(value).includes(needle);
  if (value === null) return false;
  if (typeof value === 'number') return spellNumber(value).includes(needle);
  if (typeof value === 'boolean') return String(value).includes(needle);
  if (isJsonObject(value)) return Object.values(value).some((inner) => jsonHas(inner, needle));
  return value.some((inner) => jsonHas(inner, needle));
}
