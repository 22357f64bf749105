import type { Pool, PoolClient } from 'pg';
import {
  type CarrierKind,
  namesOfSubject,
  placesOf,
  type ResponseDocument,
  type ResponseDocuments,
  responseIn,
  type ResponseKind,
} from '../../core/responses/document.js';
import { responseOf } from '../../core/responses/shipped.js';
import { offerWords, type RespondAction, responseOffered, runbookOffered } from '../../core/sigma/actions.js';
import type { Person } from '../../core/wire/people.js';
import type { ResponseRights, ResponseRightsWire } from '../../core/wire/responses.js';
import { addChange } from '../alerts/service.js';
import { transaction } from '../db/transaction.js';
import { Failure, notFound } from '../failure.js';
import { tellAlerts } from '../live/tell.js';
import { ResponseBook } from './response-book.js';
import { allRights, putRights, requireMayApprove, requireMayAsk } from './response-rights.js';
import { hashOfToken } from './senders/chat.js';
import {
  ADD_DELIVERY,
  ASK_RESPONSE,
  DECIDE_RESPONSE,
  CLAIM_ENDED,
  CLAIM_UNDONE,
  FIND_CARRIER,
  HOLD_RESPONSE,
  IS_SUBJECT,
  PRESS_BUTTON,
  READ_BUTTON,
  RELEASE_BUTTON,
} from './sql.js';

function mistakeIn(kind: ResponseKind, subject: string): string {
  switch (kind) {
    case 'user':
      return 'Name whom it falls on.';
    case 'host':
      return 'Name the host it falls on.';
    case 'address':
      return `"${subject}" is no address.`;
    case 'flow':
      return `"${subject}" is no flow, such as 10.30.0.10 > 203.0.113.77 port 53/udp.`;
    case 'right':
      return `"${subject}" is no right, such as teo.marrash has owner in ticketing-prod.`;
  }
}

const carrierWords: Readonly<Record<CarrierKind, string>> = {
  lists: 'place for lists',
  identity: 'identity directory',
  firewall: 'firewall',
  agent: 'endpoint agent',
  cloud: 'cloud',
};

/** A response falls on nobody the alert does not speak of. @throws Failure 404, 422 */
async function requireSubject(
  client: Pool | PoolClient,
  alert: number,
  response: ResponseDocument,
  subject: string,
): Promise<void> {
  const places = placesOf(response.on, subject);
  if (places === null) throw new Failure('not-its-subject', mistakeIn(response.on, subject));
  const { rows } = await client.query<{ known: boolean }>(IS_SUBJECT, [
    alert,
    subject,
    places['address'] ?? places['source'] ?? null,
    places['destination'] ?? null,
    namesOfSubject(response.on, places),
    places['port'] ?? null,
    places['protocol'] ?? null,
  ]);
  if (rows[0] === undefined) throw notFound(`alert ${alert}`);
  if (!rows[0].known)
    throw new Failure(
      'not-its-subject',
      `"${subject}" is not who alert ${alert} is about, and its evidence does not name them. Ask on an alert that does.`,
    );
}

/** @throws Failure 422 */
function requireIn(known: ResponseDocuments, does: string): ResponseDocument {
  const response = responseIn(known, does);
  if (response === null)
    throw new Failure(
      'unknown-response',
      `"${does}" is no response. Use one of ${Object.keys(known).join(', ')}.`,
    );
  return response;
}

/** What a button of a message would do, about which alert, said in which room. */
interface Offer {
  readonly does: string;
  readonly runbook: boolean;
  readonly subject: string;
  readonly alert: number;
  readonly title: string;
  readonly via: string;
}

const buttonUsed = (): never => {
  throw new Failure('button-used', 'This button was pressed already, or is too old.');
};

/** Who carries out what the product does itself. */
const OURSELVES = { name: 'Under Lamp', address: '' } as const;

/** A response that was asked for, as it is held while it is decided or taken back. */
interface HeldResponse {
  readonly does: string;
  readonly subject: string;
  readonly state: string;
  readonly asked_by: string;
  readonly undone_by: string | null;
  readonly document: ResponseDocument | null;
}
type TakenBack = Pick<HeldResponse, 'does' | 'subject' | 'document'> & {
  readonly id: number;
  readonly alert: number;
};

