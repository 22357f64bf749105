export const READ_EVENTS = 'SELECT min("time") AS first, max("time") AS last FROM events WHERE "user" = $1';

export const READ_LISTS = 'SELECT name, match FROM lists';
