import type { Json } from '../../core/base/json.js';
import { runHunt } from '../../core/wire/endpoints/hunts.js';
import type { HuntPiece as WirePiece } from '../../core/wire/hunts.js';
import { pieces, type Said } from './call.js';

export type HuntRow = readonly Json[];
type Events = Extract<WirePiece, { piece: 'rows' }>['events'];
/** The event that a row opens; null where it opens none. */
export type RowEvent = Events[number];
/** An event that a row opens besides its first, and what it is to it. */
export type AlsoEvent = NonNullable<NonNullable<RowEvent>['also']>[number];

/** Cells are JSON, which a schema can only call anything. */
type WithCells<P> = P extends { rows: unknown } ? Omit<P, 'rows'> & { readonly rows: readonly HuntRow[] } : P;

/** A piece of a hunt's answer, as the server sends them one a line; a failure is thrown instead. */
export type HuntPiece = WithCells<Exclude<WirePiece, { piece: 'failure' }>>;

export type HuntAsk = Said<typeof runHunt>['body'];

/** Runs a hunt and gives its answer piece by piece. Aborting stops the statement on the server. @throws ApiFailure */
export const streamHunt = (body: HuntAsk, signal: AbortSignal): AsyncGenerator<HuntPiece> =>
  pieces(runHunt, { body }, signal) as AsyncGenerator<HuntPiece>;