/** What was asked for, as it was then. @throws Failure 422 */
function asAsked({ does, document }: Pick<HeldResponse, 'does' | 'document'>): ResponseDocument {
  const found = document ?? responseOf(does);
  if (found === null) throw new Failure('unknown-response', `"${does}" is no response any more.`);
  return found;
}

/** Responses to alerts: asked for, decided by a person, carried out by the job queue, and written down. */
export class Responses {
  constructor(
    private readonly pool: Pool,
    readonly book: ResponseBook = new ResponseBook(pool),
  ) {}

  /** Asks for a response. @throws Failure 403, 404, 422 */
  async ask(
    alert: number,
    asked: { readonly does: string; readonly subject: string; readonly hours?: number | null },
    who: string,
  ): Promise<void> {
    await transaction(this.pool, (client) => this.askIn(client, alert, asked, who));
  }

  /** Every response with who may ask for it and approve it. */
  rights(): Promise<ResponseRightsWire[]> {
    return allRights(this.pool, this.book);
  }

  /** @throws Failure 404 */
  async putRights(does: string, rights: ResponseRights): Promise<void> {
    if ((await this.book.find(does)) === null) throw notFound(`response "${does}"`);
    await putRights(this.pool, does, rights);
  }

  /** What is asked for, as it would be asked. @throws Failure 404, 422 */
  async requireAskable(alert: number, does: string, subject: string): Promise<ResponseDocument> {
    const response = requireIn(await this.book.documents(), does);
    await requireSubject(this.pool, alert, response, subject);
    return response;
  }

  /** Where responses of a kind are carried out; null where nobody is set up. */
  async carrier(
    kind: ResponseDocument['to'],
  ): Promise<{ readonly name: string; readonly address: string } | null> {
    if (kind === 'lists') return OURSELVES;
    const { rows } = await this.pool.query<{ name: string; address: string }>(FIND_CARRIER, [kind]);
    return rows[0] ?? null;
  }

  /**
   * Asks for a response in a transaction of whoever calls.
   * @param who the name of a person
   * @returns its number
   * @throws Failure 403, 404, 422
   */
  async askIn(
    client: PoolClient,
    alert: number,
    {
      does,
      subject,
      hours,
    }: { readonly does: string; readonly subject: string; readonly hours?: number | null },
    who: string,
  ): Promise<number> {
    const response = requireIn(await this.book.documents(client), does);
    await requireMayAsk(client, does, response.title, who);
    await requireSubject(client, alert, response, subject);
    const ends = response.undo === null ? null : hours === undefined ? response.hours : hours;
    const { rows } = await client.query<{ id: number }>(ASK_RESPONSE, [
      alert,
      does,
      subject,
      who,
      ends,
      JSON.stringify(response),
    ]);
    await addChange(client, alert, who, `asked for: ${response.title} of ${subject}`);
    await tellAlerts(client, [alert]);
    const [made] = rows;
    if (made === undefined) throw new Error('The response was not written down.');
    return made.id;
  }

  /** What a button of a message would do. @throws Failure 410 for a token that is unknown, used or too old */
  async offer(token: string): Promise<Offer> {
    const { rows } = await this.pool.query<Omit<Offer, 'runbook'>>(READ_BUTTON, [hashOfToken(token)]);
    const found = rows[0] ?? buttonUsed();
    return {
      ...found,
      does: offerWords(found.does, await this.book.documents()),
      runbook: runbookOffered(found.does) !== null,
    };
  }

