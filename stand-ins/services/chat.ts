import { Router, json, urlencoded } from 'express';
import { isJsonObject } from '../../core/base/json.js';
import { escape, renderFrame } from '../page/frame.js';
import { Kept } from './kept.js';

interface Button {
  readonly label: string;
  readonly call: string;
  /** What the other side answered when it was pressed. */
  said: string | null;
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

const show = ([key, message]: [string, Message]): string => `<section class="message">
<p class="soft">${escape(message.room)} · ${message.at.toISOString().slice(11, 19)} UTC · ${escape(message.severity)}</p>
<p><b>${escape(message.text)}</b></p>
${message.fields.map(({ name, value }) => `<p><span class="soft">${escape(name)}</span> <code>${escape(value)}</code></p>`).join('')}
${isWeb(message.link) ? `<p><a href="${escape(message.link)}">Open the alert</a></p>` : ''}
${message.buttons
  .map((button, i) =>
    button.said === null
      ? `<form class="inline" method="post" action="/chat/press"><input type="hidden" name="message" value="${escape(key)}"><input type="hidden" name="button" value="${i}"><button>${escape(button.label)}</button></form>`
      : `<p class="soft">${escape(button.label)}: ${escape(button.said)}</p>`,
  )
  .join('')}
</section>`;

/** A chat room: takes messages over HTTP, shows them, and calls back where a button is pressed. */
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
      buttons: listOf(body['buttons']).map(({ label, call }) => ({
        label: textOf(label),
        call: textOf(call),
        said: null,
      })),
    });
    response.json({ taken: true });
  });
  router.get('/messages', (_request, response) => {
    response.json({ messages: messages.all().map(([key, message]) => ({ key, ...message })) });
  });
  router.post('/press', urlencoded({ extended: false }), (request, response, next) => {
    const { message: key, button: place } = request.body as { message?: unknown; button?: unknown };
    const button = messages.get(textOf(key))?.buttons[Number(place)];
    if (button === undefined || !isWeb(button.call) || button.said !== null) {
      response.redirect(303, '/chat');
      return;
    }
    fetch(button.call, { method: 'POST', redirect: 'error' })
      .then(async (answer) => {
        const body = (await answer.json()) as { said?: unknown; detail?: unknown };
        button.said = textOf(body.said) || textOf(body.detail) || `answered ${answer.status}`;
        response.redirect(303, '/chat');
      })
      .catch(next);
  });
  router.get('/', (_request, response) => {
    const all = messages.all();
    response
      .type('html')
      .send(
        renderFrame(
          'Chat room',
          all.length === 0 ? '<p class="soft">Nobody has said anything yet.</p>' : all.map(show).join(''),
          5,
        ),
      );
  });
  return router;
}
