import { markings, type Marking } from './words.js';

/** True where what bears a marking may be read by those a report is for. */
export const mayLeave = (marking: Marking, reader: Marking): boolean =>
  markings.indexOf(marking) >= markings.indexOf(reader);

/** The stricter of two markings. */
export const stricter = (a: Marking, b: Marking): Marking => (mayLeave(a, b) ? b : a);

/** As it is written on a page: `TLP:AMBER+STRICT`. */
export const labelOfMarking = (marking: Marking): string => `TLP:${marking.toUpperCase()}`;

/** Who may read it, in words (TLP 2.0). */
export const MEANING: Readonly<Record<Marking, string>> = {
  red: 'for the eyes of those it was given to, and nobody else',
  'amber+strict': 'within the organisation, as far as needed',
  amber: 'within the organisation and its clients, as far as needed',
  green: 'within the community',
  clear: 'for everybody',
};
