import { Router, json } from 'express';
import { isJsonObject } from '../../core/base/json.js';
import { escape, renderFrame } from '../page/frame.js';
import { Kept } from './kept.js';

interface Change {
  readonly at: Date;
  readonly said: string;
}

/** A cloud that takes rights from users of an account, and gives them back; each order once by its key. */
export function cloudRights(): Router {
  const changes = new Kept<Change>();
  const router = Router();
  router.post('/accounts/:account/rights/:does', json({ limit: '16kb' }), (request, response) => {
    const body = isJsonObject(request.body) ? request.body : {};
    const { user, right, key } = body;
    const { account, does } = request.params;
    if (typeof user !== 'string' || typeof right !== 'string' || (does !== 'remove' && does !== 'give')) {
      response.status(422).json({ said: 'Name the user and the right.' });
      return;
    }
    const said = `${right} in ${account} ${does === 'remove' ? 'taken from' : 'given back to'} ${user}`;
    changes.add(typeof key === 'string' ? key : said, { at: new Date(), said });
    response.json({ said });
  });
  router.get('/changes', (_request, response) => {
    response.json({ changes: changes.all().map(([, { said }]) => said) });
  });
  router.get('/', (_request, response) => {
    const rows = changes
      .all()
      .map(
        ([, { at, said }]) =>
          `<tr><td>${at.toISOString().slice(11, 19)} UTC</td><td>${escape(said)}</td></tr>`,
      );
    response
      .type('html')
      .send(
        renderFrame(
          'Rights in the cloud',
          rows.length === 0 ? '<p class="soft">Nothing was changed.</p>' : `<table>${rows.join('')}</table>`,
          5,
        ),
      );
  });
  return router;
}
