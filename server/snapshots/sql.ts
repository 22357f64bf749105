export const ABOUT = 'id::int, name, note, owner, asked, question, row_count AS count, complete';

export const READ_SNAPSHOTS = `SELECT ${ABOUT}, ARRAY[age::text, id::text] AS place
   FROM snapshots, LATERAL (SELECT -extract(epoch FROM asked) AS age) AS o
  WHERE $1::numeric IS NULL OR (age, -id) > ($1, -$2::bigint) ORDER BY age, id DESC LIMIT $3`;

export const ADD_SNAPSHOT = `INSERT INTO snapshots (name, note, owner, asked, question, columns, rows, events, row_count, complete, picture)
  VALUES ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10, $11) RETURNING ${ABOUT}`;

export const READ_SNAPSHOT = `SELECT ${ABOUT}, columns, rows, events, picture FROM snapshots WHERE id = $1`;

/** The cases that hold a snapshot. */
export const CASES_THAT_HOLD = `SELECT c.number FROM case_pins p JOIN cases c ON c.id = p."case" WHERE p.kind = 'snapshot' AND p.ref = $1 ORDER BY c.id LIMIT 5`;

export const REMOVE_SNAPSHOT = 'DELETE FROM snapshots WHERE id = $1 AND owner = $2';
