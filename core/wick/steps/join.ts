import type { Cursor } from '../cursor.js';
import { HuntError } from '../hunt-error.js';
import { parseName } from '../parse-expression.js';
import type { Column, Kept } from '../plan.js';
import { findColumn, nameOf, narrowScope, resolveName, type Scope } from '../scope.js';
import type { Node } from '../syntax.js';
import { checkTime } from './in-time.js';
import { tableTraits, type StepDef, type StepPlace } from './step-def.js';

type NameNode = Node & { node: 'name' };

/** `join ( from rights ) as fares on user within 15m` */
export const joinStep: StepDef<'join'> = {
  call: 'join ( from … ) as NAME on FIELD [= FIELD], … [within 15m] [keep unmatched]',
  meaning: 'two sets of events side by side; the columns of the other one are NAME.column',
  example: 'join ( from rights ) as act on user within 15m',
  traits: {
    ...tableTraits,
    heavy: true,
    answered: ({ within }) =>
      within === null
        ? 'both sides are brought together by their keys.'
        : 'both sides are cut into stretches of the distance, so that only rows near each other meet.',
  },
  compile(cursor, scope, context, place) {
    cursor.expectSymbol('(', 'after "join", and the steps of the other side');
    const inner = context.inner(cursor, scope.window);
    cursor.expectSymbol(')', 'after the steps of the other side');
    cursor.expectWord('as', 'and a name for the other side');
    const name = cursor.expectNewName('after "as"');
    cursor.expectWord('on', 'and the fields that are alike on both sides');
    const onNodes = readOn(cursor);
    const within = cursor.takeWord('within') ? cursor.expectDuration('after "within"').value : null;
    const keepUnmatched = cursor.takeWords('keep', 'unmatched');
    cursor.expectEnd('or "within", "keep unmatched"');

    const kept: Kept[] = inner.scope.columns.map(({ slot }) => ({ from: slot, to: context.newSlot() }));
    const toSlot = new Map(kept.map(({ from, to }) => [from, to]));
    const reach = (slot: string): string => {
      let to = toSlot.get(slot);
      if (to === undefined) {
        to = context.newSlot();
        toSlot.set(slot, to);
        kept.push({ from: slot, to });
      }
      return to;
    };
    const right = inner.scope.columns.map((column): Column => ({
      ...column,
      slot: reach(column.slot),
      name: `${name.text}.${column.name}`,
    }));
    for (const column of right) {
      const there = findColumn(scope, column.name);
      if (there !== undefined)
        throw new HuntError(
          'needs-name',
          name.span,
          `There is a column "${there.name}" already: choose another name with "as".`,
        );
    }
    const on = onNodes.map(([leftNode, rightNode]) => {
      const left = resolveName(scope, leftNode).expr;
      const { expr } = resolveInner(inner.scope, rightNode, name.text);
      const slotted = expr.op === 'column' || expr.op === 'path' ? { ...expr, slot: reach(expr.slot) } : expr;
      return { left, right: slotted };
    });
    const times =
      within === null
        ? null
        : {
            micros: within,
            left: checkTime(scope, withinPlace(place)).time,
            right: reach(checkTime(inner.scope, withinPlace(place)).time),
          };
    const order = [...scope.order, ...inner.scope.order.map((key) => ({ ...key, slot: reach(key.slot) }))];
    const opened = inner.scope.opens.slice(0, 1).map(({ id, time }) => ({
      name: name.text,
      id: reach(id),
      time: reach(time),
    }));
    return {
      body: { step: 'join', steps: inner.steps, kept, on, within: times, keepUnmatched, order },
      scope: narrowScope(scope, [...scope.columns, ...right], place, {
        rows: 'table',
        paths: scope.paths,
        order,
        opens: [...scope.opens, ...opened],
        peeks: scope.peeks,
      }),
    };
  },
};

const withinPlace = (place: StepPlace): StepPlace => ({ ...place, keyword: 'within' });

/** Reads `FIELD [= FIELD], …`: the left side's name, then the right side's. */
function readOn(cursor: Cursor): [NameNode, NameNode][] {
  const found: [NameNode, NameNode][] = [];
  do {
    const left = parseName(cursor);
    found.push([left, cursor.takeSymbol('=') ? parseName(cursor) : left]);
  } while (cursor.takeSymbol(','));
  return found;
}

/** A field of the other side, which may be written with that side's name before it. */
function resolveInner(scope: Scope, node: NameNode, side: string): ReturnType<typeof resolveName> {
  const [first, ...parts] = node.parts;
  const named = first?.text.toLowerCase() === side.toLowerCase() && parts.length > 0;
  if (named && findColumn(scope, nameOf(node)) === undefined) return resolveName(scope, { ...node, parts });
  return resolveName(scope, node);
}
