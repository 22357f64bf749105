import { hash, verify } from '@node-rs/argon2';
import type { Request } from 'express';
import 'express-session';
import { createHash, randomBytes } from 'node:crypto';
import type { Pool } from 'pg';
import type { Logger } from 'pino';
import { formatInstant, type Instant } from '../../core/base/instant.js';
import type { ListedPerson, NewPerson, Person, PersonChange, TokenList } from '../../core/wire/people.js';
import { transaction } from '../db/transaction.js';
import { Failure, notFound } from '../failure.js';
import { addChange } from '../trail/changes.js';
import {
  ADD_TOKEN,
  ADD_PERSON,
  PUT_PERSON,
  CHANGE_PASSWORD,
  CHANGE_PERSON,
  endAccess,
  otherAdmins,
  TOKENS_OF_USER,
  READ_PEOPLE,
  REVOKE_TOKEN,
  userById,
  userByName,
  userByToken,
  type UserRow,
} from './sql.js';

declare module 'express-session' {
  interface SessionData {
    userId: string;
    /** When it began, milliseconds. */
    began: number;
  }
}

/** A session ends after so long, used or not. */
const SESSION_MILLISECONDS = 24 * 3_600_000;
/** Tokens one person may have. */
const MAX_TOKENS = 50;

const toPerson = (row: UserRow): Person => ({
  name: row.name,
  displayName: row.display_name,
  role: row.role,
});
const hashToken = (token: string): Buffer => createHash('sha256').update(token).digest();

/** A hash to compare with when there is no such user, so that the answer takes as long. */
const decoy = hash('nobody has this password');

/** Who may use the workbench, and how they show who they are. */
export class People {
  constructor(
    private readonly pool: Pool,
    private readonly logger?: Logger,
    private readonly now: () => number = Date.now,
  ) {}

  /** Whoever sends a request: by session cookie, or by a personal token. */
  identify = async (request: Request): Promise<{ person: Person; bySession: boolean } | null> => {
    const header = request.get('authorization');
    if (header !== undefined) {
      const token = /^Bearer ([A-Za-z0-9_-]{20,200})$/.exec(header)?.[1];
      const row = token === undefined ? undefined : await userByToken(this.pool, hashToken(token));
      return row === undefined || row.disabled ? null : { person: toPerson(row), bySession: false };
    }
    const { userId, began = 0 } = request.session;
    if (userId === undefined || this.now() - began > SESSION_MILLISECONDS) return null;
    const row = await userById(this.pool, userId);
    if (row === undefined || row.disabled || began * 1000 < row.valid_since) return null;
    return { person: toPerson(row), bySession: true };
  };

  /** Checks a name and password. @throws Failure 401 without saying which of the two is wrong */
  async signIn(name: string, password: string, address: string): Promise<{ id: string; person: Person }> {
    const row = await userByName(this.pool, name.trim().toLowerCase());
    const right = await verify(row?.password_hash ?? (await decoy), password);
    if (row === undefined || !right || row.disabled) {
      const why = row === undefined ? 'no such name' : right ? 'disabled' : 'wrong password';
      this.logger?.warn({ name: name.slice(0, 100), address, why }, 'a sign-in failed');
      throw new Failure('wrong-sign-in', 'The name or the password is wrong.');
    }
    return { id: row.id, person: toPerson(row) };
  }

  /**
   * Changes the own password; all other sessions end, and all tokens.
   * @param session the one that goes on
   * @throws Failure 403 where the present one is wrong
   */
  async changePassword(person: Person, present: string, next: string, session: string): Promise<void> {
    const row = await this.require(person.name);
    if (!(await verify(row.password_hash, present)))
      throw new Failure('wrong-password', 'The present password is wrong.');
    const nextHash = await hash(next);
    await transaction(this.pool, async (client) => {
      await client.query(CHANGE_PASSWORD, [row.id, nextHash]);
      await endAccess(client, row.id, session);
      await addChange(client, 'person', row.name, 'changed the own password', row.name);
    });
  }

  private async require(name: string): Promise<UserRow> {
    const row = await userByName(this.pool, name);
    if (row === undefined) throw notFound(`person "${name}"`);
    return row;
  }

