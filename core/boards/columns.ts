/** A column as pictures look at it. */
export interface ColumnLike {
  readonly name: string;
  readonly type: string;
  /** The canonical field whose values it holds, if any. */
  readonly field?: string | null | undefined;
}

/** Columns of a result by what they are good for in a picture. */
export interface Shape {
  /** Where texts and addresses stand, in order. */
  readonly keys: readonly number[];
  readonly time: number | null;
  /** The figure that is drawn: the first number. */
  readonly figure: number | null;
}

const KEY_TYPES: ReadonlySet<string> = new Set(['text', 'address', 'truth', 'any']);
/** Fields that are numbers and name things all the same. */
const NAMING: ReadonlySet<string> = new Set(['dst_port', 'src_port', 'asn', 'event_code', 'process_id']);

const names = ({ type, field }: ColumnLike): boolean => KEY_TYPES.has(type) || NAMING.has(field ?? '');

/** Where keys, time and the figure of a result stand. */
export function figureColumns(columns: readonly ColumnLike[]): Shape {
  const at = (fits: (column: ColumnLike) => boolean): number[] =>
    columns.flatMap((column, i) => (fits(column) ? [i] : []));
  return {
    keys: at(names),
    time: at(({ type }) => type === 'time')[0] ?? null,
    figure: at((column) => column.type === 'number' && !names(column))[0] ?? null,
  };
}

/** Every number of a result that is a figure, in order. */
export const figuresOf = (columns: readonly ColumnLike[]): number[] =>
  columns.flatMap((column, i) => (column.type === 'number' && !names(column) ? [i] : []));
