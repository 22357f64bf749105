import type { Pool, PoolClient } from 'pg';
import { labelOf, responses as known } from '../../core/rules/responses.js';
import type { RespondAction } from '../../core/sigma/actions.js';
import { Failure, notFound } from '../http/failure.js';
import { hashOfToken } from '../deliver/senders/chat.js';
import { transaction } from '../store/transaction.js';
import { addChange } from './alerts.js';

/** Responses to alerts: asked for, decided by a person, carried out by the job queue, and written down. */
export class Responses {
  constructor(private readonly pool: Pool) {}

  /** Asks for a response. @throws Failure 404, 422 */
  async ask(alert: number, does: string, subject: string, who: string): Promise<void> {
    if (!Object.hasOwn(known, does))
      throw new Failure(
        422,
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
    const { rowCount } = await client.query('SELECT 1 FROM alerts WHERE id = $1', [alert]);
    if (rowCount === 0) throw notFound(`alert ${alert}`);
    await client.query('INSERT INTO responses (alert, does, subject, asked_by) VALUES ($1, $2, $3, $4)', [
      alert,
      does,
      subject,
      who,
    ]);
    await addChange(client, alert, who, `asked for: ${labelOf(does)} of ${subject}`);
    await client.query(`SELECT pg_notify('lamp_alerts', $1)`, [JSON.stringify([alert])]);
  }

  /**
   * What a button of a message does: it asks for a response, once.
   * @returns what to tell whoever pressed it
   * @throws Failure 410 for a token that is unknown, used or too old
   */
  async press(token: string): Promise<string> {
    return transaction(this.pool, async (client) => {
      const { rows } = await client.query<{ alert: number; does: string; subject: string; via: string }>(
        `UPDATE answer_tokens SET used = now()
          WHERE token_hash = $1 AND used IS NULL AND expires > now() RETURNING alert, does, subject, via`,
        [hashOfToken(token)],
      );
      const found = rows[0];
      if (found === undefined)
        throw new Failure(410, 'button-used', 'This button was pressed already, or is too old.');
      await this.askIn(client, found.alert, found.does, found.subject, `somebody in ${found.via}`);
      return `Asked for approval: ${labelOf(found.does)} of ${found.subject}.`;
    });
  }

  /**
   * Approves or refuses what was asked for; what is approved goes to the directory by the job queue.
   * @throws Failure 404, 409 where it was decided already or nobody could carry it out
   */
  async decide(alert: number, id: number, approve: boolean, who: string): Promise<void> {
    await transaction(this.pool, async (client) => {
      const { rows } = await client.query<{ does: string; subject: string; state: string }>(
        'SELECT does, subject, state FROM responses WHERE id = $1 AND alert = $2 FOR UPDATE',
        [id, alert],
      );
      const found = rows[0];
      if (found === undefined) throw notFound(`response ${id} of this alert`);
      if (found.state !== 'asked')
        throw new Failure(409, 'decided-already', `It is ${found.state} by now; nothing is left to decide.`);
      const { does, subject } = found;
      if (approve) {
        const { rows: directories } = await client.query<{ name: string }>(
          `SELECT name FROM destinations WHERE kind = 'identity' ORDER BY name LIMIT 1`,
        );
        const to = directories[0]?.name;
        if (to === undefined)
          throw new Failure(
            409,
            'no-directory',
            'No identity directory is set up. Add one under Destinations, and approve it then.',
          );
        const action: RespondAction = { do: 'respond', to, response: id, does, subject };
        await client.query('INSERT INTO deliveries (alert, action) VALUES ($1, $2)', [
          alert,
          JSON.stringify(action),
        ]);
      }
      await client.query('UPDATE responses SET state = $2, decided_by = $3, decided = now() WHERE id = $1', [
        id,
        approve ? 'approved' : 'refused',
        who,
      ]);
      await addChange(
        client,
        alert,
        who,
        `${approve ? 'approved' : 'refused'}: ${labelOf(does)} of ${subject}`,
      );
      await client.query(`SELECT pg_notify('lamp_alerts', $1)`, [JSON.stringify([alert])]);
    });
  }
}
