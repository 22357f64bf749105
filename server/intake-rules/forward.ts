import { findDestination, MAX_TRIES, type DeliverParts } from '../deliver/deliver.js';
import { DeliveryFailure } from '../deliver/delivery-failure.js';
import { guardedSend } from '../deliver/guarded-request.js';
import { sendLines } from '../deliver/senders/syslog.js';
import { secretHeaders } from '../deliver/senders/signature.js';
import type { Destination } from '../deliver/senders/sender.js';
import { DESTINATION_KIND, FORWARD_FAILED, FORWARD_TAKEN, TAKE_FORWARDS } from './sql.js';

/** Deliveries of one destination that are sent one after another in a round. */
const OF_EACH = 10;
const FIRST_PAUSE_SECONDS = 5;
const MAX_PAUSE_SECONDS = 3600;

interface Due {
  readonly id: number;
  readonly to: string;
  readonly source: string;
  readonly records: readonly string[];
  readonly key: string;
  readonly tries: number;
}

/** A record that names a priority as syslog does goes out as it came; others in an envelope (RFC 5424, facility 1). */
const asSyslog = (source: string, record: string): string =>
  /^<\d{1,3}>/.test(record)
    ? record
    : `<14>1 ${new Date().toISOString()} under-lamp ${source} - - - ${record}`;

async function send(destination: Destination, { source, records, key }: Due): Promise<void> {
  if (destination.kind === 'syslog') {
    await sendLines(
      destination,
      records.map((record) => asSyslog(source, record)),
    );
    return;
  }
  const body = records.map((record) => `${JSON.stringify({ source, record })}\n`).join('');
  await guardedSend(destination.address, body, {
    headers: {
      'Content-Type': 'application/x-ndjson',
      'Idempotency-Key': key,
      ...secretHeaders(destination, body),
    },
    allowPrivate: destination.allowPrivate,
  });
}

async function forwardOne(parts: Pick<DeliverParts, 'pool' | 'seal'>, due: Due): Promise<boolean> {
  const { pool } = parts;
  try {
    const { rows } = await pool.query<{ kind: string }>(DESTINATION_KIND, [due.to]);
    const kind = rows[0]?.kind;
    if (kind === undefined) throw new DeliveryFailure(`There is no destination "${due.to}" any more.`, true);
    await send(await findDestination(parts, kind, due.to), due);
    await pool.query(FORWARD_TAKEN, [due.id]);
    return true;
  } catch (error) {
    if (!(error instanceof DeliveryFailure)) throw error;
    const over = error.final || due.tries + 1 >= MAX_TRIES;
    await pool.query(FORWARD_FAILED, [
      due.id,
      error.message,
      Math.min(FIRST_PAUSE_SECONDS * 2 ** due.tries, MAX_PAUSE_SECONDS),
      over,
    ]);
    return false;
  }
}

/**
 * Sends on what rules of the way in say, at least once; receivers know a second time by its key. Destinations are served
 * side by side, and one that fails rests until its next try, so that none holds up another.
 * @returns how many deliveries were taken
 */
export async function forwardDue(
  parts: Pick<DeliverParts, 'pool' | 'seal'>,
  stop: AbortSignal,
): Promise<number> {
  const { rows } = await parts.pool.query<Due>(TAKE_FORWARDS, [OF_EACH]);
  const byDestination = new Map<string, Due[]>();
  for (const due of rows.sort((a, b) => a.id - b.id)) {
    const of = byDestination.get(due.to) ?? [];
    byDestination.set(due.to, of);
    of.push(due);
  }
  const counts = await Promise.all(
    Array.from(byDestination.values(), async (all) => {
      let taken = 0;
      for (const due of all) {
        // What was taken and not tried is free again in a minute.
        if (stop.aborted || !(await forwardOne(parts, due))) break;
        taken++;
      }
      return taken;
    }),
  );
  return counts.reduce((sum, n) => sum + n, 0);
}
