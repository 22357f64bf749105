/** That another subject has a value which this one has too. */
export interface SharedValue {
  readonly name: string;
  /** What the value is, such as address. */
  readonly by: string;
  readonly value: string;
  /** Events of the other one with it. */
  readonly events: number;
}

export interface Neighbour {
  readonly name: string;
  /** The shared values, the rarest first. */
  readonly shared: readonly { readonly by: string; readonly value: string; readonly others: number }[];
  readonly events: number;
  readonly score: number;
}

/**
 * The subjects that share most with one. A value that few have says more than one that all have: each is weighed by its
 * inverse frequency (K. Spärck Jones, 1972), log(N / n), N the subjects that share anything, n those that have this value.
 * @param most neighbours told
 */
export function neighboursOf(shared: readonly SharedValue[], most: number): Neighbour[] {
  const keyOf = ({ by, value }: Pick<SharedValue, 'by' | 'value'>): string => JSON.stringify([by, value]);
  const all = new Set(shared.map(({ name }) => name));
  const having = new Map<string, Set<string>>();
  for (const one of shared) {
    const names = having.get(keyOf(one)) ?? new Set<string>();
    having.set(keyOf(one), names.add(one.name));
  }
  // The subject itself has each of them, too.
  const weight = (one: SharedValue): number =>
    Math.log((all.size + 1) / ((having.get(keyOf(one))?.size ?? 0) + 1)) + 0.1;
  const found = new Map<string, SharedValue[]>();
  for (const one of shared) found.set(one.name, [...(found.get(one.name) ?? []), one]);
  return [...found]
    .map(([name, values]) => ({
      name,
      shared: values
        .map((one) => ({ by: one.by, value: one.value, others: having.get(keyOf(one))?.size ?? 0 }))
        .sort((a, b) => a.others - b.others || (a.value < b.value ? -1 : 1)),
      events: values.reduce((sum, { events }) => sum + events, 0),
      score: values.reduce((sum, one) => sum + weight(one), 0),
    }))
    .sort((a, b) => b.score - a.score || b.events - a.events || (a.name < b.name ? -1 : 1))
    .slice(0, most);
}
