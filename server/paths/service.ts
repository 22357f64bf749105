import type { Pool } from 'pg';
import { formatInstant, type Instant } from '../../core/base/instant.js';
import type { HuntPoint, NewHuntPoint, Question } from '../../core/wire/paths.js';
import { transaction } from '../db/transaction.js';
import { Failure, notFound } from '../failure.js';
import {
  ADD_POINT,
  ASK_POINT_AGAIN,
  NAME_POINT,
  HOLD_POINT,
  POINTS_OF_PATH,
  BEGINNINGS,
  REMOVE_OLD_PATHS,
} from './sql.js';

type Row = Omit<HuntPoint, 'made'> & { readonly made: Instant };
const toWire = (row: Row): HuntPoint => ({ ...row, made: formatInstant(row.made) });

/** A path with more turns is no longer a path; the next run begins another. */
const MAX_POINTS = 500;
/** Paths of a person that are kept, the newest; those with a named point stay besides. */
const MAX_PATHS = 50;

/** What was asked, in a form in which the same is equal: a window that follows the clock is the same later on. */
const sameAs = ({ text, window, parameters = {}, carried = [], last }: Question): string =>
  JSON.stringify([text, last ?? [window.from, window.to], Object.entries(parameters).sort(), carried]);

/** The branching history of a person's hunts. Everyone sees the own only. */
export class HuntPaths {
  constructor(private readonly pool: Pool) {}

  /**
   * Notes a run. Asking the same again, at its point or right after the same one, changes that point and makes none.
   * @throws Failure 404 for a parent that is not the person's own
   */
  async add(point: NewHuntPoint, person: string): Promise<HuntPoint> {
    return transaction(this.pool, async (client) => {
      const same = sameAs(point.question);
      const question = JSON.stringify(point.question);
      const figures = [point.rows, point.complete, point.bars] as const;
      const parent = point.parent ?? null;
      let path: number | null = null;
      if (parent !== null) {
        const { rows } = await client.query<{ path: number; points: number }>(HOLD_POINT, [parent, person]);
        const [found] = rows;
        if (found === undefined) throw notFound(`point "${parent}"`);
        const { rows: known } = await client.query<Row>(ASK_POINT_AGAIN, [
          parent,
          same,
          question,
          ...figures,
        ]);
        if (known[0] !== undefined) return toWire(known[0]);
        if (found.points >= MAX_POINTS)
          throw new Failure(
            'path-full',
            `This path has ${MAX_POINTS} points. Open the hunt anew to begin another.`,
          );
        path = found.path;
      }
      // $1 path, or null for one of its own
      const { rows } = await client.query<Row>(ADD_POINT, [path, parent, person, same, question, ...figures]);
      if (path === null) await client.query(REMOVE_OLD_PATHS, [person, MAX_PATHS]);
      const [made] = rows;
      if (made === undefined) throw new Error('The point was not kept.');
      return toWire(made);
    });
  }

  /** All points of the path a point is of, the oldest first. @throws Failure 404 */
  async path(point: number, person: string): Promise<HuntPoint[]> {
    const { rows } = await this.pool.query<Row>(POINTS_OF_PATH, [point, person]);
    if (rows.length === 0) throw notFound(`point "${point}"`);
    return rows.map(toWire);
  }

  /** Where each of the person's paths began, the last walked first. */
  async beginnings(person: string): Promise<HuntPoint[]> {
    const { rows } = await this.pool.query<Row>(BEGINNINGS, [person, MAX_PATHS]);
    return rows.map(toWire);
  }

  /** @throws Failure 404 */
  async rename(point: number, name: string, person: string): Promise<HuntPoint> {
    const { rows } = await this.pool.query<Row>(NAME_POINT, [point, person, name]);
    if (rows[0] === undefined) throw notFound(`point "${point}"`);
    return toWire(rows[0]);
  }
}
