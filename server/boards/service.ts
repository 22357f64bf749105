import type { Pool, PoolClient } from 'pg';
import { formatInstant, type Instant } from '../../core/base/instant.js';
import { bare, type Board } from '../../core/boards/board.js';
import { laidOut, mistakesOf } from '../../core/boards/read-board.js';
import { nextSheet } from '../../core/boards/schedule.js';
import { readyMade } from '../../core/boards/ready-made/index.js';
import { dossierBoards } from '../../core/boards/subjects/index.js';
import type {
  BoardSummary,
  BoardVersions,
  NewBoard,
  BoardChange,
  Shared,
  StoredBoard,
} from '../../core/wire/boards.js';
import { reaches, type Role } from '../../core/wire/people.js';
import { transaction } from '../db/transaction.js';
import { Failure, invalid, notFound } from '../failure.js';
import {
  ADD_BOARD,
  ADD_BOARD_VERSION,
  BOARDS_SEEN_BY,
  CHANGE_BOARD,
  COUNT_BOARDS_OF,
  COUNT_SCHEDULED_OF,
  HOLD_BOARD,
  MAILBOXES_AMONG,
  PUT_DUE,
  READ_BOARD,
  READ_PLACED,
  REMOVE_BOARD,
  REMOVE_PLACED,
  RESTORE_BOARD,
  ROLE_OF_PERSON,
  VERSIONS_OF_BOARD,
  WHO_IS_THERE,
} from './sql.js';

interface Row {
  readonly id: string;
  readonly owner: string;
  /** The Desk, or the dossier of a kind; null for one that only stands by itself. */
  readonly place: string | null;
  readonly shared: 'me' | 'everyone' | 'named';
  readonly named: string[];
  readonly document: Board;
  readonly version: number;
  readonly changed: Instant;
}

/** Boards that stand at a place of the product: everyone may have one of their own there. */
const placed: Readonly<Record<string, Board>> = {
  ...(readyMade['desk'] !== undefined && { desk: readyMade['desk'] }),
  ...dossierBoards,
};
const isPlace = (id: string): boolean => Object.hasOwn(placed, id);
/** Boards of one person. */
const MAX_BOARDS = 500;
/** Boards of one person that are answered by the clock. */
export const MAX_SCHEDULED = 20;

const sharedOf = ({ shared, named }: Row): Shared => (shared === 'named' ? named : shared);

const toWire = (row: Row): StoredBoard => ({
  id: row.place ?? row.id,
  owner: row.owner,
  shared: sharedOf(row),
  version: row.version,
  changed: formatInstant(row.changed),
  board: row.document,
});

const shipped = (id: string): StoredBoard | null => {
  const board = placed[id] ?? readyMade[id];
  return board === undefined
    ? null
    : { id, owner: null, shared: 'everyone', version: 0, changed: null, board };
};

/** Boards that people keep, and those that ship. Everyone sees the own and the shared ones, and changes only the own. */
export class Boards {
  constructor(
    private readonly pool: Pool,
    /** When a card of a board was last counted. */
    private readonly answered: (id: string) => Instant | null = () => null,
    private readonly now: () => Instant = () => Date.now() * 1000,
  ) {}

  /** Those that a person sees: the own, the shared, and those that ship. */
  async seenBy(person: string): Promise<BoardSummary[]> {
    const { rows } = await this.pool.query<Row>(BOARDS_SEEN_BY, [person]);
    const ships = Object.keys(readyMade)
      .filter((id) => !isPlace(id))
      .flatMap((id) => shipped(id) ?? []);
    return [...rows.map(toWire), ...ships].map(({ board, ...facts }) => {
      const at = this.answered(facts.id);
      return {
        ...facts,
        title: board.title,
        about: board.about ?? '',
        cards: board.cards.length,
        answered: at === null ? null : formatInstant(at),
      };
    });
  }

  /** @throws Failure 404 for one that the person does not see */
  async read(id: string, person: string): Promise<StoredBoard> {
    const found = await this.find(id, person);
    if (found === null) throw notFound(`board "${id}"`);
    return found;
  }

