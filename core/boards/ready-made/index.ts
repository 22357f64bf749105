import type { Board } from '../board.js';
import { cloud } from './cloud.js';
import { coverage } from './coverage.js';
import { desk } from './desk.js';
import { findings } from './findings.js';
import { firewall } from './firewall.js';
import { namesAsked } from './names-asked.js';
import { programs } from './programs.js';
import { reads } from './reads.js';
import { rulesAndAlerts } from './rules-and-alerts.js';
import { sources } from './sources.js';
import { storage } from './storage.js';
import { rights } from './rights.js';
import { signIns } from './sign-ins.js';
import { webAttacks } from './web-attacks.js';

/** The boards that ship, by the names they have in addresses. */
export const readyMade: Readonly<Record<string, Board>> = {
  desk,
  'sign-ins': signIns,
  rights,
  cloud,
  reads,
  firewall,
  names: namesAsked,
  'web-attacks': webAttacks,
  findings,
  storage,
  programs,
  sources,
  alerts: rulesAndAlerts,
  coverage,
};
