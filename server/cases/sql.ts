/** Cases as lists show them. */
export const CASE_SUMMARIES = `SELECT c.id, c.title, c.owner, c.state, c.created, c.updated,
  (SELECT count(*)::int FROM case_pins p WHERE p."case" = c.id) AS pins FROM cases c`;

export const READ_CASES = `SELECT *, ARRAY[closed::text, age::text, id::text] AS place
   FROM (${CASE_SUMMARIES}) AS c, LATERAL (SELECT (c.state = 'closed')::int AS closed, -extract(epoch FROM c.updated) AS age) AS o
  WHERE $1::int IS NULL OR (closed, age, id) > ($1, $2::numeric, $3::bigint) ORDER BY closed, age, id LIMIT $4`;

export const PINS_OF_CASE = `SELECT id, kind, ref, title, time, who, at FROM case_pins WHERE "case" = $1 ORDER BY coalesce(time, at), id LIMIT $2`;

export const NOTES_OF_CASE =
  'SELECT id, who, at, text FROM case_notes WHERE "case" = $1 ORDER BY id LIMIT $2';

export const ADD_CASE = 'INSERT INTO cases (title, owner) VALUES ($1, $2) RETURNING id';

export const CHANGE_CASE = `UPDATE cases SET title = coalesce($2, title), owner = coalesce($3, owner), state = coalesce($4, state), updated = now() WHERE id = $1`;

export const ADD_NOTE = 'INSERT INTO case_notes ("case", who, text) VALUES ($1, $2, $3)';

export const ADD_PIN = `INSERT INTO case_pins ("case", kind, ref, title, time, who) VALUES ($1, $2, $3, $4, $5, $6) ON CONFLICT DO NOTHING`;

export const FIND_ALERT = 'SELECT 1 FROM alerts WHERE id::text = $1';

export const REMOVE_PIN = 'DELETE FROM case_pins WHERE id = $1 AND "case" = $2';

export const TOUCH_CASE = 'UPDATE cases SET updated = now() WHERE id = $1';
