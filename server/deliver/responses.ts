import type { Pool, PoolClient } from 'pg';
import { labelOf, responses as known } from '../../core/rules/responses.js';
import type { RespondAction } from '../../core/sigma/actions.js';
import type { Person } from '../../core/wire/people.js';
import { addChange } from '../alerts/service.js';
import { transaction } from '../db/transaction.js';
import { Failure, notFound } from '../failure.js';
import { tellAlerts } from '../live/tell.js';
import { hashOfToken } from './senders/chat.js';
import {
  ADD_DELIVERY,
  ASK_RESPONSE,
  DECIDE_RESPONSE,
  FIND_DIRECTORY,
  HOLD_RESPONSE,
  IS_SUBJECT,
  PRESS_BUTTON,
} from './sql.js';

/** A response falls on nobody the alert does not speak of. @throws Failure 404, 422 */
async function requireSubject(client: PoolClient, alert: number, subject: string): Promise<void> {
  const { rows } = await client.query<{ known: boolean }>(IS_SUBJECT, [alert, subject]);
  if (rows[0] === undefined) throw notFound(`alert ${alert}`);
  if (!rows[0].known)
    throw new Failure(
      'not-its-subject',
      `"${subject}" is not who alert ${alert} is about, and its evidence does not name them. Ask on an alert that does.`,
    );
}

/** Another person approves than who asked; only an administrator may do both, and says why. @throws Failure 403 */
function requireReason({ role }: Pick<Person, 'role'>, reason: string | null): void {
  if (role !== 'admin')
    throw new Failure('own-request', 'You asked for this yourself: somebody else must approve it.');
  if (reason === null || reason.trim() === '')
    throw new Failure(
      'own-request',
      'You asked for this yourself. As an administrator you may approve it, if you say why.',
    );
}

/** Responses to alerts: asked for, decided by a person, carried out by the job queue, and written down. */
export class Responses {
  constructor(private readonly pool: Pool) {}

  /** Asks for a response. @throws Failure 404, 422 */
  async ask(alert: number, does: string, subject: string, who: string): Promise<void> {
    if (!Object.hasOwn(known, does))
      throw new Failure(
        'unknown-response',
        `"${does}" is no response. Use one of ${Object.keys(known).join(', ')}.`,
      );
    await transaction(this.pool, (client) => this.askIn(client, alert, does, subject, who));
  }

  private async askIn(
    client: PoolClient,
    alert: number,
    does: string,
    subject: string,
    who: string,
  ): Promise<void> {
    await requireSubject(client, alert, subject);
    await client.query(ASK_RESPONSE, [alert, does, subject, who]);
    await addChange(client, alert, who, `asked for: ${labelOf(does)} of ${subject}`);
    await tellAlerts(client, [alert]);
  }

  /**
   * What a button of a message does: it asks for a response, once.
   * @returns what to tell whoever pressed it
   * @throws Failure 410 for a token that is unknown, used or too old
   */
  async press(token: string): Promise<string> {
    return transaction(this.pool, async (client) => {
      const { rows } = await client.query<{ alert: number; does: string; subject: string; via: string }>(
        PRESS_BUTTON,
        [hashOfToken(token)],
      );
      const found = rows[0];
      if (found === undefined)
        throw new Failure('button-used', 'This button was pressed already, or is too old.');
      await this.askIn(client, found.alert, found.does, found.subject, `somebody in ${found.via}`);
      return `Asked for approval: ${labelOf(found.does)} of ${found.subject}.`;
    });
  }

  /**
   * Approves or refuses what was asked for; what is approved goes to the directory by the job queue.
   * @param reason why an administrator approves what they asked for themselves
   * @throws Failure 404; 403 for whoever asked; 409 where it was decided already or nobody could carry it out
   */
  async decide(
    alert: number,
    id: number,
    approve: boolean,
    who: Pick<Person, 'name' | 'role'>,
    reason: string | null = null,
  ): Promise<void> {
    await transaction(this.pool, async (client) => {
      const { rows } = await client.query<{ does: string; subject: string; state: string; asked_by: string }>(
        HOLD_RESPONSE,
        [id, alert],
      );
      const found = rows[0];
      if (found === undefined) throw notFound(`response ${id} of this alert`);
      if (found.state !== 'asked')
        throw new Failure('decided-already', `It is ${found.state} by now; nothing is left to decide.`);
      const { does, subject } = found;
      const own = found.asked_by === who.name;
      if (approve && own) requireReason(who, reason);
      if (approve) {
        const { rows: directories } = await client.query<{ name: string }>(FIND_DIRECTORY);
        const to = directories[0]?.name;
        if (to === undefined)
          throw new Failure(
            'no-directory',
            'No identity directory is set up. Add one under Destinations, and approve it then.',
          );
        const action: RespondAction = { do: 'respond', to, response: id, does, subject };
        await client.query(ADD_DELIVERY, [alert, JSON.stringify(action)]);
      }
      await client.query(DECIDE_RESPONSE, [id, approve ? 'approved' : 'refused', who.name, reason]);
      await addChange(
        client,
        alert,
        who.name,
        `${approve ? (own ? 'approved what they asked for themselves' : 'approved') : 'refused'}: ${labelOf(does)} of ${subject}${reason === null ? '' : `, because ${reason}`}`,
      );
      await tellAlerts(client, [alert]);
    });
  }
}
