export const COLUMNS = 'id::int, path::int, parent::int, made, name, question, rows, complete, bars';

export const HOLD_POINT = `SELECT path::int, (SELECT count(*)::int FROM hunt_points o WHERE o.path = p.path) AS points
       FROM hunt_points p WHERE id = $1 AND owner = $2 FOR UPDATE`;

export const ASK_POINT_AGAIN = `UPDATE hunt_points SET question = $3::jsonb, rows = $4, complete = $5, bars = $6
      WHERE id = (SELECT id FROM hunt_points WHERE (id = $1 OR parent = $1) AND same = $2 ORDER BY id LIMIT 1)
      RETURNING ${COLUMNS}`;

export const ADD_POINT = `INSERT INTO hunt_points (id, path, parent, owner, same, question, rows, complete, bars)
   OVERRIDING SYSTEM VALUE
   SELECT n.id, coalesce($1, n.id), $2, $3, $4, $5::jsonb, $6, $7, $8
     FROM (SELECT nextval(pg_get_serial_sequence('hunt_points', 'id')) AS id) AS n
   RETURNING ${COLUMNS}`;

export const REMOVE_OLD_PATHS = `DELETE FROM hunt_points WHERE owner = $1 AND path IN (
       SELECT path FROM hunt_points WHERE owner = $1 GROUP BY path
       HAVING bool_and(name = '') ORDER BY max(made) DESC, path DESC OFFSET $2)`;

export const POINTS_OF_PATH = `SELECT ${COLUMNS} FROM hunt_points
  WHERE path = (SELECT path FROM hunt_points WHERE id = $1 AND owner = $2) ORDER BY id`;

export const BEGINNINGS = `SELECT ${COLUMNS} FROM hunt_points p
   JOIN (SELECT path AS begun, max(made) AS walked FROM hunt_points WHERE owner = $1 GROUP BY path) AS w ON p.id = w.begun
  ORDER BY w.walked DESC, p.id DESC LIMIT $2`;

export const NAME_POINT = `UPDATE hunt_points SET name = $3 WHERE id = $1 AND owner = $2 RETURNING ${COLUMNS}`;
