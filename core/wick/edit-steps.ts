import { compileHunt, type CompileOptions } from './compile.js';
import type { Plan, PlanStep } from './plan.js';
import { spellLiteral, spellName } from './spell.js';
import { stepNames, traitsOf } from './steps/index.js';
import type { Value } from './plan.js';

// Changes to the text of a hunt, step by step: moving, switching off, cutting, and from a counted row to its events.

/** The lines of a step, from 0, the last included. */
interface Block {
  readonly first: number;
  readonly last: number;
}

const OFF = '-- ';
const OFF_STEP = new RegExp(`^--\\s?(?:ask|${stepNames.join('|')})\\b`, 'i');

const startsStep = (line: string): boolean =>
  (/^[^\s)]/.test(line) && !line.startsWith('--')) || OFF_STEP.test(line);

/** Every step of a text with the lines that belong to it; a step that is switched off is one, too. */
function blocksOf(lines: readonly string[]): Block[] {
  const starts = lines.flatMap((line, i) => (startsStep(line) ? [i] : []));
  return starts.map((first, i) => {
    let last = (starts[i + 1] ?? lines.length) - 1;
    while (last > first && (lines[last]?.trim() === '' || /^--(?!\s{3})/.test(lines[last] ?? ''))) last--;
    return { first, last };
  });
}

function blockAt(lines: readonly string[], line: number): number {
  return blocksOf(lines).findLastIndex(({ first }) => first <= line - 1);
}

/**
 * A hunt with a step moved past its neighbour.
 * @param line a line of the step, from 1
 * @returns the text and the line the step begins on; null where there is nothing to move past
 */
export function moveStep(
  text: string,
  line: number,
  way: 'up' | 'down',
): { text: string; line: number } | null {
  const lines = text.split('\n');
  const blocks = blocksOf(lines);
  const at = blockAt(lines, line);
  const [upper, lower] = way === 'up' ? [blocks[at - 1], blocks[at]] : [blocks[at], blocks[at + 1]];
  if (at < 0 || upper === undefined || lower === undefined) return null;
  const part = (from: number, to: number): string[] => lines.slice(from, to);
  const moved = part(lower.first, lower.last + 1);
  const between = part(upper.last + 1, lower.first);
  const stays = part(upper.first, upper.last + 1);
  return {
    text: [
      ...part(0, upper.first),
      ...moved,
      ...between,
      ...stays,
      ...part(lower.last + 1, lines.length),
    ].join('\n'),
    line: (way === 'up' ? upper.first : upper.first + moved.length + between.length) + 1,
  };
}

/**
 * A hunt with a step moved to where another stands, past all between them.
 * @param line a line of the step, from 1
 * @param to a line of the step whose place it takes
 * @returns as {@link moveStep}
 */
export function moveStepTo(text: string, line: number, to: number): { text: string; line: number } | null {
  const lines = text.split('\n');
  const from = blockAt(lines, line);
  const steps = blockAt(lines, to) - from;
  if (from < 0 || steps === 0) return null;
  let moved = { text, line };
  for (let i = 0; i < Math.abs(steps); i++)
    moved = moveStep(moved.text, moved.line, steps < 0 ? 'up' : 'down') ?? moved;
  return moved;
}

/** A hunt with a step switched off, or on again: it stays in the text as a comment. @param line from 1 */
export function switchStep(text: string, line: number): string {
  const lines = text.split('\n');
  const block = blocksOf(lines)[blockAt(lines, line)];
  if (block === undefined) return text;
  const isOff = lines[block.first]?.startsWith('--') === true;
  return lines
    .map((one, i) => {
      if (i < block.first || i > block.last) return one;
      return isOff ? one.replace(/^--\s?/, '') : OFF + one;
    })
    .join('\n');
}

/** A window of its own behind the first "from". */
const OVER = /^(from\b[^\n]*?)[ \t]+over[ \t]+(?:last[ \t]+\S+|'[^'\n]*'[ \t]+to[ \t]+'[^'\n]*')/im;

/** A hunt that goes by the Beam: without the window of its own, where it has one. */
export const withoutOver = (text: string): string => text.replace(OVER, '$1');

/** A hunt up to a step, that one included. @param line a line of the step, from 1 */
export function textUpTo(text: string, line: number): string {
  const lines = text.split('\n');
  const block = blocksOf(lines)[blockAt(lines, line)];
  return block === undefined ? text : lines.slice(0, block.last + 1).join('\n');
}

/** A cell of a row, as it was clicked. */
export interface RowCell {
  readonly column: string;
  readonly value: Value;
}

/**
 * The hunt for the events behind a row of a tally: its steps up to the tally, then conditions for the row's keys.
 * @returns null where the hunt holds no tally whose keys are fields, or the row cannot be told by conditions
 */
export function eventsBehind(text: string, row: readonly RowCell[], options: CompileOptions): string | null {
  let plan: Plan;
  try {
    plan = compileHunt(text, { ...options, writing: true });
  } catch {
    return null;
  }
  const tally = plan.steps.find((step) => !traitsOf(step).keepsEvents);
  if (tally?.step !== 'tally') return null;
  const lines = text.split('\n');
  const conditions = conditionsOf(tally, row, plan);
  if (conditions === null) return null;
  const before = lines
    .slice(0, tally.line - 1)
    .join('\n')
    .trimEnd();
  return [before, ...conditions.map((condition) => `where ${condition}`)].join('\n');
}

function conditionsOf(
  tally: PlanStep & { step: 'tally' },
  row: readonly RowCell[],
  plan: Plan,
): string[] | null {
  const cellOf = (slot: string): RowCell | undefined => {
    const column = plan.columns.find((one) => one.slot === slot);
    return row.find((cell) => cell.column === column?.name);
  };
  const conditions: string[] = [];
  for (const { column, expr } of tally.keys) {
    const cell = cellOf(column.slot);
    if (cell === undefined || (expr.op !== 'column' && expr.op !== 'path')) return null;
    // A key is named as it was before the tally: a field, or a column an earlier step computed.
    const name =
      expr.op === 'path'
        ? `original.${expr.path.map((part) => (typeof part === 'number' ? String(part) : spellName(part))).join('.')}`
        : nameOfSlot(expr.slot, plan);
    if (name === null) return null;
    if (cell.value === null) conditions.push(`${name} is null`);
    else {
      const literal = Array.isArray(cell.value) ? null : spellLiteral(cell.value, column.type);
      if (literal === null) return null;
      conditions.push(`${name} = ${literal}`);
    }
  }
  if (tally.every !== undefined) {
    const cell = cellOf(tally.every.column.slot);
    if (typeof cell?.value !== 'string') return null;
    conditions.push(
      `time >= '${cell.value}' and time < '${cell.value}' + ${tally.every.micros / 1_000_000}s`,
    );
  }
  return conditions;
}

/** The name of a column before the tally: stored columns are their own slots, others were made by a step. */
function nameOfSlot(slot: string, plan: Plan): string | null {
  if (!/^x\d+$/.test(slot)) return slot;
  for (const step of plan.steps) {
    if (step.step === 'set' && step.computed.column.slot === slot)
      return spellName(step.computed.column.name);
    if (step.step === 'read' || step.step === 'look') {
      const made = step.columns.find(({ column }) => column.slot === slot);
      if (made !== undefined) return spellName(made.column.name);
    }
  }
  return null;
}
