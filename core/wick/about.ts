import type { Span } from '../base/span.js';
import { columnDef, type ColumnName } from '../events/columns.js';
import { canonicalAddress } from '../net/address.js';
import { namedBy, type SubjectKind } from '../subjects/kinds.js';
import type { Joined, SubjectIndex } from '../subjects/subject.js';
import { lowerText } from '../text/letters.js';
import type { CompileOptions } from './compile.js';
import { HuntError } from './hunt-error.js';
import { NEVER, type Condition, type Expr } from './plan.js';
import type { Scope } from './scope.js';

/**
 * `about KIND 'NAME'` as plain comparisons: the event names the subject in any role, under its name or what is joined to
 * it, within the time in which it was joined. Both engines run what they run anyway.
 * @throws HuntError where a column it looks at is gone, or the name cannot be one of its kind
 */
export function aboutCondition(
  kind: SubjectKind,
  name: string,
  joined: readonly Joined[],
  scope: Scope,
  span: Span,
): Condition {
  const { names, addresses } = namedBy[kind];
  if (kind === 'address' && canonicalAddress(name) === null)
    throw new HuntError('wrong-type', span, `"${name}" is no address.`);
  const column = (of: ColumnName): Expr => {
    const found = scope.columns.find(({ field, name: called }) => field === of && called === of);
    if (found === undefined)
      throw new HuntError(
        'not-allowed',
        span,
        `"about" looks at "${of}", and a step before dropped it: move the condition before that step.`,
      );
    return { op: 'column', type: found.type, slot: found.slot };
  };
  const always = [name, ...joined.filter(isAlways).map(({ value }) => value)];
  const anyOf = (values: readonly string[], among: readonly ColumnName[]): Condition[] =>
    among.flatMap((of) => {
      const options = [...new Set(values)].flatMap((value) => literalFor(of, value) ?? []);
      return options.length === 0 ? [] : [{ op: 'in' as const, value: column(of), options }];
    });
  const time = column('time');
  const bounded = joined
    .filter((one) => !isAlways(one))
    .flatMap(({ value, from, to }): Condition[] => {
      const named = either([...anyOf([value], names), ...anyOf([value], addresses)]);
      if (named === NEVER) return [];
      return [
        {
          op: 'and',
          parts: [
            named,
            ...(from === null
              ? []
              : [{ op: 'compare', sign: '>=', left: time, right: moment(from) } as const]),
            ...(to === null ? [] : [{ op: 'compare', sign: '<=', left: time, right: moment(to) } as const]),
          ],
        },
      ];
    });
  return either([...anyOf(always, names), ...anyOf(always, addresses), ...bounded]);
}

const isAlways = ({ from, to }: Joined): boolean => from === null && to === null;
const moment = (value: number): Expr => ({ op: 'literal', type: 'time', value });
const either = (parts: readonly Condition[]): Condition =>
  parts.length === 0 ? NEVER : parts.length === 1 ? (parts[0] ?? NEVER) : { op: 'or', parts };

/** A value as a column holds it; null where the column can never hold it. */
function literalFor(column: ColumnName, value: string): (Expr & { op: 'literal' }) | null {
  const { type, identity } = columnDef(column);
  if (type === 'address' || type === 'addresses') {
    const address = canonicalAddress(value);
    return address === null ? null : { op: 'literal', type: 'address', value: address };
  }
  return { op: 'literal', type: 'text', value: identity === true ? lowerText(value.trim()) : value };
}

/**
 * The subjects that a hunt and what is carried ask about, so that what they are also called can be looked up before it
 * is planned. What is wrong with the hunt is told when it is.
 * @param compile checks a hunt, as `compileHunt` does
 */
export function subjectsAskedAbout(
  compile: (text: string, options: CompileOptions) => unknown,
  text: string,
  options: CompileOptions,
): { readonly kind: SubjectKind; readonly name: string }[] {
  if (!/\babout\b/i.test([text, ...(options.carried ?? [])].join('\n'))) return [];
  const asked = new Map<string, { kind: SubjectKind; name: string }>();
  const subjects: SubjectIndex = (kind, name) => {
    asked.set(JSON.stringify([kind, name]), { kind, name });
    return [];
  };
  try {
    compile(text, { ...options, subjects });
  } catch (error) {
    if (!(error instanceof HuntError)) throw error;
  }
  return [...asked.values()];
}
