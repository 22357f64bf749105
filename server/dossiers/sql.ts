export const FIRST_AND_LAST_OF_USER =
  'SELECT min("time") AS first, max("time") AS last FROM events WHERE "user" = $1';

export const LISTS_TO_ASK = 'SELECT name, match FROM lists';
