import { nothing } from '../../core/wire/common.js';
import { logSourceBody, logSourceList, logSourceWire } from '../../core/wire/rules.js';
import { route, type Route } from '../http/route.js';
import type { LogSources } from './log-sources.js';

const numbered = {
  type: 'object',
  required: ['entry'],
  properties: { entry: { type: 'string', pattern: '^[1-9][0-9]{0,14}$' } },
} as const;

export function logSourceRoutes(logSources: LogSources): Route[] {
  return [
    route('get', '/log-sources', {
      access: 'reader',
      summary: 'What log sources of the open rule format mean here',
      answer: logSourceList,
      handle: () => logSources.all(),
    }),
    route('post', '/log-sources', {
      access: 'analyst',
      summary: 'Say what a log source means',
      body: logSourceBody,
      answer: logSourceWire,
      handle: ({ body }) => logSources.add(body),
    }),
    route('put', '/log-sources/:entry', {
      access: 'analyst',
      summary: 'Change what a log source means',
      params: numbered,
      body: logSourceBody,
      answer: logSourceWire,
      handle: ({ params, body }) => logSources.change(Number(params.entry), body),
    }),
    route('delete', '/log-sources/:entry', {
      access: 'analyst',
      summary: 'Take a line out of the table of log sources',
      params: numbered,
      answer: nothing,
      handle: async ({ params }) => {
        await logSources.remove(Number(params.entry));
        return {};
      },
    }),
  ];
}
