import {
  findAnything,
  joinNames,
  namesOfIds,
  readDossier,
  unjoinNames,
} from '../../core/wire/endpoints/dossiers.js';
import { isSubjectKind, type SubjectKind } from '../../core/subjects/kinds.js';
import { notFound } from '../failure.js';
import { handles, type Route } from '../http/route.js';
import { readCarried } from '../hunts/read-carried.js';
import { readWindow } from '../hunts/window.js';
import { type Dossiers, identityToWire } from './dossier.js';
import type { Finder } from './find.js';
import type { Identities } from './identities.js';

export function subjectRoutes(dossiers: Dossiers, identities: Identities, finder: Finder): Route[] {
  return [
    handles(findAnything, async ({ query, person }) => ({
      found: await finder.find(query.q, query.limit ?? 20, person.name),
    })),
    handles(namesOfIds, async ({ body }) => ({
      names: Object.fromEntries(await identities.namesOf(body.kind, body.ids)),
    })),
    handles(readDossier, async ({ params, query, person, signal }) =>
      dossiers.read(
        params.kind,
        params.name,
        { window: readWindow(query), zone: query.zone ?? 'UTC', carried: readCarried(query.carried) },
        person.name,
        signal,
      ),
    ),
    handles(joinNames, async ({ params, body, person }) =>
      identityToWire(await identities.say(kindOf(params.kind), params.name, body, person.name)),
    ),
    handles(unjoinNames, async ({ params, query }) =>
      identityToWire(await identities.unsay(kindOf(params.kind), params.name, query.other)),
    ),
  ];
}

function kindOf(word: string): SubjectKind {
  if (!isSubjectKind(word)) throw notFound(`kind of subject "${word}"`);
  return word;
}
