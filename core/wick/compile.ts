import type { Instant } from '../base/instant.js';
import { START } from '../base/span.js';
import { nearestWord } from '../base/text-distance.js';
import { checkCondition } from './check-condition.js';
import { Cursor } from './cursor.js';
import { HuntError } from './hunt-error.js';
import type { Ask, ListRef, Plan, PlanStep, Window } from './plan.js';
import { eventScope, type Blank, type CheckContext, type Scope } from './scope.js';
import { fillBlank, readAsk } from './steps/ask.js';
import { isStepName, stepNames, steps, traitsOf } from './steps/index.js';
import type { SubjectIndex } from '../subjects/subject.js';
import { Scanner } from './tokens.js';

/** What a hunt is checked against besides its text. */
export interface CompileOptions {
  /** The window where the hunt does not say `over`. */
  readonly window: Window;
  readonly now: Instant;
  /** The lists that exist; none by default. */
  readonly lists?: readonly ListRef[];
  /** What else the subjects are called that the hunt asks about; nothing by default. */
  readonly subjects?: SubjectIndex;
  /** What the blanks are filled with, by name; empty means the default. */
  readonly parameters?: Readonly<Record<string, string>>;
  /** Conditions that hold besides, such as `user = 'teo.marrash'`: they stand behind "from". */
  readonly carried?: readonly string[];
  /** Checks a hunt while it is written: blanks without a value are no mistake yet. */
  readonly writing?: boolean;
}

/** The keyword of conditions that are carried along; no step of a text has it. */
export const CARRIED = 'carried';

/** Steps of a hunt, those within joins among them; more cannot be planned in bounded time. */
const MAX_STEPS = 200;

/** Longer texts are no hunts. */
const MAX_HUNT_LENGTH = 100_000;

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

/** A line within parentheses that begins a step there; `first` only before a number. */
const BEGINS_INNER_STEP = new RegExp(
  `(?:first\\b(?=\\s*[\\d$])|(?:${stepNames.filter((name) => name !== 'first').join('|')})\\b)`,
  'iy',
);

/** As {@link compileHunt}, with the scope that completion needs, and only the first `most` steps. */
export function compileUpTo(text: string, options: CompileOptions, most: number): Compiled {
  if (text.length > MAX_HUNT_LENGTH)
    throw new HuntError('too-large', START, `A hunt may have at most ${MAX_HUNT_LENGTH} characters.`);
  const scanner = new Scanner(text);
  const blanks = new Map<string, Blank>();
  const cursor = new Cursor(scanner, blanks);
  const given = new Map(
    Object.entries(options.parameters ?? {}).map(([name, value]) => [name.toLowerCase(), value]),
  );
  let slots = 0;
  let counted = 0;
  const context: CheckContext = {
    now: options.now,
    window: options.window,
    lists: new Map((options.lists ?? []).map((list) => [list.name.toLowerCase(), list])),
    subjects: options.subjects ?? (() => []),
    blanks,
    notes: [],
    newSlot: () => `x${++slots}`,
    countStep(span) {
      if (++counted > MAX_STEPS)
        throw new HuntError('too-large', span, `A hunt may have at most ${MAX_STEPS} steps.`);
    },
    condition: (node, scope) => checkCondition(node, scope, context),
    inner: (inside, window) => compileInner(inside, { ...context, window }),
  };
  const asks: Ask[] = [];
  const plan: PlanStep[] = [];
  let scope = eventScope;
  // What is carried goes with "from", and is not counted as a step of the text.
  let carriedSteps = 0;
  while (plan.length - carriedSteps < most && scanner.startStep()) {
    if (plan.length === 0 && cursor.seesWord('ask')) {
      asks.push(compileAsk(cursor, blanks, given, options.writing ?? false));
      continue;
    }
    const step = compileStep(cursor, scope, context, plan.length === 0);
    plan.push(step.body);
    scope = step.scope;
    if (plan.length > 1) continue;
    for (const condition of options.carried ?? [])
      plan.push({ ...compileCarried(condition, scope, context), line: step.body.line, keyword: CARRIED });
    carriedSteps = plan.length - 1;
  }
  for (const name of given.keys())
    if (!blanks.has(name)) context.notes.push(`"${name}" was given, and this hunt does not ask for it.`);
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
      opens: scope.opens,
      asks,
      notes: [...new Set(context.notes)],
    },
  };
}

