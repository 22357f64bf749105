import type { Pool } from 'pg';
import type { ResponseDocument } from '../../core/responses/document.js';
import { listOf } from '../../core/responses/read-response.js';
import { Lists } from '../lists/service.js';
import { DeliveryFailure } from './delivery-failure.js';
import { FIND_LIST_VALUE, OWN_ROWS_OF_LIST } from './sql.js';

/**
 * Puts the row of a response on its list, or takes off what that response put there. Asked twice it is done once: the row
 * says which response it is of. A list that is not there yet is made.
 * @param row the row, its key first
 * @param own the name of the response, as its row bears it
 * @returns what to write down
 * @throws DeliveryFailure
 */
export async function respondOnList(
  pool: Pool,
  { path, on }: ResponseDocument,
  row: Readonly<Record<string, string>>,
  own: string,
  undo: boolean,
): Promise<string> {
  const list = listOf(path);
  const [[column, value] = ['', '']] = Object.entries(row);
  if (list === null || value === '') throw new DeliveryFailure(`"${path}" is the path of no list.`, true);
  const lists = new Lists(pool);
  if (undo) {
    const { rows: put } = await pool.query<{ position: number }>(OWN_ROWS_OF_LIST, [list, own]);
    if (put.length === 0) return `${value} was not on ${list} by this response: the list stays as it is`;
    await lists.changeRows(list, { remove: put.map(({ position }) => position) });
    return `${value} taken off ${list}`;
  }
  const key = await lists.ensure(list, { match: on === 'address' ? 'network' : 'exact', key: column });
  const { rows } = await pool.query<{ there: boolean }>(FIND_LIST_VALUE, [list, value]);
  if (rows[0]?.there === true) return `${value} is on ${list}`;
  await lists.changeRows(list, { add: [{ ...row, [key]: value, response: own }] });
  return `${value} put on ${list}`;
}
