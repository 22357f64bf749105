import type { FoundRows } from '../../../core/wire/runbooks.js';
import { writeHuntAddress } from '../../results/hunt-address.js';

/** The address of what a step hunted for, under the Beam, its blanks filled. */
export const withHunt = (search: string, { text, blanks }: FoundRows): string =>
  `/hunt?${writeHuntAddress(new URLSearchParams(search), { text, blanks }).toString()}`;