  private async find(id: string, person: string): Promise<StoredBoard | null> {
    if (isPlace(id)) {
      const { rows } = await this.pool.query<Row>(READ_PLACED, [person, id]);
      return rows[0] === undefined ? shipped(id) : toWire(rows[0]);
    }
    if (!/^\d+$/.test(id)) return shipped(id);
    const { rows } = await this.pool.query<Row>(READ_BOARD, [person, id]);
    return rows[0] === undefined ? null : toWire(rows[0]);
  }

  /** @throws Failure 422 for a board that cannot be shown */
  async add(
    { board, shared = 'me' }: NewBoard,
    person: string,
    place: string | null = null,
  ): Promise<StoredBoard> {
    const checked = checkedBoard(board);
    const [kind, names] = await this.sharing(shared);
    return transaction(this.pool, async (client) => {
      const { rows: counted } = await client.query<{ boards: number }>(COUNT_BOARDS_OF, [person]);
      if ((counted[0]?.boards ?? 0) >= MAX_BOARDS)
        throw new Failure('too-many', `You keep ${MAX_BOARDS} boards already: remove one first.`);
      const { rows } = await client.query<Row>(ADD_BOARD, [
        person,
        place,
        kind,
        names,
        JSON.stringify(checked),
      ]);
      const [made] = rows;
      if (made === undefined) throw new Error('The board was not kept.');
      await client.query(ADD_BOARD_VERSION, [made.id, 1, JSON.stringify(checked), person]);
      await this.schedule(client, made.id, checked, undefined, person);
      return toWire(made);
    });
  }

  /**
   * Changes a board of a person's own; a Desk or dossier that ships becomes the person's own by it.
   * @throws Failure 404, 409 where somebody changed it meanwhile, 422 for a board that cannot be shown
   */
  async change(id: string, change: BoardChange, person: string): Promise<StoredBoard> {
    const own = isPlace(id) ? await this.ownAt(id, person) : id;
    if (own === null) return this.add({ board: change.board, shared: 'me' }, person, id);
    if (!/^\d+$/.test(own))
      throw new Failure('not-yours', 'This board ships with the product: make one of your own from it.');
    const checked = checkedBoard(change.board);
    const sharing = change.shared === undefined ? null : await this.sharing(change.shared);
    return transaction(this.pool, async (client) => {
      const { rows } = await client.query<Row>(HOLD_BOARD, [own, person]);
      const [before] = rows;
      if (before === undefined) throw notFound('board of yours');
      if (change.basedOn !== undefined && change.basedOn !== before.version)
        throw new Failure(
          'changed-meanwhile',
          `This board is at version ${before.version} by now: open it again before you change it.`,
        );
      const [kind, names] = sharing ?? [before.shared, before.named];
      const version = before.version + 1;
      const changed = await client.query<Row>(CHANGE_BOARD, [
        own,
        kind,
        names,
        JSON.stringify(checked),
        version,
      ]);
      await client.query(ADD_BOARD_VERSION, [own, version, JSON.stringify(checked), person]);
      await this.schedule(client, own, checked, before.document, person);
      const [row] = changed.rows;
      if (row === undefined) throw notFound('board of yours');
      return toWire(row);
    });
  }

  /**
   * Writes down when a board is answered next.
   * @throws Failure 400 where a sheet cannot go where it is to, 403 where the person may send nothing, 409 for too many
   */
  private async schedule(
    client: PoolClient,
    id: string,
    { schedule }: Board,
    before: Board | undefined,
    person: string,
  ): Promise<void> {
    if (schedule !== undefined) {
      const known = new Set(before?.schedule?.mail);
      await mailable(client, schedule.mail?.filter((name) => !known.has(name)) ?? [], person);
    }
    const due = schedule === undefined ? null : formatInstant(nextSheet(schedule, this.now()));
    await client.query(PUT_DUE, [id, due]);
    const { rows } = await client.query<{ boards: number }>(COUNT_SCHEDULED_OF, [person]);
    if (due !== null && (rows[0]?.boards ?? 0) > MAX_SCHEDULED)
      throw new Failure(
        'too-many',
        `You have ${MAX_SCHEDULED} boards on a schedule already: take one off its schedule first.`,
      );
  }

