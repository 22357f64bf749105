import type { CompileOptions } from './compile.js';
import { compileHunt } from './compile.js';
import { spellLiteral, spellName } from './spell.js';
import type { Value } from './plan.js';
import type { ValueType } from '../events/types.js';

/** What a click on a value asks for. */
export type ValueAction = 'keep' | 'leave-out' | 'tally' | 'seen';

/** What the head of a column asks for. */
export type ColumnAction = 'ascending' | 'descending' | 'tally' | 'hide' | 'shapes';

/** A value of a result, as it was clicked. */
export interface ClickedValue {
  /** The column's name. */
  readonly column: string;
  readonly type: ValueType;
  readonly value: Value;
}

/** Steps at the end of a hunt that only arrange rows; conditions belong before them. */
const ARRANGING = /^(?:sort|first|show|hide)\b/i;

/** The lines of a hunt grouped by step: a line at the edge begins one, others go on. */
function stepStarts(lines: readonly string[]): number[] {
  return lines.flatMap((line, i) => (/^[^\s)]/.test(line) && !line.startsWith('--') ? [i] : []));
}

/**
 * The step that a click on a value writes.
 * @returns null for values that no condition can name, such as objects
 */
export function stepFor(action: ValueAction, { column, type, value }: ClickedValue): string | null {
  const name = spellName(column);
  if (action === 'tally') return tallyStep([column]);
  if (action === 'seen') {
    const kept = Array.isArray(value) ? null : stepFor('keep', { column, type, value });
    return (
      kept && `${kept}\ntally count() as events, min(time) as first_seen, max(time) as last_seen per ${name}`
    );
  }
  if (value === null) return `where ${name} is ${action === 'keep' ? '' : 'not '}null`;
  if (Array.isArray(value)) {
    // A list is kept by what is in it: a comparison holds where one of its elements fits.
    const of = type === 'addresses' ? 'address' : 'text';
    const parts = (value as readonly Value[]).map((one) => stepFor(action, { column, type: of, value: one }));
    return parts.length > 0 && parts.every((part) => part !== null)
      ? `where ${parts.map((part) => part.slice('where '.length)).join(' and ')}`
      : null;
  }
  const literal = spellLiteral(value, type);
  return literal === null ? null : `where ${name} ${action === 'keep' ? '=' : '!='} ${literal}`;
}

/** The condition that a click carries along; null for values that none can name. */
export function conditionFor(clicked: ClickedValue): string | null {
  const step = stepFor('keep', clicked);
  return step === null ? null : step.slice('where '.length);
}

/** A condition made by {@link conditionFor} turned into its opposite, or back; null for any other. */
export function turnedRound(condition: string): string | null {
  // The name may be quoted, and a quoted name may hold anything.
  const found = /^((?:"(?:[^"]|"")*"|[^\s"'=!]+)+) (=|!=|is null|is not null)(?: (.*))?$/s.exec(condition);
  if (found === null) return null;
  const [, name = '', sign = '', rest] = found;
  const opposite: Readonly<Record<string, string>> = {
    '=': '!=',
    '!=': '=',
    'is null': 'is not null',
    'is not null': 'is null',
  };
  return [name, opposite[sign], ...(rest === undefined ? [] : [rest])].join(' ');
}

/** The step that the head of a column writes. @param column its name */
export function columnStep(action: ColumnAction, column: string): string {
  const name = spellName(column);
  switch (action) {
    case 'ascending':
      return `sort ${name}`;
    case 'descending':
      return `sort ${name} desc`;
    case 'tally':
      return tallyStep([column]);
    case 'hide':
      return `hide ${name}`;
    case 'shapes':
      return `shapes of ${name}`;
  }
}

/** The step that counts rows per some columns, the most frequent first. */
export const tallyStep = (columns: readonly string[]): string =>
  `tally count() per ${columns.map(spellName).join(', ')}\nsort count desc`;

/** The step that shows columns, one of them under another name. */
export const renameStep = (shown: readonly string[], column: string, name: string): string =>
  `show ${shown
    .map((one) => (one === column ? `${spellName(one)} as ${spellName(name)}` : spellName(one)))
    .join(', ')}`;

function withStep(lines: readonly string[], at: number, step: string): string {
  return [...lines.slice(0, at), step, ...lines.slice(at)].join('\n');
}

/**
 * A hunt with a step added where it makes sense: before the steps that only arrange rows if the column is known
 * there, otherwise at the end. A tally takes the place of those steps.
 */
export function addStep(text: string, step: string, options: CompileOptions): string {
  const lines = text.trimEnd().split('\n');
  const starts = stepStarts(lines);
  let end = lines.length;
  for (const start of [...starts].reverse()) {
    if (!ARRANGING.test(lines[start] ?? '')) break;
    end = start;
  }
  const early =
    /^(?:tally|shapes)\b/.test(step) || /^where .*\ntally /.test(step)
      ? withStep(lines.slice(0, end), end, step)
      : withStep(lines, end, step);
  const late = withStep(lines, lines.length, step);
  if (end === lines.length) return late;
  try {
    compileHunt(early, options);
    return early;
  } catch {
    // The column is made by one of the last steps, so the new one comes after them.
    return late;
  }
}
