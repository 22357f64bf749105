import { huntAround } from '../../beam/around.js';

/** A minute on either side of an event. */
const AROUND_MILLISECONDS = 60_000;

/** Where an event is read: all sources a minute around it, with the event open. */
export const eventAddress = (event: { readonly id: string; readonly time: string }, search: string): string =>
  `${huntAround(search, { from: event.time, to: event.time }, AROUND_MILLISECONDS, 'from all')}&event=${event.id}`;
