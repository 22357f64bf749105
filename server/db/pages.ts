import type { PageAsk } from '../../core/wire/paging.js';
import { invalid } from '../failure.js';

/** Where a page goes on: the figures that its list is ordered by, at the last row before. */
type Place = readonly (string | null)[];

const MAX_ROWS = 500;
/** Figures as the database writes them. */
const FIGURE = /^-?[0-9]{1,20}(\.[0-9]{1,9})?$/;

/**
 * What a statement that reads a page of a list is given. Lists are ordered by figures, such as the time of a change and
 * the number of a row, so that a page is what lies after a place in that order; rows that come meanwhile neither repeat nor hide
 * others.
 * @param figures by how many figures the list is ordered
 * @returns one row more than is shown, so that it is known whether others follow; nulls for the first page
 * @throws Failure 400 for a cursor that was not given out for such a list
 */
export function readPage(
  { cursor, limit = MAX_ROWS }: PageAsk,
  figures: number,
): { readonly after: Place; readonly rows: number } {
  const after =
    cursor === undefined
      ? Array.from({ length: figures }, () => null)
      : Buffer.from(cursor, 'base64url').toString('utf8').split(' ');
  if (after.length !== figures || after.some((figure) => figure !== null && !FIGURE.test(figure)))
    throw invalid('The cursor is none of this list. Give "next" of the page before as it came.');
  return { after, rows: limit + 1 };
}

/**
 * The rows of a page, and where the next one begins.
 * @param rows as {@link readPage} had them read, each with the figures of its `place`
 */
export function toPage<Row extends { readonly place: readonly (string | number)[] }>(
  rows: readonly Row[],
  { limit = MAX_ROWS }: PageAsk,
): { readonly shown: readonly Omit<Row, 'place'>[]; readonly next: string | null } {
  const shown = rows.slice(0, limit).map(({ place: _, ...row }) => row);
  const last = rows.length > limit ? rows[limit - 1] : undefined;
  return {
    shown,
    next: last === undefined ? null : Buffer.from(last.place.join(' '), 'utf8').toString('base64url'),
  };
}
