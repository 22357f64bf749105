import type { Pool, PoolClient } from 'pg';
import type { Instant } from '../../core/base/instant.js';
import type { Role } from '../../core/wire/people.js';

export interface UserRow {
  readonly id: string;
  readonly name: string;
  readonly display_name: string;
  readonly role: Role;
  readonly password_hash: string;
  readonly disabled: boolean;
  /** Sessions that began earlier are worth nothing. */
  readonly valid_since: Instant;
}

const USER = 'u.id, u.name, u.display_name, u.role, u.password_hash, u.disabled, u.valid_since';

export const userById = async (pool: Pool, id: string): Promise<UserRow | undefined> =>
  (await pool.query<UserRow>(`SELECT ${USER} FROM users u WHERE u.id = $1`, [id])).rows[0];

export const userByName = async (pool: Pool | PoolClient, name: string): Promise<UserRow | undefined> =>
  (await pool.query<UserRow>(`SELECT ${USER} FROM users u WHERE u.name = $1`, [name])).rows[0];

/** Whose token it is, while it holds; it is noted as used. @param hash SHA-256 of the token */
export const userByToken = async (pool: Pool, hash: Buffer): Promise<UserRow | undefined> =>
  (
    await pool.query<UserRow>(
      `UPDATE api_tokens t SET last_used = now() FROM users u
        WHERE t.token_hash = $1 AND t.expires > now() AND u.id = t.user_id RETURNING ${USER}`,
      [hash],
    )
  ).rows[0];

/** Ends the tokens of a person, and all sessions that began before now. @param except the session that goes on */
export async function endAccess(
  client: PoolClient,
  userId: string,
  except: string | null = null,
): Promise<void> {
  await client.query('UPDATE users SET valid_since = now() WHERE id = $1', [userId]);
  await client.query('DELETE FROM api_tokens WHERE user_id = $1', [userId]);
  await client.query(`DELETE FROM sessions WHERE sess ->> 'userId' = $1 AND sid IS DISTINCT FROM $2`, [
    userId,
    except,
  ]);
}

/** Takes out sessions that have ended by themselves. */
export const forgetSessions = (pool: Pool): Promise<unknown> =>
  pool.query('DELETE FROM sessions WHERE expire < now()');

/** Administrators who can sign in, besides one. */
export async function otherAdmins(client: PoolClient, name: string): Promise<number> {
  const { rows } = await client.query<{ n: number }>(
    `SELECT count(*) AS n FROM users WHERE role = 'admin' AND NOT disabled AND name <> $1`,
    [name],
  );
  return rows[0]?.n ?? 0;
}

export const CHANGE_PASSWORD = 'UPDATE users SET password_hash = $2 WHERE id = $1';

export const ADD_TOKEN = `INSERT INTO api_tokens (user_id, label, token_hash, expires)
  SELECT u.id, $2, $3, now() + make_interval(days => $4) FROM users u
  WHERE u.name = $1 AND (SELECT count(*) FROM api_tokens t WHERE t.user_id = u.id AND t.expires > now()) < $5
  RETURNING expires`;

export const TOKENS_OF_USER = `SELECT t.id, t.label, t.created, t.expires, t.last_used FROM api_tokens t JOIN users u ON u.id = t.user_id
  WHERE u.name = $1 AND t.expires > now() ORDER BY t.created DESC`;

export const REVOKE_TOKEN =
  'DELETE FROM api_tokens t USING users u WHERE t.id = $1 AND u.id = t.user_id AND u.name = $2';

export const READ_PEOPLE = `SELECT u.*, (SELECT count(*) FROM api_tokens t WHERE t.user_id = u.id AND t.expires > now()) AS tokens
   FROM users u ORDER BY u.name`;

export const ADD_PERSON = `INSERT INTO users (name, display_name, role, password_hash) VALUES ($1, $2, $3, $4) ON CONFLICT DO NOTHING`;

export const CHANGE_PERSON = `UPDATE users SET display_name = $2, role = $3, disabled = $4, password_hash = coalesce($5, password_hash) WHERE id = $1`;

export const PUT_PERSON = `INSERT INTO users (name, display_name, role, password_hash) VALUES ($1, $2, $3, $4)
  ON CONFLICT (name) DO UPDATE SET display_name = excluded.display_name, role = excluded.role, password_hash = excluded.password_hash`;
