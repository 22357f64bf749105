import type { Pool, PoolClient } from 'pg';
import { formatInstant, type Instant } from '../../core/base/instant.js';
import type { CaseDetail, CaseList, CaseSummary, NewPin } from '../../core/wire/cases.js';
import type { PageAsk } from '../../core/wire/paging.js';
import { addChange, requirePerson } from '../alerts/service.js';
import { readPage, toPage } from '../db/pages.js';
import { transaction } from '../db/transaction.js';
import { notFound } from '../failure.js';
import {
  ADD_NOTE,
  ADD_PIN,
  ADD_CASE,
  CASE_SUMMARIES,
  CHANGE_CASE,
  TOUCH_CASE,
  FIND_ALERT,
  NOTES_OF_CASE,
  PINS_OF_CASE,
  READ_CASES,
  REMOVE_PIN,
} from './sql.js';

interface CaseRow {
  readonly id: number;
  readonly title: string;
  readonly owner: string;
  readonly state: CaseSummary['state'];
  readonly created: Instant;
  readonly updated: Instant;
  readonly pins: number;
}
const MAX_PARTS = 1000;

const toSummary = ({ id, title, owner, state, pins, created, updated }: CaseRow): CaseSummary => ({
  id,
  title,
  owner,
  state,
  pins,
  created: formatInstant(created),
  updated: formatInstant(updated),
});

/** Cases: what belongs together, who works on it, and what was made of it. */
export class Cases {
  constructor(private readonly pool: Pool) {}

  /** Open ones first, then the newest. */
  async all(asked: PageAsk = {}): Promise<CaseList> {
    const page = readPage(asked, 3);
    const { rows } = await this.pool.query<CaseRow & { place: [string, string, string] }>(READ_CASES, [
      ...page.after,
      page.rows,
    ]);
    const { shown, next } = toPage(rows, asked);
    return { cases: shown.map(toSummary), next };
  }

  /** @throws Failure 404 */
  async one(id: number): Promise<CaseDetail> {
    const [found, pins, notes] = await Promise.all([
      this.pool.query<CaseRow>(`${CASE_SUMMARIES} WHERE c.id = $1`, [id]),
      this.pool.query<
        Omit<CaseDetail['pinned'][number], 'time' | 'at'> & { time: Instant | null; at: Instant }
      >(PINS_OF_CASE, [id, MAX_PARTS]),
      this.pool.query<{ id: number; who: string; at: Instant; text: string }>(NOTES_OF_CASE, [id, MAX_PARTS]),
    ]);
    const row = found.rows[0];
    if (row === undefined) throw notFound(`case ${id}`);
    return {
      ...toSummary(row),
      pinned: pins.rows.map((pin) => ({
        ...pin,
        time: pin.time === null ? null : formatInstant(pin.time),
        at: formatInstant(pin.at),
      })),
      notes: notes.rows.map((note) => ({ ...note, at: formatInstant(note.at) })),
    };
  }

  /** Opens a case with what is pinned to it. */
  async add(title: string, pins: readonly NewPin[], who: string): Promise<CaseDetail> {
    const id = await transaction(this.pool, async (client) => {
      const { rows } = await client.query<{ id: number }>(ADD_CASE, [title, who]);
      const made = rows[0]?.id ?? 0;
      for (const pin of pins) await this.pinIn(client, made, pin, who);
      return made;
    });
    return this.one(id);
  }

  /** @throws Failure 404; 422 where nobody of that name works here */
  async change(
    id: number,
    { title, owner, state }: { title?: string; owner?: string; state?: 'open' | 'closed' },
    who: string,
  ): Promise<CaseDetail> {
    await transaction(this.pool, async (client) => {
      if (owner !== undefined) await requirePerson(client, owner);
      const { rowCount } = await client.query(CHANGE_CASE, [id, title ?? null, owner ?? null, state ?? null]);
      if (rowCount === 0) throw notFound(`case ${id}`);
      const said = [
        ...(title === undefined ? [] : [`renamed to “${title}”`]),
        ...(owner === undefined ? [] : [`handed to ${owner}`]),
        ...(state === undefined ? [] : [state === 'closed' ? 'closed' : 'opened again']),
      ];
      await client.query(ADD_NOTE, [id, who, said.join(', ')]);
    });
    return this.one(id);
  }

  /** @throws Failure 404 */
  async note(id: number, text: string, who: string): Promise<CaseDetail> {
    await transaction(this.pool, async (client) => {
      await touch(client, id);
      await client.query(ADD_NOTE, [id, who, text]);
    });
    return this.one(id);
  }

  /** Pins something; what is pinned already stays so. @throws Failure 404 */
  async pin(id: number, pin: NewPin, who: string): Promise<CaseDetail> {
    await transaction(this.pool, async (client) => {
      await touch(client, id);
      await this.pinIn(client, id, pin, who);
    });
    return this.one(id);
  }

  private async pinIn(client: PoolClient, id: number, pin: NewPin, who: string): Promise<void> {
    const { rowCount } = await client.query(ADD_PIN, [
      id,
      pin.kind,
      pin.ref,
      pin.title,
      pin.time ?? null,
      who,
    ]);
    if (pin.kind !== 'alert' || rowCount === 0) return;
    const { rowCount: known } = await client.query(FIND_ALERT, [pin.ref]);
    if (known === 0) throw notFound(`alert ${pin.ref}`);
    await addChange(client, Number(pin.ref), who, `pinned to case ${id}`);
  }

  /** @throws Failure 404 */
  async unpin(id: number, pin: number): Promise<CaseDetail> {
    const { rowCount } = await this.pool.query(REMOVE_PIN, [pin, id]);
    if (rowCount === 0) throw notFound(`pin ${pin} of this case`);
    return this.one(id);
  }
}

async function touch(client: PoolClient, id: number): Promise<void> {
  const { rowCount } = await client.query(TOUCH_CASE, [id]);
  if (rowCount === 0) throw notFound(`case ${id}`);
}
