import { nothing } from '../../core/wire/common.js';
import {
  newSavedHunt,
  savedHunt,
  savedHuntChange,
  savedHuntList,
  savedHuntVersions,
} from '../../core/wire/saved-hunts.js';
import { route, type Route } from '../http/route.js';
import type { SavedHunts } from './service.js';

const byId = {
  type: 'object',
  required: ['id'],
  properties: { id: { type: 'string', pattern: '^[0-9]{1,15}$' } },
} as const;

/** Everyone may keep hunts, readers too: a hunt reads and changes nothing. */
export function savedHuntRoutes(hunts: SavedHunts): Route[] {
  return [
    route('get', '/saved-hunts', {
      access: 'reader',
      summary: 'Your own hunts and those that are shared',
      answer: savedHuntList,
      handle: async ({ person }) => ({ hunts: await hunts.seenBy(person.name) }),
    }),
    route('post', '/saved-hunts', {
      access: 'reader',
      summary: 'Keep a hunt under a name',
      body: newSavedHunt,
      answer: savedHunt,
      handle: async ({ body, person }) => hunts.add(body, person.name),
    }),
    route('patch', '/saved-hunts/:id', {
      access: 'reader',
      summary: 'Change a hunt of yours; another text makes a version',
      params: byId,
      body: savedHuntChange,
      answer: savedHunt,
      handle: async ({ params, body, person }) => hunts.change(Number(params.id), body, person.name),
    }),
    route('delete', '/saved-hunts/:id', {
      access: 'reader',
      summary: 'Remove a hunt of yours',
      params: byId,
      answer: nothing,
      async handle({ params, person }) {
        await hunts.remove(Number(params.id), person.name);
        return {};
      },
    }),
    route('get', '/saved-hunts/:id/versions', {
      access: 'reader',
      summary: 'Every text a hunt has had, the newest first',
      params: byId,
      answer: savedHuntVersions,
      handle: async ({ params, person }) => ({
        versions: await hunts.versions(Number(params.id), person.name),
      }),
    }),
  ];
}
