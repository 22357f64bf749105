import { settle } from '../../text/numbers.js';
import type { FigurePart, GrowingTally } from './growing-plan.js';
import type { Value } from '../plan.js';
import type { Merger } from './way.js';
import { noLists } from '../in-memory/environment.js';
import { makeCompile } from '../in-memory/make-compile.js';
import { tableRow, type Row } from '../in-memory/row.js';
import { runStep } from '../in-memory/steps/index.js';
import { keyText, orderValues, sortRows } from '../in-memory/values.js';

/** More groups, or more distinct values in all, are not held. */
const MAX_HELD = 1_000_000;

interface Group {
  readonly cells: Record<string, Value>;
  readonly figures: Record<string, Value>;
  readonly sets: Map<string, Set<string>>;
}

/** More would have to be held than is sensible. */
export class TooManyGroups extends Error {}

/** Adds up the stretches of a {@link GrowingTally} and runs the steps after the tally over what is there so far. */
export class TallyMerger implements Merger {
  private readonly groups = new Map<string, Group>();
  private readonly parts: readonly FigurePart[];
  private held = 0;

  constructor(private readonly growing: GrowingTally) {
    this.parts = growing.figures.flatMap(({ parts }) => parts);
    // Without keys there is always one row.
    if (growing.keys.length === 0) this.open('', {});
  }

  /** Adds a row of a stretch, by slot. @throws TooManyGroups */
  add(row: Readonly<Record<string, Value | undefined>>): void {
    const { keys } = this.growing;
    const name = keys.map(({ slot }) => keyText(row[slot] ?? null)).join(' ');
    const group =
      this.groups.get(name) ??
      this.open(name, Object.fromEntries(keys.map(({ slot }) => [slot, row[slot] ?? null])));
    for (const part of this.parts) this.merge(group, part, row[part.slot] ?? null);
  }

  /**
   * The rows of the whole hunt as far as they are known, in its order, by column.
   * @returns `steps` how many rows passed the tally and each step after it
   */
  rows(): { readonly rows: readonly (readonly Value[])[]; readonly steps: readonly number[] } {
    const { plan, at, keys } = this.growing;
    const compile = makeCompile(noLists);
    let rows: readonly Row[] = sortRows(
      Array.from(this.groups.values(), (group) => tableRow({ ...group.cells, ...this.figuresOf(group) })),
      keys.map(({ slot, type }) => ({ slot, type, descending: false })),
    );
    const steps = [rows.length];
    for (const step of plan.steps.slice(at + 1)) {
      rows = runStep(step, rows, compile);
      steps.push(rows.length);
    }
    return { rows: rows.map(({ cells }) => plan.columns.map(({ slot }) => cells[slot] ?? null)), steps };
  }

  private open(name: string, cells: Record<string, Value>): Group {
    if (++this.held > MAX_HELD) throw new TooManyGroups();
    const group: Group = { cells, figures: {}, sets: new Map() };
    this.groups.set(name, group);
    return group;
  }

  private merge(group: Group, { slot, how, type }: FigurePart, value: Value): void {
    if (value === null) return;
    const known = group.figures[slot] ?? null;
    switch (how) {
      case 'add':
        group.figures[slot] = Number(known ?? 0) + Number(value);
        return;
      case 'least':
      case 'most': {
        const better = known === null ? -1 : orderValues(value, known, type);
        if (how === 'least' ? better < 0 : known === null || better > 0) group.figures[slot] = value;
        return;
      }
      case 'distinct': {
        const set = group.sets.get(slot) ?? new Set<string>();
        if (!set.has(keyText(value)) && ++this.held > MAX_HELD) throw new TooManyGroups();
        group.sets.set(slot, set.add(keyText(value)));
      }
    }
  }

  private figuresOf({ figures, sets }: Group): Record<string, Value> {
    return Object.fromEntries(
      this.growing.figures.map(({ column, parts, average }): [string, Value] => {
        const [first, second] = parts;
        if (first === undefined) return [column.slot, null];
        if (first.how === 'distinct') return [column.slot, sets.get(first.slot)?.size ?? 0];
        const value = figures[first.slot] ?? null;
        if (average) {
          const over = Number(figures[second?.slot ?? ''] ?? 0);
          return [column.slot, value === null || over === 0 ? null : settle(Number(value) / over)];
        }
        // A count over nothing is 0; any other figure over nothing is none.
        return [column.slot, value ?? (this.isCount(column.slot) ? 0 : null)];
      }),
    );
  }

  private isCount(slot: string): boolean {
    const tally = this.growing.plan.steps[this.growing.at];
    return (
      tally?.step === 'tally' &&
      tally.aggregates.some(({ column, aggregate }) => column.slot === slot && aggregate.fn === 'count')
    );
  }
}
