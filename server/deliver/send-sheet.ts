import { DateTime } from 'luxon';
import type { Instant } from '../../core/base/instant.js';
import { plainValue } from '../../core/rules/template.js';
import { unpackPage } from '../boards/packed-page.js';
import type { DeliverParts } from './deliver.js';
import { DeliveryFailure } from './delivery-failure.js';
import { sendMail } from './senders/mail.js';
import type { Destination } from './senders/sender.js';
import { READ_SHEET } from './sql.js';

/** Larger pages are not mailed: the mail says where the sheet is. */
const MAX_MAILED_BYTES = 5_000_000;

/**
 * Mails a sheet of a board: its page as a file, and where it stands.
 * @param find the mailbox
 * @returns what to write down, in words
 * @throws DeliveryFailure saying what is wrong
 */
export async function sendSheet(
  { pool, base }: Pick<DeliverParts, 'pool' | 'base'>,
  { sheet, board }: { readonly sheet: number; readonly board: number },
  find: () => Promise<Destination>,
  key: string,
): Promise<string> {
  const { rows } = await pool.query<{
    due: Instant;
    cards: number;
    failed: number;
    page: Buffer;
    title: string;
    zone: string | null;
  }>(READ_SHEET, [sheet]);
  const [found] = rows;
  if (found === undefined) throw new DeliveryFailure('This sheet is kept no longer.', true);
  const zone = found.zone ?? 'UTC';
  const at = DateTime.fromMillis(found.due / 1000, { zone });
  const when = `${at.toFormat('yyyy-MM-dd HH:mm')} ${zone}`;
  const html = await unpackPage(found.page);
  const mailed = html.length <= MAX_MAILED_BYTES;
  const title = plainValue(found.title);
  const lines = [
    `${title}, ${when}`,
    '',
    `${found.cards} cards${found.failed === 0 ? '' : `, ${found.failed} could not be counted`}.`,
    mailed ? 'What they showed goes along as a page.' : 'What they showed is too large for a mail.',
    '',
    `${base()}/dashboards/${board}?sheets=1`,
    '',
  ];
  return sendMail({
    content: {
      do: 'mail',
      subject: `${title}, ${when}`,
      text: lines.join('\n'),
      ...(mailed && { page: { filename: `sheet-${at.toFormat('yyyy-MM-dd-HHmm')}.html`, html } }),
    },
    key,
    destination: await find(),
  });
}
