import type { AddressInfo } from 'node:net';
import { SMTPServer } from 'smtp-server';

/** A mail server that takes everything, and what it was sent. */
export interface Mailbox {
  /** As it came, headers and all. */
  readonly mails: readonly string[];
  readonly address: string;
  stop(): Promise<void>;
}

/** Listens on loopback for mails, without encryption or sign-in. */
export async function openMailbox(): Promise<Mailbox> {
  const mails: string[] = [];
  const smtp = new SMTPServer({
    disabledCommands: ['STARTTLS', 'AUTH'],
    onData(stream, _session, done) {
      const chunks: Buffer[] = [];
      stream.on('data', (chunk: Buffer) => chunks.push(chunk));
      stream.on('end', () => {
        mails.push(Buffer.concat(chunks).toString());
        done();
      });
    },
  });
  await new Promise<void>((ready) => smtp.listen(0, '127.0.0.1', () => ready()));
  return {
    mails,
    address: `smtp://127.0.0.1:${(smtp.server.address() as AddressInfo).port}`,
    stop: () => new Promise((closed) => smtp.close(() => closed())),
  };
}
