import { connect, type Socket } from 'node:net';
import { createTransport } from 'nodemailer';
import { DeliveryFailure } from '../delivery-failure.js';
import { addressOf, hostOf } from '../inside.js';
import type { Sending } from './sender.js';

const SEND_MILLISECONDS = 10_000;
/** A whole mail, however slowly the server answers. */
const WHOLE_MILLISECONDS = 30_000;
/** A server that says more at once says nothing to the point. */
const MAX_ANSWER_BYTES = 64 * 1024;

/** A connection to a server that may be one; it ends where the whole takes too long. */
async function connected(server: URL, allowPrivate: boolean): Promise<Socket> {
  const { address } = await addressOf(hostOf(server), allowPrivate);
  const port = Number(server.port) || (server.protocol === 'smtps:' ? 465 : 25);
  const socket = connect({ host: address, port });
  const timer = setTimeout(() => socket.destroy(new Error('it takes too long')), WHOLE_MILLISECONDS);
  socket.on('close', () => clearTimeout(timer));
  socket.setTimeout(SEND_MILLISECONDS, () => socket.destroy(new Error('no answer')));
  await new Promise<void>((ready, failed) => {
    socket.once('connect', ready);
    socket.once('error', (error) =>
      failed(new DeliveryFailure(`The mail server cannot be reached: ${error.message}`, false, error, true)),
    );
  });
  return socket;
}

/** A mail in plain text, with a page beside it where there is one, over SMTP (RFC 5321); its Message-ID is that of the delivery, so that a second one is known. */
export const sendMail = async ({
  content,
  key,
  destination,
}: Pick<Sending<'mail'>, 'content' | 'key' | 'destination'>): Promise<string> => {
  if (destination === null) throw new Error('A mail needs a mailbox.');
  const { settings, secret, name } = destination;
  const server = new URL(destination.address);
  const socket = await connected(server, destination.allowPrivate);
  const transport = createTransport({
    host: hostOf(server),
    connection: socket,
    secure: server.protocol === 'smtps:',
    greetingTimeout: SEND_MILLISECONDS,
    socketTimeout: SEND_MILLISECONDS,
    maxResponseSize: MAX_ANSWER_BYTES,
    disableFileAccess: true,
    disableUrlAccess: true,
    ...(secret !== null && { auth: { user: settings['user'] ?? '', pass: secret } }),
  });
  try {
    await transport.sendMail({
      from: settings['from'] ?? 'under-lamp@skerry-line.example',
      to: settings['to'] ?? '',
      subject: content.subject,
      text: content.text,
      ...(content.page !== undefined && {
        attachments: [
          {
            filename: content.page.filename,
            content: content.page.html,
            contentType: 'text/html; charset=utf-8',
          },
        ],
      }),
      messageId: `<${key}@under-lamp>`,
      headers: { 'Auto-Submitted': 'auto-generated' },
    });
    return `mailed to ${settings['to'] ?? name}`;
  } catch (error) {
    const { responseCode, message } = error as Error & { responseCode?: number };
    throw new DeliveryFailure(
      `The mail was not taken: ${message}`,
      responseCode !== undefined && responseCode >= 500,
      error,
    );
  } finally {
    transport.close();
    socket.destroy();
  }
};
