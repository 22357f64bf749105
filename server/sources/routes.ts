import {
  addSource,
  changeSource,
  listSources,
  removeSource,
  renameSource,
  renewSourceKey,
} from '../../core/wire/endpoints/sources.js';
import { handles, type Route } from '../http/route.js';
import type { Sources } from './service.js';

export function sourceRoutes(sources: Sources): Route[] {
  return [
    handles(listSources, async () => ({ sources: await sources.all() })),
    handles(addSource, async ({ body }) => ({
      key: await sources.add({ ...body, description: body.description ?? '' }),
    })),
    handles(renewSourceKey, async ({ params }) => ({ key: await sources.rotateKey(params.source) })),
    handles(changeSource, async ({ params, body }) => {
      await sources.change(params.source, body);
      return {};
    }),
    handles(removeSource, async ({ params }) => {
      await sources.remove(params.source);
      return {};
    }),
    handles(renameSource, async ({ params, body }) => {
      await sources.rename(params.source, body.name);
      return {};
    }),
  ];
}