  /**
   * Makes a personal token for use with curl and the like.
   * @returns the token, which is not kept
   * @throws Failure 409 where the person has too many
   */
  async makeToken(person: Person, label: string, days: number): Promise<{ token: string; expires: string }> {
    const token = randomBytes(24).toString('base64url');
    const { rows } = await this.pool.query<{ expires: Instant }>(ADD_TOKEN, [
      person.name,
      label,
      hashToken(token),
      days,
      MAX_TOKENS,
    ]);
    const made = rows[0];
    if (made === undefined)
      throw new Failure('tokens-full', `You have ${MAX_TOKENS} tokens already: revoke some first.`);
    return { token, expires: formatInstant(made.expires) };
  }

  /** The own tokens that still hold, newest first. */
  async tokens(person: Person): Promise<TokenList> {
    const { rows } = await this.pool.query<{
      id: string;
      label: string;
      created: Instant;
      expires: Instant;
      last_used: Instant | null;
    }>(TOKENS_OF_USER, [person.name]);
    return {
      tokens: rows.map(({ id, label, created, expires, last_used }) => ({
        id,
        label,
        created: formatInstant(created),
        expires: formatInstant(expires),
        lastUsed: last_used === null ? null : formatInstant(last_used),
      })),
    };
  }

  /** @throws Failure 404 */
  async revokeToken(person: Person, id: string): Promise<void> {
    const { rowCount } = await this.pool.query(REVOKE_TOKEN, [id, person.name]);
    if (rowCount === 0) throw notFound('token of yours with this id');
  }

  /** Everybody, by name. */
  async all(): Promise<ListedPerson[]> {
    const { rows } = await this.pool.query<UserRow & { created: Instant; tokens: number }>(READ_PEOPLE);
    return rows.map((row) => ({
      ...toPerson(row),
      disabled: row.disabled,
      created: formatInstant(row.created),
      tokens: Number(row.tokens),
    }));
  }

  /** @throws Failure 409 where the name is taken */
  async add(person: NewPerson): Promise<void> {
    const passwordHash = await hash(person.password);
    await transaction(this.pool, async (client) => {
      const { rowCount } = await client.query(ADD_PERSON, [
        person.name,
        person.displayName,
        person.role,
        passwordHash,
      ]);
      if (rowCount === 0)
        throw new Failure('name-taken', `There is a person "${person.name}" already. Choose another name.`);
      await addChange(client, 'person', person.name, `added with the role ${person.role}`);
    });
  }

  /**
   * Changes what is given. Who is disabled, or given another role or password, is signed out everywhere at once.
   * @throws Failure 404; 409 where nobody would be left who can administer
   */
  async change(name: string, change: PersonChange): Promise<void> {
    const passwordHash = change.password === undefined ? null : await hash(change.password);
    await transaction(this.pool, async (client) => {
      const row = await userByName(client, name);
      if (row === undefined) throw notFound(`person "${name}"`);
      const role = change.role ?? row.role;
      const disabled = change.disabled ?? row.disabled;
      const losesAdmin = row.role === 'admin' && !row.disabled && (role !== 'admin' || disabled);
      if (losesAdmin && (await otherAdmins(client, name)) === 0)
        throw new Failure(
          'last-admin',
          `${name} is the only administrator who can sign in. Make somebody else one first.`,
        );
      await client.query(CHANGE_PERSON, [
        row.id,
        change.displayName ?? row.display_name,
        role,
        disabled,
        passwordHash,
      ]);
      const said = [
        ...(change.displayName !== undefined && change.displayName !== row.display_name
          ? [`now called ${change.displayName}`]
          : []),
        ...(role === row.role ? [] : [`role ${row.role} → ${role}`]),
        ...(disabled === row.disabled ? [] : [disabled ? 'disabled' : 'enabled again']),
        ...(passwordHash === null ? [] : ['password set anew']),
      ];
      if (role !== row.role || (disabled && !row.disabled) || passwordHash !== null)
        await endAccess(client, row.id);
      if (said.length > 0) await addChange(client, 'person', name, said.join(', '));
    });
  }
}

/** Adds a user, or sets the password and role of one that is there. */
export async function putUser(pool: Pool, user: Person & { readonly password: string }): Promise<void> {
  await pool.query(PUT_PERSON, [user.name, user.displayName, user.role, await hash(user.password)]);
}
