import { beginReread, listRereads, stopReread } from '../../core/wire/endpoints/rereads.js';
import { handles, type Route } from '../http/route.js';
import type { Rereads } from './service.js';

export function rereadRoutes(rereads: Rereads): Route[] {
  return [
    handles(listRereads, async ({ params }) => ({ rereads: await rereads.of(params.source) })),
    handles(beginReread, async ({ params, body, person }) => ({
      id: await rereads.begin(params.source, body.discard ?? false, person.name),
    })),
    handles(stopReread, async ({ params }) => {
      await rereads.stop(Number(params.work));
      return {};
    }),
  ];
}
