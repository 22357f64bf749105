import { Router, json } from 'express';
import { isJsonObject } from '../../core/base/json.js';
import { escape, renderFrame } from '../page/frame.js';
import { Kept } from './kept.js';

/** A firewall that drops the addresses it is told of: a request names one in `fields.src_ip` or `address`. */
export function firewall(): Router {
  const blocks = new Kept<{ readonly at: Date; readonly why: string }>();
  const router = Router();
  router.post('/blocks', json({ limit: '64kb' }), (request, response) => {
    const body = isJsonObject(request.body) ? request.body : {};
    const fields = isJsonObject(body['fields']) ? body['fields'] : {};
    const address = body['address'] ?? fields['src_ip'];
    if (typeof address !== 'string' || !/^[0-9a-f.:]{2,45}$/i.test(address)) {
      response.status(422).json({ said: 'Name an address.' });
      return;
    }
    blocks.add(address, { at: new Date(), why: typeof body['title'] === 'string' ? body['title'] : '' });
    response.json({ said: `${address} is dropped` });
  });
  router.get('/blocks', (_request, response) => {
    response.json({ blocks: blocks.all().map(([address, block]) => ({ address, ...block })) });
  });
  router.get('/', (_request, response) => {
    const rows = blocks
      .all()
      .map(
        ([address, { at, why }]) =>
          `<tr><td><code>${escape(address)}</code></td><td>${at.toISOString().slice(11, 19)} UTC</td><td>${escape(why)}</td></tr>`,
      );
    response
      .type('html')
      .send(
        renderFrame(
          'Firewall',
          rows.length === 0
            ? '<p class="soft">No address is dropped.</p>'
            : `<table>${rows.join('')}</table>`,
          5,
        ),
      );
  });
  return router;
}
