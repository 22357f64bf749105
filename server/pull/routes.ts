import { listPulls, putPull, readPull, removePull, runPull } from '../../core/wire/endpoints/pulls.js';
import { handles, type Route } from '../http/route.js';
import type { Pulls } from './service.js';

export function pullRoutes(pulls: Pulls): Route[] {
  return [
    handles(listPulls, async () => ({ pulls: await pulls.all() })),
    handles(readPull, async ({ params }) => ({ pull: await pulls.one(params.into, params.name) })),
    handles(putPull, async ({ params, body }) => {
      await pulls.put(params.into, params.name, body);
      return {};
    }),
    handles(runPull, async ({ params, signal }) => pulls.run(params.into, params.name, signal)),
    handles(removePull, async ({ params }) => {
      await pulls.remove(params.into, params.name);
      return {};
    }),
  ];
}
