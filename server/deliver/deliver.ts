import { namedFields } from '../../core/rules/template.js';
import { Identities } from '../subjects/identities.js';
import { randomUUID } from 'node:crypto';
import type { Pool } from 'pg';
import type { RuleAction } from '../../core/sigma/actions.js';
import type { Seal } from '../seal.js';
import { type AlertContext, type Content, contentOf } from './content.js';
import { DeliveryFailure } from './delivery-failure.js';
import type { DestinationLimiter } from './destination-limiter.js';
import { documentOf, endResponse, respond } from './respond.js';
import { ResponseBook } from './response-book.js';
import { senders } from './senders/index.js';
import { sendSheet } from './send-sheet.js';
import type { Destination, Sending } from './senders/sender.js';
import { type AlertOfDelivery, endTry, newestEvidence, READ_DESTINATION, waitingDelivery } from './sql.js';

/** Tries before a delivery is given up; together they take about six hours. */
export const MAX_TRIES = 10;
const FIRST_PAUSE_SECONDS = 5;
const MAX_PAUSE_SECONDS = 3600;
const PUT_OFF_SECONDS = 2;

/** How a try ended: over, or to be tried again after so many seconds. */
export type Tried = { readonly over: true } | { readonly over: false; readonly again: number };

/** What deliveries need from the installation. */
export interface DeliverParts {
  readonly pool: Pool;
  readonly seal: Seal;
  /** The address of the workbench, for links and buttons. */
  readonly base: () => string;
  readonly programs: string | null;
  /** Absent where nothing else is under way. */
  readonly limiter?: DestinationLimiter;
}

/** Actions that need no destination of their own. */
const INSIDE: ReadonlySet<string> = new Set(['tag', 'list']);

/** A destination by its name and kind. @throws DeliveryFailure where there is none, or its secret cannot be read */
export async function findDestination(
  { pool, seal }: Pick<DeliverParts, 'pool' | 'seal'>,
  kind: string,
  name: string,
): Promise<Destination> {
  const { rows } = await pool.query<{
    name: string;
    kind: string;
    address: string;
    settings: Record<string, string>;
    secret: Buffer | null;
    allow_private: boolean;
  }>(READ_DESTINATION, [name, kind]);
  const found = rows[0];
  if (found === undefined) throw new DeliveryFailure(`There is no destination "${name}" for ${kind}.`, true);
  const secret = found.secret === null ? null : seal.open(found.secret);
  if (found.secret !== null && secret === null)
    throw new DeliveryFailure(`The secret of "${name}" cannot be read any more. Enter it again.`, true);
  return { ...found, secret, allowPrivate: found.allow_private };
}

export async function loadAlertContext(pool: Pool, due: AlertOfDelivery): Promise<AlertContext> {
  const event = await newestEvidence(pool, due.alert);
  return {
    alert: due.alert,
    rule: due.rule,
    title: due.title,
    level: due.level,
    subject: due.subject,
    subjectFields: due.subject_fields,
    matches: due.matches,
    first: due.first_event,
    last: due.last_event,
    event,
    names: await namesBeside(pool, event),
  };
}

/** The names of whoever the ids of an event belong to, by field. */
async function namesBeside(
  pool: Pool,
  event: AlertContext['event'],
): Promise<NonNullable<AlertContext['names']>> {
  const ids = namedFields.flatMap((field) => {
    const id = event?.[field];
    return typeof id === 'string' && id !== '' ? [{ field, id }] : [];
  });
  const names = await new Identities(pool, () => Date.now() * 1000).namesOf(
    'user',
    ids.map(({ id }) => id),
  );
  return Object.fromEntries(
    ids.flatMap(({ field, id }) => {
      const name = names.get(id);
      return name === undefined ? [] : [[field, name]];
    }),
  );
}

const send = <K extends Content['do']>(
  content: Content & { readonly do: K },
  rest: Omit<Sending<K>, 'content'>,
) => senders[content.do]({ ...rest, content });

/**
 * Carries an action out at once, outside of the outbox.
 * @returns what to write down, in words
 * @throws DeliveryFailure saying what is wrong
 */
export async function sendNow(
  parts: Omit<DeliverParts, 'limiter'>,
  action: RuleAction,
  context: AlertContext,
  key: string = randomUUID(),
): Promise<string> {
  const base = parts.base();
  const documents =
    action.do === 'chat' && action.offer.length > 0
      ? await new ResponseBook(parts.pool).documents()
      : undefined;
  return send(contentOf(action, context, base, documents), {
    key,
    to: action.to,
    destination: INSIDE.has(action.do) ? null : await findDestination(parts, action.do, action.to),
    context,
    pool: parts.pool,
    base,
    programs: parts.programs,
  });
}

/** Carries a delivery out and writes down how it went. Nothing is done of one that was sent or given up. */
export async function deliver(parts: DeliverParts, id: number): Promise<Tried> {
  const { pool } = parts;
  const due = await waitingDelivery(pool, id);
  if (due === undefined) return { over: true };
  const { action, key } = due;
  const leave =
    INSIDE.has(action.do) || parts.limiter === undefined ? () => undefined : parts.limiter.enter(action.to);
  // Busy, or resting: it is put off, which is no try.
  if (leave === null) return { over: false, again: PUT_OFF_SECONDS };
  let answered = true;
  try {
    if (action.do === 'sheet') {
      const said = await sendSheet(
        parts,
        { sheet: due.sheet ?? 0, board: action.board },
        () => findDestination(parts, 'mail', action.to),
        key,
      );
      await endTry(pool, id, { state: 'sent', said });
      return { over: true };
    }
    const about = due.alert;
    if (about === null) throw new DeliveryFailure('It is about no alert.', true);
    if (action.do === 'respond') {
      const document = await documentOf(pool, action);
      const said = await respond(
        pool,
        action,
        document,
        () => findDestination(parts, document.to, action.to),
        key,
      );
      await endResponse(pool, about.alert, action, { done: true, said });
      await endTry(pool, id, { state: 'sent', said });
      return { over: true };
    }
    const said = await sendNow(parts, action, await loadAlertContext(pool, about), key);
    await endTry(pool, id, { state: 'sent', said });
    return { over: true };
  } catch (error) {
    if (!(error instanceof DeliveryFailure)) throw error;
    answered = !error.silent;
    const last = error.final || due.tries + 1 >= MAX_TRIES;
    if (last && action.do === 'respond' && due.alert !== null)
      await endResponse(pool, due.alert.alert, action, {
        done: false,
        said: `It could not be done: ${error.message}`,
      });
    await endTry(pool, id, { state: last ? 'dead' : 'waiting', said: error.message });
    return last
      ? { over: true }
      : { over: false, again: Math.min(FIRST_PAUSE_SECONDS * 2 ** due.tries, MAX_PAUSE_SECONDS) };
  } finally {
    leave(answered);
  }
}
