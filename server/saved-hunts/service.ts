import type { Pool } from 'pg';
import { formatInstant, type Instant } from '../../core/base/instant.js';
import type {
  NewSavedHunt,
  SavedHunt,
  SavedHuntChange,
  SavedHuntVersions,
} from '../../core/wire/saved-hunts.js';
import { transaction } from '../db/transaction.js';
import { Failure, notFound } from '../failure.js';
import {
  ADD_FIRST_VERSION,
  ADD_VERSION,
  ADD_HUNT,
  CHANGE_HUNT,
  HOLD_HUNT,
  VERSIONS_OF_HUNT,
  HUNTS_SEEN_BY,
  REMOVE_HUNT,
} from './sql.js';

type Row = Omit<SavedHunt, 'changed'> & { readonly changed: Instant };

/** PostgreSQL's code for a second row of one key. */
const DOUBLE = '23505';

const toWire = (row: Row): SavedHunt => ({ ...row, changed: formatInstant(row.changed) });

/** One name for one hunt, told in plain words. */
function sameName(error: unknown, name: string): unknown {
  return (error as { code?: string }).code === DOUBLE
    ? new Failure(
        'same-name',
        `You keep a hunt called "${name}" already: choose another name, or change that one.`,
      )
    : error;
}

/** Hunts that people keep: everyone sees the own and the shared ones, and changes only the own. */
export class SavedHunts {
  constructor(private readonly pool: Pool) {}

  /** Those that a person sees, by folder and name. */
  async seenBy(person: string): Promise<SavedHunt[]> {
    const { rows } = await this.pool.query<Row>(HUNTS_SEEN_BY, [person]);
    return rows.map(toWire);
  }

  /** @throws Failure 409 for a name that the person uses already */
  async add(hunt: NewSavedHunt, person: string): Promise<SavedHunt> {
    try {
      return await transaction(this.pool, async (client) => {
        const { rows } = await client.query<Row>(ADD_HUNT, [
          hunt.name,
          hunt.folder ?? '',
          hunt.description ?? '',
          hunt.tags ?? [],
          hunt.text,
          person,
          hunt.shared ?? false,
        ]);
        const [made] = rows;
        if (made === undefined) throw new Error('The hunt was not kept.');
        await client.query(ADD_FIRST_VERSION, [made.id, hunt.text, person]);
        return toWire(made);
      });
    } catch (error) {
      throw sameName(error, hunt.name);
    }
  }

  /** @throws Failure 404 for one that is not the person's own; 409 where somebody changed it meanwhile */
  async change(id: number, change: SavedHuntChange, person: string): Promise<SavedHunt> {
    try {
      return await transaction(this.pool, async (client) => {
        const { rows } = await client.query<Row>(HOLD_HUNT, [id, person]);
        const [before] = rows;
        if (before === undefined) throw notFound('hunt of yours');
        if (change.basedOn !== undefined && change.basedOn !== before.version)
          throw new Failure(
            'changed-meanwhile',
            `This hunt is at version ${before.version} by now: open it again before you change it.`,
          );
        const { basedOn: _, ...changes } = change;
        const after = { ...before, ...changes };
        const version = after.text === before.text ? before.version : before.version + 1;
        const changed = await client.query<Row>(CHANGE_HUNT, [
          id,
          after.name,
          after.folder,
          after.description,
          after.tags,
          after.text,
          after.shared,
          version,
        ]);
        if (version !== before.version) await client.query(ADD_VERSION, [id, version, after.text, person]);
        const [row] = changed.rows;
        if (row === undefined) throw notFound('hunt of yours');
        return toWire(row);
      });
    } catch (error) {
      throw sameName(error, change.name ?? '');
    }
  }

  /** @throws Failure 404 for one that is not the person's own */
  async remove(id: number, person: string): Promise<void> {
    const { rowCount } = await this.pool.query(REMOVE_HUNT, [id, person]);
    if (rowCount === 0) throw notFound('hunt of yours');
  }

  /** The versions of a hunt that a person sees, the newest first. @throws Failure 404 */
  async versions(id: number, person: string): Promise<SavedHuntVersions['versions']> {
    const { rows } = await this.pool.query<{ version: number; text: string; by: string; at: Instant }>(
      VERSIONS_OF_HUNT,
      [id, person],
    );
    if (rows.length === 0) throw notFound(`hunt ${id}`);
    return rows.map((row) => ({ ...row, at: formatInstant(row.at) }));
  }
}
