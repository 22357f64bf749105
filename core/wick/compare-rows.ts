/** A column of a result, as much of it as telling rows apart needs. */
export interface ComparedColumn {
  readonly name: string;
  readonly type: string;
}

/** A result that is compared with another. */
export interface ComparedResult {
  readonly columns: readonly ComparedColumn[];
  /** Values as JSON has them. */
  readonly rows: readonly (readonly unknown[])[];
  /** The event each row is; null where a row is none. */
  readonly events: readonly ({ readonly id: string } | null)[];
}

/** Which rows of the later result are new, changed, or gone. */
export interface Comparison {
  /** Indices of rows of the later result. */
  readonly added: readonly number[];
  /** The same row with other figures: the index in the later result, and in the earlier. */
  readonly changed: readonly { readonly after: number; readonly before: number }[];
  /** Indices of rows of the earlier result. */
  readonly gone: readonly number[];
  readonly same: number;
}

/** What a row is, apart from its figures: its event, or the values of its columns that are no numbers. */
function identitiesOf({ columns, rows, events }: ComparedResult, shared: ReadonlySet<string>): string[] {
  const telling = columns.flatMap(({ name, type }, i) => (type !== 'number' && shared.has(name) ? [i] : []));
  // A table of figures alone is told by its figures.
  const by = telling.length > 0 ? telling : columns.map((_, i) => i);
  const times = new Map<string, number>();
  return rows.map((row, i) => {
    const event = events[i];
    if (event != null) return `event ${event.id}`;
    const identity = JSON.stringify(by.map((at) => row[at] ?? null));
    // Rows that are alike are told by how many came before.
    const before = times.get(identity) ?? 0;
    times.set(identity, before + 1);
    return `${identity} ${before}`;
  });
}

/** Compares two results row by row, whatever their order. Columns that only one of them has do not tell rows apart. */
export function compareResults(before: ComparedResult, after: ComparedResult): Comparison {
  const shared = new Set(
    before.columns.map(({ name }) => name).filter((name) => after.columns.some((one) => one.name === name)),
  );
  const earlier = new Map(identitiesOf(before, shared).map((identity, i) => [identity, i]));
  const figures = after.columns.flatMap(({ name, type }, i) => {
    const at = before.columns.findIndex((column) => column.name === name);
    return type === 'number' && at >= 0 ? [{ after: i, before: at }] : [];
  });
  const added: number[] = [];
  const changed: { after: number; before: number }[] = [];
  let same = 0;
  identitiesOf(after, shared).forEach((identity, i) => {
    const at = earlier.get(identity);
    if (at === undefined) {
      added.push(i);
      return;
    }
    earlier.delete(identity);
    const differs = figures.some((one) => after.rows[i]?.[one.after] !== before.rows[at]?.[one.before]);
    if (differs) changed.push({ after: i, before: at });
    else same++;
  });
  return { added, changed, gone: [...earlier.values()], same };
}
