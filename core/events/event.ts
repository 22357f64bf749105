import type { Instant } from '../base/instant.js';
import type { Json } from '../base/json.js';
import type { columns, ColumnName } from './columns.js';

interface TypeOf {
  text: string;
  number: number;
  time: Instant;
  address: string;
  texts: readonly string[];
  addresses: readonly string[];
  any: Json;
}

type ValueOf<N extends ColumnName> = TypeOf[(typeof columns)[N]['type']];

/**
 * One event: canonical columns where the recipe knew the meaning, the source's own fields under `original`,
 * and the record as it came under `raw`. Absent and null mean the same. Times are microseconds, addresses
 * canonical text.
 */
export type Event = { readonly id: string; readonly time: Instant } & {
  readonly [N in Exclude<ColumnName, 'id' | 'time'>]?: ValueOf<N> | null;
};
