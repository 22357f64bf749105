import {
  discardSetAside,
  exportSetAside,
  listSetAside,
  retrySetAside,
} from '../../core/wire/endpoints/set-aside.js';
import { ANSWERED, handles, type Route } from '../http/route.js';
import type { SetAside } from './service.js';

export function setAsideRoutes(setAside: SetAside): Route[] {
  return [
    handles(listSetAside, async ({ params }) => setAside.groups(params.source)),
    handles(retrySetAside, async ({ params, body }) => setAside.retry(params.source, body.group)),
    handles(discardSetAside, async ({ params, body, person }) => ({
      discarded: await setAside.discard(params.source, body.group, body.because, person.name),
    })),
    handles(exportSetAside, async ({ params, query, response, signal }) => {
      response.type('text/plain; charset=utf-8');
      response.attachment(`${params.source}-set-aside.txt`);
      for await (const records of setAside.records(params.source, query.group)) {
        if (signal.aborted) break;
        if (!response.write(records.map(({ raw }) => `${raw}\n`).join('')))
          await new Promise<void>((ready) => {
            response.once('drain', ready);
            signal.addEventListener('abort', () => ready(), { once: true });
          });
      }
      response.end();
      return ANSWERED;
    }),
  ];
}
