import type { Json, JsonObject } from '../../base/json.js';
import { formatInstant, type Instant } from '../../base/instant.js';
import { Shapes } from '../../studies/shapes.js';
import { regexGroups } from '../../text/regex-match.js';
import type { Plan, PlanStep } from '../plan.js';
import { emitChain, withQueries } from './chain.js';
import type { Supplied } from './emit-parts.js';
import { makeEmit, newStatement } from './make-emit.js';
import { emitOrder } from './order.js';
import { TooMuch } from '../too-much.js';
import { CUT_FROM } from './read.js';
import { column, type SqlQuery } from '../../sql/sql-writer.js';

/** Gathers the rows of a preparing statement. */
export interface Gathering {
  /** @throws TooMuch where more would have to be held than can be */
  add(row: Readonly<Record<string, unknown>>): void;
  rows(): readonly JsonObject[];
}

/** Something that PostgreSQL cannot reckon as the language defines it: it is asked for, reckoned here, and given back. */
export interface Preparation {
  readonly step: PlanStep;
  /** @param supplied what was prepared for the steps before, and what stands for steps */
  readonly query: (supplied: Supplied) => SqlQuery;
  readonly gather: () => Gathering;
}

/** More than this many different texts are not held at once. */
export const MAX_TEXTS = 200_000;

function tooMuch({ line, keyword }: PlanStep): TooMuch {
  return new TooMuch(
    `Line ${line} (${keyword}) meets more than ${MAX_TEXTS.toLocaleString('en')} different texts. Narrow the window, or leave events out before it.`,
  );
}

/** What must be reckoned outside of the statement, in the order of the steps. */
export function preparationsOf(plan: Plan): readonly Preparation[] {
  return within(plan.steps);
}

function within(steps: readonly PlanStep[]): Preparation[] {
  return steps.flatMap((step, i) => {
    const before = steps.slice(0, i);
    switch (step.step) {
      case 'join':
        return within(step.steps);
      case 'shapes':
        return [
          {
            step,
            query: (supplied: Supplied) => shapesQuery(step, before, supplied),
            gather: () => gatherShapes(step),
          },
        ];
      case 'read':
        return step.by.how === 'regex'
          ? [
              {
                step,
                query: (supplied: Supplied) => textsQuery(step, before, supplied),
                gather: () => gatherCuts(step),
              },
            ]
          : [];
      default:
        return [];
    }
  });
}

function shapesQuery(
  { value, time, inOrder }: PlanStep & { step: 'shapes' },
  before: readonly PlanStep[],
  supplied: Supplied,
): SqlQuery {
  const out = newStatement();
  const emit = makeEmit(out, supplied);
  const { ctes, last } = emitChain(emit, before);
  return out.finish(
    `${withQueries(ctes)}SELECT ${emit.expr(value)} AS text, ${column(time)} AS time FROM ${last} WHERE ${emit.expr(value)} IS NOT NULL ORDER BY ${emitOrder(inOrder)}`,
  );
}

function gatherShapes(step: PlanStep & { step: 'shapes' }): Gathering {
  const shapes = new Shapes();
  const moment = (time: Instant | null): Json => (time === null ? null : formatInstant(time));
  return {
    add({ text, time }) {
      shapes.add(text as string, time as Instant | null);
      if (shapes.size > MAX_TEXTS) throw tooMuch(step);
    },
    rows: () =>
      shapes.found().map((shape) => ({
        [step.columns.template.slot]: shape.template,
        [step.columns.events.slot]: shape.events,
        [step.columns.share.slot]: shape.share,
        [step.columns.first.slot]: moment(shape.first),
        [step.columns.last.slot]: moment(shape.last),
        [step.columns.example.slot]: shape.example,
      })),
  };
}

function textsQuery(
  step: PlanStep & { step: 'read' },
  before: readonly PlanStep[],
  supplied: Supplied,
): SqlQuery {
  const out = newStatement();
  const emit = makeEmit(out, supplied);
  const { ctes, last } = emitChain(emit, before);
  const text = emit.expr(step.value);
  const fits =
    step.by.how === 'regex'
      ? emit.condition({ op: 'matches', value: step.value, regex: step.by.regex })
      : 'TRUE';
  return out.finish(`${withQueries(ctes)}SELECT DISTINCT ${text} AS text FROM ${last} WHERE ${fits}`);
}

function gatherCuts(step: PlanStep & { step: 'read' }): Gathering {
  const cut = step.by.how === 'regex' ? regexGroups(step.by.regex, step.by.groups) : () => null;
  const found: JsonObject[] = [];
  return {
    add({ text }) {
      const parts = cut(text as string);
      if (parts === null) return;
      if (found.length >= MAX_TEXTS) throw tooMuch(step);
      found.push({
        [CUT_FROM]: text as string,
        ...Object.fromEntries(step.columns.map(({ column: { slot } }, i) => [slot, parts[i] ?? null])),
      });
    },
    rows: () => found,
  };
}
