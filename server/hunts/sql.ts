import { LIST_COLUMNS } from '../lists/columns-sql.js';

export const LISTS_WITH_COLUMNS = `SELECT l.name, l.match, ${LIST_COLUMNS} AS columns FROM lists l`;

export const LISTS_TO_ASK = 'SELECT name, match FROM lists';

export const COUNT_EVENTS =
  'SELECT sum(events)::float8 AS events FROM event_hours WHERE hour >= $1 AND hour < $2';

export const HELD_FROM_BY_SOURCE = `SELECT to_char(held_from, 'YYYY-MM-DD') AS day, array_agg(name ORDER BY name) AS sources FROM sources
  WHERE held_from > $1::timestamptz GROUP BY held_from ORDER BY held_from`;

export const COUNT_EVENTS_OF = `SELECT sum(events)::float8 AS events FROM event_hours WHERE hour >= $1 AND hour < $2
              AND ($3::text[] IS NULL OR kind::text = ANY($3)) AND ($4::text[] IS NULL OR source = ANY($4))`;
