import type { Instant } from '../base/instant.js';
import { spanFromTo, type Span } from '../base/span.js';
import { nearestWord } from '../base/text-distance.js';
import { columnDef, columnNames } from '../events/columns.js';
import type { Cursor } from './cursor.js';
import { HuntError } from './hunt-error.js';
import type {
  AskType,
  Column,
  Condition,
  Expr,
  FillStep,
  Kept,
  ListRef,
  Opened,
  OrderKey,
  PlanStep,
  RowsAre,
  Window,
} from './plan.js';
import type { SubjectIndex } from '../subjects/subject.js';
import type { NamePart, Node } from './syntax.js';

type NameNode = Node & { node: 'name' };

/** What can be named at some point of a hunt. */
export interface Scope {
  readonly rows: RowsAre;
  readonly columns: readonly Column[];
  /** Whether `original.…` paths can be read. */
  readonly paths: boolean;
  readonly order: readonly OrderKey[];
  /** The window in force, as the last "from" opened it. */
  readonly window: Window;
  /** The events a row opens. */
  readonly opens: readonly Opened[];
  /** Earlier rows whose fields can still be named, such as `closing.user`. */
  readonly peeks: readonly Peek[];
  /** The stretches of time of the tally before, for `fill`; null where its rows are no longer whole. */
  readonly buckets: Buckets | null;
  /** Names that earlier steps had, in lower case, and which step dropped them. */
  readonly gone: ReadonlyMap<string, { line: number; keyword: string }>;
}

/** The table of a tally with `every`: what `fill` needs to know of it. */
export interface Buckets {
  readonly keys: readonly Column[];
  readonly bucket: Column;
  /** Width of a stretch, microseconds. */
  readonly micros: number;
  /** Its figures, and whether each is 0 over nothing; else it is null. */
  readonly figures: FillStep['figures'];
}

/** An earlier row that a table row was made from. */
export interface Peek {
  readonly name: string;
  /** What could be named on that row. */
  readonly scope: Scope;
  /** Takes a value of that row along. @returns its slot on the table's rows */
  keep(slot: string): string;
}

/** What a check knows besides the text: the run's moment and window, lists, and where computed columns go. */
export interface CheckContext {
  readonly now: Instant;
  readonly window: Window;
  readonly lists: ReadonlyMap<string, ListRef>;
  /** What else a subject is called. */
  readonly subjects: SubjectIndex;
  /** The blanks filled in or left open, by name in small letters. */
  readonly blanks: ReadonlyMap<string, Blank>;
  readonly notes: string[];
  readonly newSlot: () => string;
  /** Counts a step. @throws HuntError beyond what a hunt may have */
  countStep(span: Span): void;
  /** Reads and checks the steps of the inner side of a join, up to the `)`. */
  inner(cursor: Cursor, window: Window): { readonly steps: readonly PlanStep[]; readonly scope: Scope };
  /** Checks a condition within an expression, as `if` has one. */
  condition(node: Node, scope: Scope): Condition;
}

/** What a blank stands for; null where it was left open. */
export interface Blank {
  readonly value: string | number | boolean | null;
  readonly type: AskType;
  /** Where a condition that names it holds for all rows while it is left open. */
  readonly any: boolean;
  /** Where it is asked for: a value that cannot be read is refused there. */
  readonly span: Span;
}

/** The stored columns of events, as the first step opens them. */
export const eventColumns: readonly Column[] = columnNames.map((name) => {
  const def = columnDef(name);
  return {
    slot: name,
    name,
    type: def.type,
    field: name,
    ...(def.identity && { identity: true as const }),
    ...(def.integer && { integer: true as const }),
  };
});

/** The order in which events come: newest first, the lower id first of equal times. */
export const newestFirst: readonly OrderKey[] = [
  { slot: 'time', type: 'time', descending: true },
  { slot: 'id', type: 'text', descending: false },
];

/** The order things happened in: by time, then id. */
export const oldestFirst: readonly OrderKey[] = newestFirst.map((key) => ({ ...key, descending: false }));

/** What can be named on stored events of a window. */
export const eventScopeOf = (window: Window): Scope => ({
  rows: 'events',
  columns: eventColumns,
  paths: true,
  order: newestFirst,
  window,
  opens: [{ name: 'event', id: 'id', time: 'time' }],
  peeks: [],
  buckets: null,
  gone: new Map(),
});

/** As {@link eventScopeOf}, where no window is known yet. */
export const eventScope: Scope = eventScopeOf({ from: 0, to: 0 });

/** A dotted name as columns are found by. */
export const nameOf = (node: NameNode): string => node.parts.map((part) => part.text).join('.');

const isPath = (node: NameNode): boolean => {
  const [first] = node.parts;
  return (
    node.parts.length > 1 && first !== undefined && !first.quoted && first.text.toLowerCase() === 'original'
  );
};

/** The column a name stands for, ignoring case; undefined when there is none. */
export function findColumn(scope: Scope, name: string): Column | undefined {
  const lower = name.toLowerCase();
  return scope.columns.find((column) => column.name.toLowerCase() === lower);
}

/** A column as an expression. */
export const columnExpr = (column: Column): Expr => ({ op: 'column', type: column.type, slot: column.slot });

export interface Resolved {
  readonly expr: Expr;
  readonly column?: Column;
}

/**
 * What a name stands for at this point of the hunt.
 * @throws HuntError for a name that does not exist, with the nearest one, or that a step has dropped
 */
