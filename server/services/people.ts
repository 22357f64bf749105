import { hash, verify } from '@node-rs/argon2';
import { createHash, randomBytes } from 'node:crypto';
import type { Request } from 'express';
import 'express-session';
import type { Pool } from 'pg';
import type { Person } from '../../core/wire/people.js';
import { Failure } from '../http/failure.js';

declare module 'express-session' {
  interface SessionData {
    userId: string;
  }
}

interface PersonRow {
  readonly id: string;
  readonly name: string;
  readonly display_name: string;
  readonly role: Person['role'];
  readonly password_hash: string;
}

const toPerson = (row: PersonRow): Person => ({
  name: row.name,
  displayName: row.display_name,
  role: row.role,
});
const hashToken = (token: string): Buffer => createHash('sha256').update(token).digest();

/** A hash to compare with when there is no such user, so that the answer takes as long. */
const decoy = hash('nobody has this password');

/** Who may use the workbench, and how they show who they are. */
export class People {
  constructor(private readonly pool: Pool) {}

  /** Whoever sends a request: by session cookie, or by a personal token. */
  identify = async (request: Request): Promise<{ person: Person; bySession: boolean } | null> => {
    const header = request.get('authorization');
    if (header !== undefined) {
      const token = /^Bearer ([A-Za-z0-9_-]{20,200})$/.exec(header)?.[1];
      const person = token === undefined ? null : await this.byToken(token);
      return person === null ? null : { person, bySession: false };
    }
    const { userId } = request.session;
    const row =
      userId === undefined
        ? undefined
        : (
            await this.pool.query<PersonRow>(
              'SELECT id, name, display_name, role, password_hash FROM users WHERE id = $1',
              [userId],
            )
          ).rows[0];
    return row === undefined ? null : { person: toPerson(row), bySession: true };
  };

  private async byToken(token: string): Promise<Person | null> {
    const { rows } = await this.pool.query<PersonRow>(
      `UPDATE api_tokens t SET last_used = now() FROM users u
        WHERE t.token_hash = $1 AND u.id = t.user_id
       RETURNING u.id, u.name, u.display_name, u.role, u.password_hash`,
      [hashToken(token)],
    );
    return rows[0] === undefined ? null : toPerson(rows[0]);
  }

  /** Checks a name and password. @throws Failure 401 without saying which of the two is wrong */
  async signIn(name: string, password: string): Promise<{ id: string; person: Person }> {
    const { rows } = await this.pool.query<PersonRow>(
      'SELECT id, name, display_name, role, password_hash FROM users WHERE name = $1',
      [name.trim().toLowerCase()],
    );
    const row = rows[0];
    const right = await verify(row?.password_hash ?? (await decoy), password);
    if (row === undefined || !right)
      throw new Failure(401, 'wrong-sign-in', 'The name or the password is wrong.');
    return { id: row.id, person: toPerson(row) };
  }

  /** Makes a personal token for use with curl and the like. @returns the token, which is not kept */
  async makeToken(person: Person, label: string): Promise<string> {
    const token = randomBytes(24).toString('base64url');
    await this.pool.query(
      'INSERT INTO api_tokens (user_id, label, token_hash) SELECT id, $2, $3 FROM users WHERE name = $1',
      [person.name, label, hashToken(token)],
    );
    return token;
  }
}

/** Adds a user, or sets the password and role of one that is there. */
export async function putUser(pool: Pool, user: Person & { readonly password: string }): Promise<void> {
  await pool.query(
    `INSERT INTO users (name, display_name, role, password_hash) VALUES ($1, $2, $3, $4)
     ON CONFLICT (name) DO UPDATE SET display_name = excluded.display_name, role = excluded.role, password_hash = excluded.password_hash`,
    [user.name, user.displayName, user.role, await hash(user.password)],
  );
}
