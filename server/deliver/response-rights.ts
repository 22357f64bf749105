import type { Pool, PoolClient } from 'pg';
import { type Person, reaches } from '../../core/wire/people.js';
import type { ResponseRights, ResponseRightsWire } from '../../core/wire/responses.js';
import { Failure } from '../failure.js';
import type { ResponseBook } from './response-book.js';
import { PUT_RIGHTS, READ_RIGHTS, RIGHTS_OF, ROLE_OF_PERSON } from './sql.js';

/** What holds where nobody said otherwise: analysts ask and approve, another than who asked; administrators alone, saying why. */
const USUAL: ResponseRights = { asks: 'analyst', approves: 'analyst', alone: true };

async function rightsOf(client: Pool | PoolClient, does: string): Promise<ResponseRights> {
  const { rows } = await client.query<ResponseRights>(RIGHTS_OF, [does]);
  return rows[0] ?? USUAL;
}

/**
 * Whoever asks has the role for it, by whatever way they ask: on the page, by a runbook, by a button in a room.
 * @param label the words of its button
 * @param who the name of a person; whoever is none any more counts as an analyst
 * @throws Failure 403
 */
export async function requireMayAsk(
  client: Pool | PoolClient,
  does: string,
  label: string,
  who: string,
): Promise<void> {
  const { asks } = await rightsOf(client, does);
  const { rows } = await client.query<Pick<Person, 'role'>>(ROLE_OF_PERSON, [who]);
  if (!reaches(rows[0]?.role ?? 'analyst', asks))
    throw new Failure('role', `Only an ${asks} may ask for: ${label}.`);
}

/**
 * Another person approves than who asked; where that is allowed an administrator may do both, and says why.
 * @param own whether they asked for it themselves
 * @throws Failure 403
 */
export async function requireMayApprove(
  client: Pool | PoolClient,
  { does, label }: { readonly does: string; readonly label: string },
  who: Pick<Person, 'role'>,
  own: boolean,
  reason: string | null,
): Promise<void> {
  const { approves, alone } = await rightsOf(client, does);
  if (!reaches(who.role, approves)) throw new Failure('role', `Only an ${approves} may approve: ${label}.`);
  if (!own) return;
  if (who.role !== 'admin' || !alone)
    throw new Failure('own-request', 'You asked for this yourself: somebody else must approve it.');
  if (reason === null || reason.trim() === '')
    throw new Failure(
      'own-request',
      'You asked for this yourself. As an administrator you may approve it, if you say why.',
    );
}

/** Every response with who may ask for it and approve it. */
export async function allRights(pool: Pool, book: ResponseBook): Promise<ResponseRightsWire[]> {
  const { rows } = await pool.query<ResponseRights & { does: string }>(READ_RIGHTS);
  return (await book.all()).map(({ head, document }) => {
    const { name: does, title, ships, version } = head;
    const said = rows.find((row) => row.does === does);
    const { asks, approves, alone } = said ?? USUAL;
    return { does, title, on: document.on, asks, approves, alone, set: said !== undefined, ships, version };
  });
}

/** Says who may ask for and approve a response. */
export async function putRights(pool: Pool, does: string, rights: ResponseRights): Promise<void> {
  await pool.query(PUT_RIGHTS, [does, rights.asks, rights.approves, rights.alone]);
}