export function resolveName(scope: Scope, node: NameNode): Resolved {
  const name = nameOf(node);
  if (isPath(node)) {
    const column = scope.columns.find(
      (candidate) => candidate.name === `original.${name.slice('original.'.length)}`,
    );
    if (column !== undefined) return { expr: columnExpr(column), column };
    if (scope.paths) return { expr: pathExpr('original', node.parts.slice(1)) };
  } else {
    const column = findColumn(scope, name);
    if (column !== undefined) return { expr: columnExpr(column), column };
  }
  const found = peekedName(scope, node) ?? joinedPath(scope, node);
  if (found !== undefined) return found;
  throw unknownName(scope, name, node.span);
}

const pathExpr = (slot: string, parts: readonly NamePart[]): Expr => ({
  op: 'path',
  type: 'any',
  slot,
  // Only 0, or digits that begin with 1 to 9, without quotes, can count a list.
  path: parts.map(({ text, quoted }) => (!quoted && /^(?:0|[1-9]\d{0,8})$/.test(text) ? Number(text) : text)),
});

/** A field of an earlier row, such as `closing.user` or `first.original.Name`. */
function peekedName(scope: Scope, node: NameNode): Resolved | undefined {
  const [first, ...parts] = node.parts;
  const peek = scope.peeks.find(({ name }) => name.toLowerCase() === first?.text.toLowerCase());
  const [next] = parts;
  if (peek === undefined || next === undefined) return undefined;
  const { expr, column } = resolveName(peek.scope, {
    ...node,
    parts,
    span: spanFromTo(next.span, node.span),
  });
  if (expr.op !== 'column' && expr.op !== 'path') return undefined;
  const slot = peek.keep(expr.slot);
  return { expr: { ...expr, slot }, ...(column && { column: { ...column, slot, name: nameOf(node) } }) };
}

/** A place within the original of the other side of a join, such as `fares.original.Route`. */
function joinedPath(scope: Scope, node: NameNode): Resolved | undefined {
  const [side, original, ...path] = node.parts;
  if (path.length === 0 || original?.text.toLowerCase() !== 'original') return undefined;
  const column = findColumn(scope, `${side?.text ?? ''}.original`);
  return column === undefined ? undefined : { expr: pathExpr(column.slot, path) };
}

/**
 * Remembers which values of an earlier row are named later.
 * @param kept where they are noted: the step's own list
 */
export function makePeek(name: string, scope: Scope, kept: Kept[], newSlot: () => string): Peek {
  const slots = new Map<string, string>();
  return {
    name,
    scope,
    keep(from) {
      let to = slots.get(from);
      if (to === undefined) {
        to = newSlot();
        slots.set(from, to);
        kept.push({ from, to });
      }
      return to;
    },
  };
}

/** The events that a row made from earlier rows opens: those that the earlier ones opened. */
export const opensOf = (peeks: readonly Peek[]): Opened[] =>
  peeks.flatMap((peek) =>
    peek.scope.opens.slice(0, 1).map(({ id, time }) => ({
      name: peek.name,
      id: peek.keep(id),
      time: peek.keep(time),
    })),
  );

function unknownName(scope: Scope, name: string, span: Span): HuntError {
  const dropped =
    scope.gone.get(name.toLowerCase()) ??
    (/^original\./i.test(name) ? scope.gone.get('original') : undefined);
  if (dropped !== undefined) {
    return new HuntError(
      'unknown-field',
      span,
      `"${name}" is gone: the step "${dropped.keyword}" on line ${dropped.line} dropped it. Use it before that step, or keep it there.`,
    );
  }
  const nearest = nearestWord(
    name,
    scope.columns.map((column) => column.name),
  );
  const what = scope.rows === 'events' && scope.paths ? 'field' : 'column';
  const source = what === 'field' ? ` A field as the source calls it is written original.${name}.` : '';
  return new HuntError(
    'unknown-field',
    span,
    `No ${what} "${name}".${nearest === undefined ? '' : ` Did you mean "${nearest}"?`}${source}`,
    nearest,
  );
}

/** The scope after a step that leaves only `columns`; everything else is remembered as dropped by it. */
export function narrowScope(
  before: Scope,
  columns: readonly Column[],
  step: { line: number; keyword: string },
  rest: Pick<Scope, 'rows' | 'paths' | 'order'> & Partial<Pick<Scope, 'opens' | 'peeks' | 'buckets'>>,
): Scope {
  const kept = new Set(columns.map((column) => column.name.toLowerCase()));
  const gone = new Map(before.gone);
  for (const column of before.columns) {
    const name = column.name.toLowerCase();
    if (!kept.has(name)) gone.set(name, step);
  }
  for (const name of kept) gone.delete(name);
  return { window: before.window, opens: [], peeks: [], buckets: null, ...rest, columns, gone };
}

/**
 * Refuses two columns of one name, and names the step that must say `as`.
 * @throws HuntError at the second of them
 */
export function requireDifferentNames(
  columns: readonly { readonly column: Column; readonly span: Span }[],
): void {
  const seen = new Set<string>();
  for (const { column, span } of columns) {
    const name = column.name.toLowerCase();
    if (seen.has(name))
      throw new HuntError(
        'needs-name',
        span,
        `Two columns would be called "${column.name}": name one of them with "as".`,
      );
    seen.add(name);
  }
}
