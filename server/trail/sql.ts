export const READ_CHANGES = `SELECT at, who, name, what, ARRAY[id] AS place FROM changes
  WHERE kind = $1 AND ($2::text IS NULL OR name = $2) AND ($3::bigint IS NULL OR id < $3) ORDER BY id DESC LIMIT $4`;

/** $1 who, $2 kind, $3 name, $4 what. */
export const ADD_CHANGE = 'INSERT INTO changes (who, kind, name, what) VALUES ($1, $2, $3, $4)';