  /** @throws Failure 404 for one that is not the person's own */
  async remove(id: string, person: string): Promise<void> {
    const { rowCount } = isPlace(id)
      ? await this.pool.query(REMOVE_PLACED, [person, id])
      : /^\d+$/.test(id)
        ? await this.pool.query(REMOVE_BOARD, [id, person])
        : { rowCount: 0 };
    if (rowCount === 0) throw notFound('board of yours');
  }

  /** Takes back a board that was removed. @throws Failure 404 */
  async restore(id: string, person: string): Promise<StoredBoard> {
    const { rows } = /^\d+$/.test(id)
      ? await this.pool.query<Row>(RESTORE_BOARD, [id, person])
      : { rows: [] };
    const [row] = rows;
    if (row === undefined) throw notFound('removed board of yours');
    return toWire(row);
  }

  /** Every form that a board has had, the newest first; none of one that ships. @throws Failure 404 */
  async versions(id: string, person: string): Promise<BoardVersions['versions']> {
    const found = await this.read(id, person);
    if (found.owner === null) return [];
    const own = isPlace(id) ? await this.ownAt(id, person) : id;
    const { rows } = await this.pool.query<{ version: number; by: string; at: Instant; document: Board }>(
      VERSIONS_OF_BOARD,
      [own],
    );
    return rows.map(({ document, at, ...row }) => ({ ...row, at: formatInstant(at), board: document }));
  }

  /** The id of a person's own board at a place; null where it is the one that ships. */
  private async ownAt(place: string, person: string): Promise<string | null> {
    return (await this.pool.query<Row>(READ_PLACED, [person, place])).rows[0]?.id ?? null;
  }

  private async sharing(shared: Shared): Promise<[Row['shared'], string[]]> {
    if (!Array.isArray(shared)) return [shared, []];
    const names = [...new Set(shared)];
    const { rows } = await this.pool.query<{ name: string }>(WHO_IS_THERE, [names]);
    const known = new Set(rows.map(({ name }) => name));
    const missing = names.find((name) => !known.has(name));
    if (missing !== undefined)
      throw new Failure(
        'unknown-person',
        `Nobody here is called "${missing}": share with people who may sign in.`,
      );
    return names.length === 0 ? ['me', []] : ['named', names];
  }
}

/** Refuses mailboxes that are not there, and people who may send nothing. @throws Failure 400, 403 */
async function mailable(client: PoolClient, names: readonly string[], person: string): Promise<void> {
  if (names.length === 0) return;
  const { rows: found } = await client.query<{ role: Role }>(ROLE_OF_PERSON, [person]);
  if (found[0] === undefined || !reaches(found[0].role, 'analyst'))
    throw new Failure(
      'role',
      'Readers send nothing out of the workbench: leave "mail" out, or ask an analyst.',
    );
  const { rows } = await client.query<{ name: string }>(MAILBOXES_AMONG, [names]);
  const known = new Set(rows.map(({ name }) => name));
  const missing = names.find((name) => !known.has(name));
  if (missing !== undefined)
    throw invalid(
      `There is no destination "${missing}" for mail. Those that there are stand under Rules, Destinations.`,
    );
}

/** A board that can be shown. @throws Failure 400 with the first mistake */
export function checkedBoard(board: Board): Board {
  const whole = laidOut(bare(board));
  const [mistake] = mistakesOf(whole);
  if (mistake !== undefined) throw invalid(mistake.message);
  return whole;
}

/** A board as somebody sends it to be answered; one without places is laid out. @throws Failure 400 with the first mistake */
export function givenBoard(value: object): Board {
  const whole = { layout: [], ...value };
  const [mistake] = mistakesOf(whole);
  if (mistake !== undefined) throw invalid(mistake.message);
  return laidOut(bare(whole as unknown as Board));
}
