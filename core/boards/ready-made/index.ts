import type { Board } from '../board.js';
import { desk } from './desk.js';
import { signIns } from './sign-ins.js';

/** The boards that ship, by the names they have in addresses. */
export const readyMade: Readonly<Record<string, Board>> = {
  desk,
  'sign-ins': signIns,
};
