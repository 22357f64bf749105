import type { Instant } from '../base/instant.js';
import { START } from '../base/span.js';
import { nearestWord } from '../base/text-distance.js';
import { checkCondition } from './check-condition.js';
import { Cursor } from './cursor.js';
import { HuntError } from './hunt-error.js';
import type { ListRef, Plan, PlanStep, Window } from './plan.js';
import { eventScope, type CheckContext, type Scope } from './scope.js';
import { isStepName, stepNames, steps } from './steps/index.js';
import { Scanner } from './tokens.js';

/** What a hunt is checked against besides its text. */
export interface CompileOptions {
  /** The window where the hunt does not say `over`. */
  readonly window: Window;
  readonly now: Instant;
  /** The lists that exist; none by default. */
  readonly lists?: readonly ListRef[];
}

/** Longer texts are no hunts. */
const LONGEST_HUNT = 100_000;

/**
 * Reads and checks the text of a hunt.
 * @throws HuntError for the first mistake
 */
export function compileHunt(text: string, options: CompileOptions): Plan {
  return compileUpTo(text, options, Infinity).plan;
}

/** A plan and what can be named after its last step. */
export interface Compiled {
  readonly plan: Plan;
  readonly scope: Scope;
}

/** As {@link compileHunt}, with the scope that completion needs, and only the first `most` steps. */
export function compileUpTo(text: string, options: CompileOptions, most: number): Compiled {
  if (text.length > LONGEST_HUNT)
    throw new HuntError('too-large', START, `A hunt may have at most ${LONGEST_HUNT} signs.`);
  const scanner = new Scanner(text);
  const cursor = new Cursor(scanner);
  let slots = 0;
  const context: CheckContext = {
    now: options.now,
    window: options.window,
    lists: new Map((options.lists ?? []).map((list) => [list.name.toLowerCase(), list])),
    notes: [],
    newSlot: () => `x${++slots}`,
    condition: (node, scope) => checkCondition(node, scope, context),
  };
  const plan: PlanStep[] = [];
  let scope = eventScope;
  while (plan.length < most && scanner.startStep()) {
    const step = compileStep(cursor, scope, context, plan.length === 0);
    plan.push(step.body);
    scope = step.scope;
  }
  const [first] = plan;
  if (first === undefined || first.step !== 'from')
    throw new HuntError('unexpected', START, 'A hunt begins with "from", such as: from signin');
  return {
    scope,
    plan: {
      window: first.window,
      now: options.now,
      steps: plan,
      columns: scope.columns,
      order: scope.order,
      rows: scope.rows,
      notes: [...new Set(context.notes)],
    },
  };
}

function compileStep(
  cursor: Cursor,
  scope: Scope,
  context: CheckContext,
  isFirst: boolean,
): { body: PlanStep; scope: Scope } {
  const token = cursor.peek();
  const keyword = token.kind === 'word' ? token.text.toLowerCase() : '';
  if (!isStepName(keyword)) {
    const nearest = nearestWord(token.text, stepNames);
    throw new HuntError(
      'unknown-step',
      token.span,
      `No step is called "${token.text}". Did you mean "${nearest}"?`,
      nearest,
    );
  }
  if (isFirst !== (keyword === 'from')) {
    throw new HuntError(
      'not-allowed',
      token.span,
      isFirst
        ? `A hunt begins with "from", not with "${token.text}".`
        : '"from" can stand only once, at the beginning.',
    );
  }
  cursor.next();
  const place = { line: token.span.line, keyword };
  const { body, scope: after } = steps[keyword].compile(cursor, scope, context, place);
  cursor.expectEnd('');
  return { body: { ...body, ...place }, scope: after };
}
