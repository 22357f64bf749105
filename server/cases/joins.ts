import { formatInstant, type Instant } from '../../core/base/instant.js';
import type { CaseSuggestion } from '../../core/wire/cases.js';
import { Failure, notFound } from '../failure.js';
import { type CaseDesk, tellCase } from './desk.js';
import {
  ADD_CASE,
  CLOSE_MERGED,
  COPY_SUBJECTS,
  LINK_CASES,
  LOCK_NUMBERS,
  MOVE_NOTES,
  MOVE_PARTS,
  MOVE_PINS,
  MOVE_FILES,
  NUMBER_OF_CASE,
  SUGGEST_ALERTS,
  SUGGEST_CASES,
  UNLINK_CASES,
  UNWATCH_CASE,
  WATCH_CASE,
} from './sql.js';

const MAX_SUGGESTED = 12;
/** Names that suggestions are looked for by. */
const MAX_NAMES = 60;

/** Cases that belong together, or were one, or become two; and who follows them. */
export class CaseJoins {
  constructor(private readonly desk: CaseDesk) {}

  /** Takes what another case holds into this one. @throws Failure 404; 409 for one that was merged already; 422 into itself */
  async merge(id: number, from: number, who: string): Promise<void> {
    if (id === from) throw new Failure('into-itself', 'A case cannot be merged into itself.');
    await this.desk.work(id, async (client) => {
      const { rows } = await client.query<{ number: string }>(CLOSE_MERGED, [id, from]);
      if (rows[0] === undefined) throw notFound(`case ${from} that is not merged yet`);
      for (const part of MOVE_PARTS) await client.query(part, [id, from]);
      await this.desk.line(client, id, who, `took in case ${rows[0].number}`);
      await this.desk.line(client, from, who, `merged into case ${id}`);
      await tellCase(client, from);
    });
  }

  /** Other alerts and cases that share a name with what this one speaks of, the rarest first. */
  async suggest(id: number, subjects: readonly { readonly name: string }[]): Promise<CaseSuggestion[]> {
    const names = subjects.slice(0, MAX_NAMES).map(({ name }) => name);
    const rows = await Promise.all(
      ([SUGGEST_ALERTS, SUGGEST_CASES] as const).map((sql, i) =>
        this.desk.pool
          .query<Omit<CaseSuggestion, 'kind' | 'at'> & { last_event: Instant }>(sql, [
            id,
            names,
            MAX_SUGGESTED,
          ])
          .then(({ rows: found }) =>
            found.map(({ last_event, ...one }) => ({
              ...one,
              kind: i === 0 ? ('alert' as const) : ('case' as const),
              at: formatInstant(last_event),
            })),
          ),
      ),
    );
    return rows.flat();
  }

  /**
   * Takes pinned things out of a case into a new one, with the notes on them; roles of subjects stand in both.
   * @returns the new case
   * @throws Failure 404 for pins that are not of this case; 422 where nothing would stay, or go
   */
  async split(id: number, title: string, pins: readonly number[], who: string): Promise<number> {
    return this.desk.work(id, async (client) => {
      await client.query(LOCK_NUMBERS);
      const { rows } = await client.query<{ id: number }>(ADD_CASE, [title, who]);
      const made = rows[0]?.id ?? 0;
      const { rowCount: moved } = await client.query(MOVE_PINS, [made, id, pins]);
      if (moved !== new Set(pins).size) throw notFound('one of these pins of this case');
      await client.query(MOVE_FILES, [made, id]);
      await client.query(MOVE_NOTES, [made, id, pins]);
      await client.query(COPY_SUBJECTS, [made, id]);
      const [one, other] = [Math.min(id, made), Math.max(id, made)];
      await client.query(LINK_CASES, [one, other, 'split off', who]);
      const { rows: numbers } = await client.query<{ id: number; number: string }>(NUMBER_OF_CASE, [
        [id, made],
      ]);
      const numberOf = (of: number): string => numbers.find((row) => row.id === of)?.number ?? String(of);
      await this.desk.line(
        client,
        id,
        who,
        `split off case ${numberOf(made)} “${title}” with ${moved} pinned things`,
      );
      await this.desk.line(client, made, who, `split off from case ${numberOf(id)}`);
      return made;
    });
  }

  /** Says that two cases belong together, and why; says it anew where that is said already. @throws Failure 404, 422 */
  async link(id: number, to: number, why: string, who: string): Promise<void> {
    if (id === to) throw new Failure('into-itself', 'A case cannot be linked with itself.');
    await this.desk.requireCase(to);
    await this.desk.work(id, async (client) => {
      await client.query(LINK_CASES, [Math.min(id, to), Math.max(id, to), why, who]);
      const { rows } = await client.query<{ id: number; number: string }>(NUMBER_OF_CASE, [[id, to]]);
      for (const [here, there] of [
        [id, to],
        [to, id],
      ] as const) {
        const number = rows.find((row) => row.id === there)?.number ?? '';
        await this.desk.line(client, here, who, `linked with case ${number}${why === '' ? '' : `: ${why}`}`);
      }
      await tellCase(client, to);
    });
  }

  /** @throws Failure 404 where they are not linked */
  async unlink(id: number, to: number, who: string): Promise<void> {
    await this.desk.work(id, async (client) => {
      const { rowCount } = await client.query(UNLINK_CASES, [Math.min(id, to), Math.max(id, to)]);
      if (rowCount === 0) throw notFound(`link with case ${to}`);
      await this.desk.line(client, id, who, `no longer linked with case ${to}`);
      await tellCase(client, to);
    });
  }

  /** Follows a case, or no more: what changes in it is news to whoever follows, until they look. @throws Failure 404 */
  async watch(id: number, watching: boolean, who: string): Promise<void> {
    await this.desk.requireCase(id);
    await this.desk.pool.query(watching ? WATCH_CASE : UNWATCH_CASE, [id, who]);
  }
}
