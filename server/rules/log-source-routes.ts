import {
  addLogSource,
  changeLogSource,
  listLogSources,
  removeLogSource,
} from '../../core/wire/endpoints/log-sources.js';
import { handles, type Route } from '../http/route.js';
import type { LogSources } from './log-sources.js';

export function logSourceRoutes(logSources: LogSources): Route[] {
  return [
    handles(listLogSources, () => logSources.all()),
    handles(addLogSource, ({ body }) => logSources.add(body)),
    handles(changeLogSource, ({ params, body }) => logSources.change(Number(params.entry), body)),
    handles(removeLogSource, async ({ params }) => {
      await logSources.remove(Number(params.entry));
      return {};
    }),
  ];
}
