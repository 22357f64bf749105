import type { Instant } from '../base/instant.js';
import type { Span } from '../base/span.js';
import { nearestWord } from '../base/text-distance.js';
import { columnDef, columnNames } from '../events/columns.js';
import { HuntError } from './hunt-error.js';
import type { Column, Condition, Expr, ListRef, OrderKey, RowsAre, Window } from './plan.js';
import type { Node } from './syntax.js';

type NameNode = Node & { node: 'name' };

/** What can be named at some point of a hunt. */
export interface Scope {
  readonly rows: RowsAre;
  readonly columns: readonly Column[];
  /** Whether `original.…` paths can be read. */
  readonly paths: boolean;
  readonly order: readonly OrderKey[];
  /** Names that earlier steps had, in lower case, and which step dropped them. */
  readonly gone: ReadonlyMap<string, { line: number; keyword: string }>;
}

/** What a check knows besides the text: the run's moment and window, lists, and where computed columns go. */
export interface CheckContext {
  readonly now: Instant;
  readonly window: Window;
  readonly lists: ReadonlyMap<string, ListRef>;
  readonly notes: string[];
  newSlot(): string;
  /** Checks a condition within an expression, as `if` has one. */
  condition(node: Node, scope: Scope): Condition;
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

export const eventScope: Scope = {
  rows: 'events',
  columns: eventColumns,
  paths: true,
  order: newestFirst,
  gone: new Map(),
};

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
    if (scope.paths)
      return { expr: { op: 'path', type: 'any', path: node.parts.slice(1).map((part) => part.text) } };
  } else {
    const column = findColumn(scope, name);
    if (column !== undefined) return { expr: columnExpr(column), column };
  }
  throw unknownName(scope, name, node.span);
}

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
  rest: { rows: RowsAre; paths: boolean; order: readonly OrderKey[] },
): Scope {
  const kept = new Set(columns.map((column) => column.name.toLowerCase()));
  const gone = new Map(before.gone);
  for (const column of before.columns) {
    const name = column.name.toLowerCase();
    if (!kept.has(name)) gone.set(name, step);
  }
  for (const name of kept) gone.delete(name);
  return { ...rest, columns, gone };
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
