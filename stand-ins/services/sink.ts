import { createHmac, timingSafeEqual } from 'node:crypto';
import { Router, text } from 'express';
import { escape, renderFrame } from '../page/frame.js';
import { Kept } from './kept.js';

/** What the sink and whoever sends to it both know. */
export const SINK_SECRET = 'skerry-line sink';

interface Request {
  readonly at: Date;
  readonly signed: boolean;
  readonly body: string;
}

function isSigned(time: string | undefined, signature: string | undefined, body: string): boolean {
  if (time === undefined || signature === undefined) return false;
  const wanted = createHmac('sha256', SINK_SECRET).update(`${time}.${body}`).digest();
  const given = Buffer.from(signature, 'hex');
  return given.length === wanted.length && timingSafeEqual(given, wanted);
}

/** Takes requests and shows them, with whether they were signed by someone who knows the secret. */
export function webhookSink(): Router {
  const requests = new Kept<Request>();
  const router = Router();
  router.post('/', text({ type: () => true, limit: '256kb' }), (request, response) => {
    const body = typeof request.body === 'string' ? request.body : '';
    requests.add(request.get('idempotency-key') ?? String(Math.random()), {
      at: new Date(),
      signed: isSigned(request.get('lamp-time'), request.get('lamp-signature'), body),
      body,
    });
    response.json({ taken: true });
  });
  router.get('/requests', (_request, response) => {
    response.json({ requests: requests.all().map(([key, request]) => ({ key, ...request })) });
  });
  router.get('/', (_request, response) => {
    const rows = requests
      .all()
      .map(
        ([key, { at, signed, body }]) =>
          `<tr><td>${at.toISOString().slice(11, 19)} UTC<br><span class="soft">${signed ? 'signed by a friend' : 'not signed'}</span></td><td><code>${escape(key)}</code><pre>${escape(body)}</pre></td></tr>`,
      );
    response
      .type('html')
      .send(
        renderFrame(
          'Webhook sink',
          rows.length === 0 ? '<p class="soft">Nothing came in yet.</p>' : `<table>${rows.join('')}</table>`,
          5,
        ),
      );
  });
  return router;
}
