import {
  changeSavedHunt,
  keepHunt,
  listHuntVersions,
  listSavedHunts,
  removeSavedHunt,
} from '../../core/wire/endpoints/saved-hunts.js';
import { handles, type Route } from '../http/route.js';
import type { SavedHunts } from './service.js';

/** Everyone may keep hunts, readers too: a hunt reads and changes nothing. */
export function savedHuntRoutes(hunts: SavedHunts): Route[] {
  return [
    handles(listSavedHunts, async ({ person }) => ({ hunts: await hunts.seenBy(person.name) })),
    handles(keepHunt, async ({ body, person }) => hunts.add(body, person.name)),
    handles(changeSavedHunt, async ({ params, body, person }) =>
      hunts.change(Number(params.id), body, person.name),
    ),
    handles(removeSavedHunt, async ({ params, person }) => {
      await hunts.remove(Number(params.id), person.name);
      return {};
    }),
    handles(listHuntVersions, async ({ params, person }) => ({
      versions: await hunts.versions(Number(params.id), person.name),
    })),
  ];
}
