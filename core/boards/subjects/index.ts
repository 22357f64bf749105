import type { SubjectKind } from '../../subjects/kinds.js';
import type { Board } from '../board.js';
import { account } from './account.js';
import { address } from './address.js';
import { application } from './application.js';
import { host } from './host.js';
import { resource } from './resource.js';
import type { SubjectBoard } from './subject-board.js';
import { user } from './user.js';

/** The dossiers, by kind of subject. */
export const subjectBoards: Readonly<Record<SubjectKind, SubjectBoard>> = {
  user,
  host,
  address,
  account,
  resource,
  application,
};

/** What the boards of dossiers are called in addresses: `dossier-user` and so on. */
export const dossierBoards: Readonly<Record<string, Board>> = Object.fromEntries(
  Object.values(subjectBoards).map(({ kind, board }) => [`dossier-${kind}`, board]),
);
