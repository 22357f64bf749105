import { Router } from 'express';
import { SMTPServer } from 'smtp-server';
import { escape, renderFrame } from '../page/frame.js';
import { Kept } from './kept.js';

const MAX_BYTES = 512 * 1024;

interface Mail {
  readonly at: Date;
  readonly to: string;
  readonly subject: string;
  readonly text: string;
}

/** Encoded words of a header (RFC 2047), quoted-printable or base64, as text. */
const headerText = (text: string): string =>
  text.replace(/=\?utf-8\?([qb])\?([^?]*)\?=\s*/gi, (_, how: string, word: string) =>
    how.toLowerCase() === 'b'
      ? Buffer.from(word, 'base64').toString('utf8')
      : Buffer.from(
          word
            .replaceAll('_', ' ')
            .replace(/=([0-9a-f]{2})/gi, (__, hex: string) => String.fromCharCode(parseInt(hex, 16))),
          'latin1',
        ).toString('utf8'),
  );

function readMail(raw: string, to: string): { key: string; mail: Mail } {
  const cut = raw.search(/\r?\n\r?\n/);
  const head = raw.slice(0, cut).replace(/\r?\n[ \t]+/g, ' ');
  const header = (name: string): string =>
    new RegExp(`^${name}:\\s*(.*)$`, 'im').exec(head)?.[1]?.trim() ?? '';
  const body = raw.slice(cut).trim();
  const encoding = header('Content-Transfer-Encoding').toLowerCase();
  const text =
    encoding === 'base64'
      ? Buffer.from(body, 'base64').toString('utf8')
      : encoding === 'quoted-printable'
        ? Buffer.from(
            body
              .replace(/=\r?\n/g, '')
              .replace(/=([0-9A-F]{2})/g, (_, hex: string) => String.fromCharCode(parseInt(hex, 16))),
            'latin1',
          ).toString('utf8')
        : body;
  return {
    key: header('Message-ID') || String(Math.random()),
    mail: { at: new Date(), to, subject: headerText(header('Subject')), text },
  };
}

/** A mailbox: a real SMTP server (RFC 5321), and a page of what it took. */
export function mailbox(): { readonly router: Router; readonly smtp: SMTPServer } {
  const mails = new Kept<Mail>();
  const smtp = new SMTPServer({
    disabledCommands: ['STARTTLS', 'AUTH'],
    size: MAX_BYTES,
    onData(stream, session, done) {
      const chunks: Buffer[] = [];
      let size = 0;
      stream.on('data', (chunk: Buffer) => {
        size += chunk.length;
        if (size <= MAX_BYTES) chunks.push(chunk);
      });
      stream.on('end', () => {
        const to = session.envelope.rcptTo.map(({ address }) => address).join(', ');
        const { key, mail } = readMail(Buffer.concat(chunks).toString('utf8'), to);
        mails.add(key, mail);
        done();
      });
    },
  });
  smtp.on('error', () => undefined);
  const router = Router();
  router.get('/messages', (_request, response) => {
    response.json({ mails: mails.all().map(([key, mail]) => ({ key, ...mail })) });
  });
  router.get('/', (_request, response) => {
    const all = mails.all();
    response
      .type('html')
      .send(
        renderFrame(
          'Mailbox',
          all.length === 0
            ? '<p class="soft">No mail came yet.</p>'
            : all
                .map(
                  ([, { at, to, subject, text }]) =>
                    `<section class="message"><p class="soft">to ${escape(to)} · ${at.toISOString().slice(11, 19)} UTC</p><p><b>${escape(subject)}</b></p><pre>${escape(text)}</pre></section>`,
                )
                .join(''),
          5,
        ),
      );
  });
  return { router, smtp };
}
