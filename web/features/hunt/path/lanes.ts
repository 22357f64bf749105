/** A point of a path, as much of it as drawing needs. */
export interface Laid {
  readonly id: number;
  readonly parent: number | null;
}

/** Where a point stands in the drawing of its path. */
export interface LaidRow {
  readonly id: number;
  /** Which lane its dot stands in, from 0. */
  readonly lane: number;
  /** The lane of the point it came from; null for the first. */
  readonly from: number | null;
  /** Lanes that only pass by. */
  readonly passing: readonly number[];
  /** Whether its own lane goes on below it, and which lanes turn off from it. */
  readonly goesOn: boolean;
  readonly turnsOff: readonly number[];
}

/**
 * Lays a path out, a row a point in the order they were made: the first turn from a point goes straight on in its lane,
 * each other turns off into a lane of its own, from the row of the point it came from down to its own.
 */
export function layPath(points: readonly Laid[]): LaidRow[] {
  const lanes = new Map<number, number>();
  const rows = new Map(points.map(({ id }, i) => [id, i]));
  const straight = new Set<number>();
  let next = 0;
  /** Stretches of rows a lane is drawn through, their ends not included. */
  const through: { lane: number; from: number; to: number }[] = [];
  const laid = points.map(({ id, parent }, row) => {
    const parentLane = parent === null ? undefined : lanes.get(parent);
    const goesOn = parent !== null && parentLane !== undefined && !straight.has(parent);
    if (goesOn) straight.add(parent);
    const lane = goesOn ? parentLane : next++;
    lanes.set(id, lane);
    const parentRow = parent === null ? undefined : rows.get(parent);
    if (parentRow !== undefined) through.push({ lane, from: parentRow, to: row });
    return { id, lane, from: parentLane ?? null };
  });
  return laid.map((one, row) => ({
    ...one,
    passing: through.filter(({ from, to }) => from < row && row < to).map(({ lane }) => lane),
    goesOn: through.some(({ lane, from }) => from === row && lane === one.lane),
    turnsOff: through.filter(({ lane, from }) => from === row && lane !== one.lane).map(({ lane }) => lane),
  }));
}
