import type { Pool } from 'pg';
import { formatInstant, type Instant } from '../../core/base/instant.js';
import type { BoardSheets as Sheets } from '../../core/wire/boards.js';
import { notFound } from '../failure.js';
import { unpackPage } from './packed-page.js';
import type { Boards } from './service.js';
import { DUE_OF_BOARD, PAGE_OF_SHEET, SHEETS_OF_BOARD } from './sql.js';

const isNumber = (id: string): boolean => /^\d+$/.test(id);

/** What boards showed at the times of their schedules; whoever sees a board sees its sheets. */
export class BoardSheets {
  constructor(
    private readonly pool: Pool,
    private readonly boards: Boards,
  ) {}

  /** The sheets of a board, the newest first, and when the next is due. @throws Failure 404 */
  async of(board: string, person: string): Promise<Sheets> {
    await this.boards.read(board, person);
    if (!isNumber(board)) return { next: null, sheets: [] };
    const { rows } = await this.pool.query<
      Omit<Sheets['sheets'][number], 'due' | 'made'> & {
        readonly due: Instant;
        readonly made: Instant | null;
      }
    >(SHEETS_OF_BOARD, [board]);
    const next = (await this.pool.query<{ due: Instant | null }>(DUE_OF_BOARD, [board])).rows[0]?.due ?? null;
    return {
      next: next === null ? null : formatInstant(next),
      sheets: rows.map(({ due, made, ...row }) => ({
        ...row,
        due: formatInstant(due),
        made: made === null ? null : formatInstant(made),
      })),
    };
  }

  /** The page of a sheet. @throws Failure 404 */
  async page(
    board: string,
    sheet: string,
    person: string,
  ): Promise<{ readonly html: Buffer; readonly due: Instant }> {
    await this.boards.read(board, person);
    const { rows } = isNumber(board)
      ? await this.pool.query<{ due: Instant; page: Buffer }>(PAGE_OF_SHEET, [board, sheet])
      : { rows: [] };
    const [found] = rows;
    if (found === undefined) throw notFound(`sheet ${sheet} of this board`);
    return { html: await unpackPage(found.page), due: found.due };
  }
}
