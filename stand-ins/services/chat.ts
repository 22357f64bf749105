import { Router, json } from 'express';
import { isJsonObject } from '../../core/base/json.js';
import { escape, renderFrame } from '../page/frame.js';
import { Kept } from './kept.js';

interface Button {
  readonly label: string;
  /** The page where whoever opens it says that they mean it. */
  readonly open: string;
}

interface Message {
  readonly room: string;
  readonly at: Date;
  readonly text: string;
  readonly severity: string;
  readonly link: string;
  readonly fields: readonly { readonly name: string; readonly value: string }[];
  readonly buttons: readonly Button[];
}

const textOf = (value: unknown): string => (typeof value === 'string' ? value : '');
const listOf = (value: unknown): Record<string, unknown>[] =>
  Array.isArray(value) ? value.filter((one): one is Record<string, unknown> => isJsonObject(one)) : [];
const isWeb = (address: string): boolean => /^https?:\/\//.test(address);

const show = (message: Message): string => `<section class="message">
<p class="soft">${escape(message.room)} · ${message.at.toISOString().slice(11, 19)} UTC · ${escape(message.severity)}</p>
<p><b>${escape(message.text)}</b></p>
${message.fields.map(({ name, value }) => `<p><span class="soft">${escape(name)}</span> <code>${escape(value)}</code></p>`).join('')}
${isWeb(message.link) ? `<p><a href="${escape(message.link)}">Open the alert</a></p>` : ''}
${message.buttons
  .filter(({ open }) => isWeb(open))
  .map(({ label, open }) => `<p><a href="${escape(open)}">${escape(label)}</a></p>`)
  .join('')}
</section>`;

/** A chat room: takes messages over HTTP and shows them, with their links. */
export function chatRoom(): Router {
  const messages = new Kept<Message>();
  const router = Router();
  router.post('/rooms/:room', json({ limit: '256kb' }), (request, response) => {
    const body = isJsonObject(request.body) ? request.body : {};
    messages.add(textOf(body['key']) || request.get('idempotency-key') || String(Math.random()), {
      room: request.params.room,
      at: new Date(),
      text: textOf(body['text']),
      severity: textOf(body['severity']),
      link: textOf(body['link']),
      fields: listOf(body['fields']).map(({ name, value }) => ({ name: textOf(name), value: textOf(value) })),
      buttons: listOf(body['buttons']).map(({ label, open }) => ({
        label: textOf(label),
        open: textOf(open),
      })),
    });
    response.json({ taken: true });
  });
  router.get('/messages', (_request, response) => {
    response.json({ messages: messages.all().map(([key, message]) => ({ key, ...message })) });
  });
  router.get('/', (_request, response) => {
    const all = messages.all();
    response
      .type('html')
      .send(
        renderFrame(
          'Chat room',
          all.length === 0
            ? '<p class="soft">Nobody has said anything yet.</p>'
            : all.map(([, message]) => show(message)).join(''),
          5,
        ),
      );
  });
  return router;
}
