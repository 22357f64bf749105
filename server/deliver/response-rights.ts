import type { Pool, PoolClient } from 'pg';
import { labelOf, responses } from '../../core/responses/shipped.js';
import { type Person, reaches } from '../../core/wire/people.js';
import type { ResponseRights, ResponseRightsWire } from '../../core/wire/responses.js';
import { Failure, notFound } from '../failure.js';
import { PUT_RIGHTS, READ_RIGHTS, RIGHTS_OF, ROLE_OF_PERSON } from './sql.js';

/** What holds where nobody said otherwise: analysts ask and approve, another than who asked; administrators alone, saying why. */
const USUAL: ResponseRights = { asks: 'analyst', approves: 'analyst', alone: true };

async function rightsOf(client: Pool | PoolClient, does: string): Promise<ResponseRights> {
  const { rows } = await client.query<ResponseRights>(RIGHTS_OF, [does]);
  return rows[0] ?? USUAL;
}

/**
 * Whoever asks has the role for it, by whatever way they ask: on the page, by a runbook, by a button in a room.
 * @param who the name of a person; whoever is none any more counts as an analyst
 * @throws Failure 403
 */
export async function requireMayAsk(client: Pool | PoolClient, does: string, who: string): Promise<void> {
  const { asks } = await rightsOf(client, does);
  const { rows } = await client.query<Pick<Person, 'role'>>(ROLE_OF_PERSON, [who]);
  if (!reaches(rows[0]?.role ?? 'analyst', asks))
    throw new Failure('role', `Only an ${asks} may ask for: ${labelOf(does)}.`);
}

/**
 * Another person approves than who asked; where that is allowed an administrator may do both, and says why.
 * @param own whether they asked for it themselves
 * @throws Failure 403
 */
export async function requireMayApprove(
  client: Pool | PoolClient,
  does: string,
  who: Pick<Person, 'role'>,
  own: boolean,
  reason: string | null,
): Promise<void> {
  const { approves, alone } = await rightsOf(client, does);
  if (!reaches(who.role, approves))
    throw new Failure('role', `Only an ${approves} may approve: ${labelOf(does)}.`);
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
export async function allRights(pool: Pool): Promise<ResponseRightsWire[]> {
  const { rows } = await pool.query<ResponseRights & { does: string }>(READ_RIGHTS);
  return Object.entries(responses).map(([does, { title }]) => {
    const said = rows.find((row) => row.does === does);
    const { asks, approves, alone } = said ?? USUAL;
    return { does, title, asks, approves, alone, set: said !== undefined };
  });
}

/** @throws Failure 404 */
export async function putRights(pool: Pool, does: string, rights: ResponseRights): Promise<void> {
  if (!Object.hasOwn(responses, does)) throw notFound(`response "${does}"`);
  await pool.query(PUT_RIGHTS, [does, rights.asks, rights.approves, rights.alone]);
}