/**
 * The blanks a hunt asks for, as far as it can be read: for the form that a hunt is filled in by.
 * A mistake after them is no matter here.
 */
export function asksOf(text: string): readonly Ask[] {
  const asks: Ask[] = [];
  try {
    const scanner = new Scanner(text);
    const cursor = new Cursor(scanner);
    while (scanner.startStep() && cursor.takeWord('ask')) asks.push(readAsk(cursor).ask);
  } catch (error) {
    if (!(error instanceof HuntError)) throw error;
  }
  return asks;
}

function compileAsk(
  cursor: Cursor,
  blanks: Map<string, Blank>,
  given: ReadonlyMap<string, string>,
  writing: boolean,
): Ask {
  cursor.next();
  const written = readAsk(cursor);
  const name = written.ask.name.toLowerCase();
  if (blanks.has(name))
    throw new HuntError('needs-name', written.span, `"${written.ask.name}" is asked for twice.`);
  blanks.set(name, fillBlank(written, given.get(name), writing));
  return written.ask;
}

/** A condition that is carried, as a step. @throws HuntError whose place is in the condition */
function compileCarried(condition: string, scope: Scope, context: CheckContext): PlanStep {
  const cursor = new Cursor(new Scanner(`where ${condition.replaceAll(/\s+/g, ' ').trim()}`));
  try {
    cursor.scanner.startStep();
    return compileStep(cursor, scope, context, false).body;
  } catch (error) {
    if (!(error instanceof HuntError)) throw error;
    throw new HuntError('not-allowed', START, `The Beam carries "${condition}": ${error.message}`);
  }
}

/** The steps of the inner side of a join, up to its `)`. */
function compileInner(cursor: Cursor, context: CheckContext): { steps: PlanStep[]; scope: Scope } {
  const { scanner } = cursor;
  return scanner.withinParentheses(BEGINS_INNER_STEP, () => {
    const steps: PlanStep[] = [];
    let scope = eventScope;
    while (scanner.startInnerStep()) {
      const step = compileStep(cursor, scope, context, steps.length === 0);
      if (!traitsOf(step.body).insideJoin)
        throw new HuntError(
          'not-allowed',
          scanner.last,
          `"${step.body.keyword}" cannot stand on the other side of a join: put it after the join.`,
        );
      steps.push(step.body);
      scope = step.scope;
    }
    if (steps.length === 0)
      throw new HuntError(
        'unexpected',
        scanner.last,
        'The other side of a join begins with "from", such as: join ( from rights ) as a on user',
      );
    return { steps, scope };
  });
}

function compileStep(
  cursor: Cursor,
  scope: Scope,
  context: CheckContext,
  isFirst: boolean,
): { body: PlanStep; scope: Scope } {
  const token = cursor.peek();
  const keyword = token.kind === 'word' ? token.text.toLowerCase() : '';
  context.countStep(token.span);
  if (keyword === 'ask')
    throw new HuntError(
      'not-allowed',
      token.span,
      '"ask" stands before the one "from": move it to the beginning of the hunt.',
    );
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
  const place = { line: token.span.line, keyword, span: token.span };
  const def = steps[keyword];
  const { body, scope: after } = def.compile(cursor, scope, context, place);
  cursor.expectEnd('');
  return {
    body: { ...body, line: place.line, keyword },
    scope: def.traits.keepsBuckets ? after : { ...after, buckets: null },
  };
}
