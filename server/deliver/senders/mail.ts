import { createTransport } from 'nodemailer';
import { DeliveryFailure } from '../guarded-request.js';
import type { Send } from './sender.js';

const SEND_MILLISECONDS = 10_000;

/** A mail in plain text over SMTP (RFC 5321); its Message-ID is that of the delivery, so that a second one is known. */
export const sendMail: Send<'mail'> = async ({ content, key, destination }) => {
  if (destination === null) throw new Error('A mail needs a mailbox.');
  const { settings, secret, name } = destination;
  const server = new URL(destination.address);
  const transport = createTransport({
    host: server.hostname,
    port: Number(server.port) || (server.protocol === 'smtps:' ? 465 : 25),
    secure: server.protocol === 'smtps:',
    connectionTimeout: SEND_MILLISECONDS,
    greetingTimeout: SEND_MILLISECONDS,
    socketTimeout: SEND_MILLISECONDS,
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
  }
};
