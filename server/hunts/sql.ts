import { LIST_COLUMNS } from '../lists/columns-sql.js';

export const READ_LISTS = `SELECT l.name, l.match, ${LIST_COLUMNS} AS columns FROM lists l`;

export const READ_LISTS_TO_LISTS = 'SELECT name, match FROM lists';

export const READ_EVENT_HOURS =
  'SELECT sum(events)::float8 AS events FROM event_hours WHERE hour >= $1 AND hour < $2';

export const READ_SOURCES = `SELECT to_char(held_from, 'YYYY-MM-DD') AS day, array_agg(name ORDER BY name) AS sources FROM sources
  WHERE held_from > $1::timestamptz GROUP BY held_from ORDER BY held_from`;

export const READ_EVENT_HOURS_TO_COST = `SELECT sum(events)::float8 AS events FROM event_hours WHERE hour >= $1 AND hour < $2
              AND ($3::text[] IS NULL OR kind::text = ANY($3)) AND ($4::text[] IS NULL OR source = ANY($4))`;
