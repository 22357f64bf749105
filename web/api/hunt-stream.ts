import type { Json } from '../../core/base/json.js';
import type { Problem } from '../../core/wire/common.js';
import type { Coverage, HuntColumn } from '../../core/wire/hunts.js';
import { jsonLines } from './json-lines.js';

export type HuntRow = readonly Json[];
/** An event that a row opens besides its first, and what it is to it. */
export interface AlsoEvent {
  readonly name: string;
  readonly id: string;
  readonly time: string;
}
export type RowEvent = {
  readonly id: string;
  readonly time: string;
  /** What it is to the row, where the row opens several. */
  readonly name?: string;
  readonly also?: readonly AlsoEvent[];
} | null;

/** A piece of a hunt's answer, as the server sends them one a line. */
export type HuntPiece =
  /** It waits its turn; so many go before. */
  | { readonly piece: 'waiting'; readonly before: number }
  | {
      readonly piece: 'columns';
      readonly columns: readonly HuntColumn[];
      readonly notes: readonly string[];
      readonly how: readonly string[];
    }
  | { readonly piece: 'rows'; readonly rows: readonly HuntRow[]; readonly events: readonly RowEvent[] }
  | {
      /** All rows as far as they are known: they take the place of what came before. */
      readonly piece: 'picture';
      readonly rows: readonly HuntRow[];
      readonly events: readonly RowEvent[];
      readonly coverage: Coverage;
    }
  | { readonly piece: 'coverage'; readonly coverage: Coverage }
  | { readonly piece: 'end'; readonly complete: boolean; readonly milliseconds: number }
  | {
      readonly piece: 'steps';
      readonly steps: readonly {
        readonly line: number;
        readonly keyword: string;
        readonly rows: number | null;
        /** Its share of the time, 0–1, where it was measured. */
        readonly share: number | null;
      }[];
      readonly remarks: readonly string[];
    }
  | { readonly piece: 'failure'; readonly problem: Problem };

export interface HuntAsk {
  readonly text: string;
  readonly window: { readonly from: string; readonly to: string };
  readonly limit: number;
  /** Measures the steps' shares of the time also where that takes long. */
  readonly shares?: boolean;
  readonly parameters: Readonly<Record<string, string>>;
  readonly carried: readonly string[];
}

/** Runs a hunt and gives its answer piece by piece. Aborting stops the statement on the server. @throws ApiFailure */
export const streamHunt = (body: HuntAsk, signal: AbortSignal): AsyncGenerator<HuntPiece> =>
  jsonLines<HuntPiece>('/hunts/run', body, signal);
