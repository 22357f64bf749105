export const COLUMNS = 'id::int, name, folder, description, tags, text, owner, shared, version, changed';

export const HUNTS_SEEN_BY = `SELECT ${COLUMNS} FROM saved_hunts WHERE shared OR owner = $1 ORDER BY folder = '' DESC, lower(folder), lower(name), id`;

export const ADD_HUNT = `INSERT INTO saved_hunts (name, folder, description, tags, text, owner, shared)
     VALUES ($1, $2, $3, $4, $5, $6, $7) RETURNING ${COLUMNS}`;

export const ADD_FIRST_VERSION =
  'INSERT INTO saved_hunt_versions (hunt, version, text, by) VALUES ($1, 1, $2, $3)';

export const HOLD_HUNT = `SELECT ${COLUMNS} FROM saved_hunts WHERE id = $1 AND owner = $2 FOR UPDATE`;

export const CHANGE_HUNT = `UPDATE saved_hunts SET name = $2, folder = $3, description = $4, tags = $5, text = $6, shared = $7,
            version = $8, changed = now() WHERE id = $1 RETURNING ${COLUMNS}`;

export const ADD_VERSION =
  'INSERT INTO saved_hunt_versions (hunt, version, text, by) VALUES ($1, $2, $3, $4)';

export const REMOVE_HUNT = 'DELETE FROM saved_hunts WHERE id = $1 AND owner = $2';

export const VERSIONS_OF_HUNT = `SELECT v.version, v.text, v.by, v.at FROM saved_hunt_versions v JOIN saved_hunts h ON h.id = v.hunt
  WHERE h.id = $1 AND (h.shared OR h.owner = $2) ORDER BY v.version DESC`;
