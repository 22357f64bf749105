import type { Board } from '../board.js';
import { cloud } from './cloud.js';
import { desk } from './desk.js';
import { findings, firewall, namesAsked, programs, reads, rulesAndAlerts, sources, storage } from './more.js';
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
};
