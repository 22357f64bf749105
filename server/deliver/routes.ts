import {
  deliverAgain,
  listDeliveries,
  readOffer,
  takeOffer,
  previewActions,
} from '../../core/wire/endpoints/deliveries.js';
import {
  listDestinations,
  putDestination,
  removeDestination,
  tryDestination,
} from '../../core/wire/endpoints/destinations.js';
import {
  checkResponse,
  listResponses,
  putResponse,
  putResponseRights,
  readResponse,
  removeResponse,
} from '../../core/wire/endpoints/responses.js';
import { handles, type Route } from '../http/route.js';
import type { Destinations } from './destinations.js';
import type { Responses } from './responses.js';

export function deliveryRoutes(
  destinations: Destinations,
  responses: Responses,
  startRunbook: (name: string, alert: number, who: string) => Promise<string>,
): Route[] {
  return [
    handles(listDestinations, async () => ({ destinations: await destinations.all() })),
    handles(putDestination, async ({ params, body }) => {
      await destinations.put(params.name, body);
      return {};
    }),
    handles(removeDestination, async ({ params }) => {
      await destinations.remove(params.name);
      return {};
    }),
    handles(tryDestination, async ({ params, person }) => ({
      said: await destinations.try(params.name, person.name),
    })),
    handles(listResponses, async () => ({ responses: await responses.rights() })),
    handles(checkResponse, async ({ body }) => ({
      mistakes: [...(await responses.book.check(body.text)).mistakes],
    })),
    handles(readResponse, ({ params }) => responses.book.read(params.name)),
    handles(putResponse, ({ params, body, person }) =>
      responses.book.put(params.name, body.text, body.basedOn, person.name),
    ),
    handles(removeResponse, async ({ params }) => {
      await responses.book.remove(params.name);
      return {};
    }),
    handles(putResponseRights, async ({ params, body }) => {
      await responses.putRights(params.name, body);
      return {};
    }),
    handles(listDeliveries, ({ query }) => destinations.log(query)),
    handles(deliverAgain, async ({ params }) => {
      await destinations.again(Number(params.delivery));
      return {};
    }),
    handles(previewActions, ({ body }) => destinations.preview(body.text, body.id ?? null)),
    handles(readOffer, ({ params }) => responses.offer(params.token)),
    handles(takeOffer, async ({ params, person }) => ({
      said: await responses.take(params.token, person.name, startRunbook),
    })),
  ];
}