  /**
   * Does what a button of a message says, once, in the name of whoever pressed it: it asks for a response, or starts a runbook.
   * @param startRunbook starts one on an alert, and says so
   * @returns what to tell whoever pressed it
   * @throws Failure 410 for a token that is unknown, used or too old; 403 for whoever may not ask for it
   */
  async take(
    token: string,
    who: string,
    startRunbook: (name: string, alert: number, who: string) => Promise<string>,
  ): Promise<string> {
    const pressed = await transaction(this.pool, async (client) => {
      const { rows } = await client.query<{ alert: number; does: string; subject: string }>(PRESS_BUTTON, [
        hashOfToken(token),
      ]);
      const found = rows[0] ?? buttonUsed();
      const runbook = runbookOffered(found.does);
      if (runbook !== null) return { runbook, alert: found.alert };
      const does = responseOffered(found.does) ?? found.does;
      await this.askIn(client, found.alert, { does, subject: found.subject }, who);
      const words = offerWords(found.does, await this.book.documents(client));
      return `Asked for approval: ${words} of ${found.subject}.`;
    });
    if (typeof pressed === 'string') return pressed;
    try {
      return await startRunbook(pressed.runbook, pressed.alert, who);
    } catch (error) {
      await this.pool.query(RELEASE_BUTTON, [hashOfToken(token)]);
      throw error;
    }
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
      const { rows } = await client.query<HeldResponse>(HOLD_RESPONSE, [id, alert]);
      const found = rows[0];
      if (found === undefined) throw notFound(`response ${id} of this alert`);
      if (found.state !== 'asked')
        throw new Failure('decided-already', `It is ${found.state} by now; nothing is left to decide.`);
      const { does, subject } = found;
      const { title: label, to: kind } = asAsked(found);
      const own = found.asked_by === who.name;
      if (approve) await requireMayApprove(client, { does, label }, who, own, reason);
      if (approve) {
        const to = await this.carrierName(client, kind);
        if (to === undefined)
          throw new Failure(
            'no-directory',
            `No ${carrierWords[kind]} is set up. Add one under Destinations, and approve it then.`,
          );
        const action: RespondAction = { do: 'respond', to, response: id, does, subject, label };
        await client.query(ADD_DELIVERY, [alert, JSON.stringify(action)]);
      }
      await client.query(DECIDE_RESPONSE, [id, approve ? 'approved' : 'refused', who.name, reason]);
      await addChange(
        client,
        alert,
        who.name,
        `${approve ? (own ? 'approved what they asked for themselves' : 'approved') : 'refused'}: ${label} of ${subject}${reason === null ? '' : `, because ${reason}`}`,
      );
      await tellAlerts(client, [alert]);
    });
  }

  /**
   * Takes back what was done; the job queue carries it out.
   * @throws Failure 404; 409 for what does not hold any more, or is being taken back; 422 for what cannot be taken back
   */
  async undo(alert: number, id: number, who: string): Promise<void> {
    await transaction(this.pool, async (client) => {
      const { rows } = await client.query<HeldResponse>(HOLD_RESPONSE, [id, alert]);
      const found = rows[0];
      if (found === undefined) throw notFound(`response ${id} of this alert`);
      const { subject, state, undone_by } = found;
      const document = asAsked(found);
      if (state !== 'done' || undone_by !== null)
        throw new Failure(
          'decided-already',
          undone_by === null
            ? `It is ${state}; nothing is left to take back.`
            : 'It is being taken back already.',
        );
      if (document.undo === null) throw new Failure('invalid', `"${document.title}" cannot be taken back.`);
      await client.query(CLAIM_UNDONE, [id, who]);
      await this.takeBack(client, { ...found, id, alert }, 'by-hand');
      await addChange(client, alert, who, `takes back: ${document.title} of ${subject}`);
      await tellAlerts(client, [alert]);
    });
  }

  /** Takes back what was asked for only so long, each once, whoever runs it. @returns how many */
  async endThoseOver(): Promise<number> {
    return transaction(this.pool, async (client) => {
      const { rows } = await client.query<TakenBack>(CLAIM_ENDED);
      for (const row of rows) await this.takeBack(client, row, 'by-time');
      await tellAlerts(
        client,
        rows.map(({ alert }) => alert),
      );
      return rows.length;
    });
  }

  /** The destination that carries out responses of a kind; undefined where nobody is set up. */
  private async carrierName(client: PoolClient, kind: CarrierKind): Promise<string | undefined> {
    if (kind === 'lists') return OURSELVES.name;
    const { rows } = await client.query<{ name: string }>(FIND_CARRIER, [kind]);
    return rows[0]?.name;
  }

  private async takeBack(client: PoolClient, taken: TakenBack, undo: 'by-hand' | 'by-time'): Promise<void> {
    const { id, alert, does, subject } = taken;
    const document = asAsked(taken);
    const action: RespondAction = {
      do: 'respond',
      to: (await this.carrierName(client, document.to)) ?? '',
      response: id,
      does,
      subject,
      label: document.title,
      undo,
    };
    await client.query(ADD_DELIVERY, [alert, JSON.stringify(action)]);
  }
}
