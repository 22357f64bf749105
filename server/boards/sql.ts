const COLUMNS = `id::text, owner, CASE WHEN desk THEN 'desk' WHEN dossier IS NOT NULL THEN 'dossier-' || dossier END AS place, shared, named, document, version, changed`;
const SEEN = `(owner = $1 OR shared = 'everyone' OR (shared = 'named' AND $1 = ANY(named)))`;

/** $1 person */
export const BOARDS_SEEN_BY = `SELECT ${COLUMNS} FROM boards WHERE removed IS NULL AND NOT desk AND dossier IS NULL AND ${SEEN}
   ORDER BY lower(document ->> 'title'), id LIMIT 1000`;

/** $1 person, $2 id */
export const READ_BOARD = `SELECT ${COLUMNS} FROM boards WHERE removed IS NULL AND ${SEEN} AND id = $2`;

const PLACED = `(desk AND $2 = 'desk' OR dossier IS NOT NULL AND $2 = 'dossier-' || dossier)`;

/** $1 person, $2 place: their Desk, or their dossier of a kind */
export const READ_PLACED = `SELECT ${COLUMNS} FROM boards WHERE removed IS NULL AND owner = $1 AND ${PLACED}`;

/** $1 owner, $2 its place or null, $3 shared, $4 names, $5 document */
export const ADD_BOARD = `INSERT INTO boards (owner, desk, dossier, shared, named, document)
  VALUES ($1, $2::text IS NOT DISTINCT FROM 'desk', CASE WHEN starts_with($2::text, 'dossier-') THEN substr($2::text, 9)::subject_kind END, $3, $4, $5) RETURNING ${COLUMNS}`;

export const COUNT_BOARDS_OF =
  'SELECT count(*)::int AS boards FROM boards WHERE owner = $1 AND removed IS NULL';

/** $1 id, $2 owner */
export const HOLD_BOARD = `SELECT ${COLUMNS} FROM boards WHERE id = $1 AND owner = $2 AND removed IS NULL FOR UPDATE`;

/** $1 id, $2 shared, $3 names, $4 document, $5 version */
export const CHANGE_BOARD = `UPDATE boards SET shared = $2, named = $3, document = $4, version = $5, changed = now() WHERE id = $1 RETURNING ${COLUMNS}`;

/** $1 board, $2 version, $3 document, $4 by */
export const ADD_BOARD_VERSION =
  'INSERT INTO board_versions (board, version, document, by) VALUES ($1, $2, $3, $4)';

/** $1 id, $2 owner */
export const REMOVE_BOARD =
  'UPDATE boards SET removed = now() WHERE id = $1 AND owner = $2 AND removed IS NULL AND NOT desk AND dossier IS NULL';

/** $1 owner, $2 place */
export const REMOVE_PLACED = `DELETE FROM boards WHERE owner = $1 AND ${PLACED}`;

/** $1 id, $2 owner */
export const RESTORE_BOARD = `UPDATE boards SET removed = NULL WHERE id = $1 AND owner = $2 AND removed IS NOT NULL RETURNING ${COLUMNS}`;

/** $1 id */
export const VERSIONS_OF_BOARD =
  'SELECT version, by, at, document FROM board_versions WHERE board = $1 ORDER BY version DESC LIMIT 200';

export const WHO_IS_THERE = 'SELECT name FROM users WHERE name = ANY($1)';

/** $1 id, $2 version, $3 who asks */
export const TEXT_OF_SAVED_HUNT = `SELECT v.text FROM saved_hunt_versions v JOIN saved_hunts h ON h.id = v.hunt
  WHERE v.hunt = $1 AND v.version = $2 AND (h.shared OR h.owner = $3)`;

/** What the answers over a window rest on: it is another where events came in, were read again, or a list changed. $1, $2 window */
export const STATE_OF_WINDOW = `SELECT concat_ws(' ', (SELECT concat(count(*), ' ', sum(events)) FROM event_hours
     WHERE hour >= date_trunc('hour', $1::timestamptz) AND hour < $2), (SELECT max(updated) FROM lists)) AS state`;

export const FIRST_HOUR = 'SELECT min(hour) AS first FROM event_hours';

export const ALERTS_BY_HOUR = `SELECT date_trunc('hour', first_event) AS hour, count(*)::int AS alerts FROM alerts
  WHERE first_event >= $1 AND first_event < $2 GROUP BY 1`;

/** $1 person */
export const COUNT_SCHEDULED_OF =
  'SELECT count(*)::int AS boards FROM boards WHERE owner = $1 AND removed IS NULL AND due IS NOT NULL';

/** $1 names: those of them that mail can be sent to */
export const MAILBOXES_AMONG = `SELECT name FROM destinations WHERE kind = 'mail' AND name = ANY($1)`;

export const ROLE_OF_PERSON = 'SELECT role FROM users WHERE name = $1';

/** $1 board, $2 when it is answered next, or null */
export const PUT_DUE = 'UPDATE boards SET due = $2 WHERE id = $1';

/**
 * The board whose time has come, of whoever has waited longest for a sheet: who has many boards holds nobody up. Held for
 * this transaction. $1 now
 */
export const HOLD_DUE_BOARD = `SELECT b.id, b.owner, b.document, b.version FROM boards b JOIN users u ON u.name = b.owner
  WHERE b.due <= $1 AND b.removed IS NULL AND NOT u.disabled
  ORDER BY (SELECT max(s.began) FROM board_sheets s JOIN boards o ON o.id = s.board WHERE o.owner = b.owner) NULLS FIRST, b.due, b.id
  LIMIT 1 FOR UPDATE OF b SKIP LOCKED`;

/** $1 board, $2 its time, $3 version, $4 now. None where the time was taken before. */
export const BEGIN_SHEET = `INSERT INTO board_sheets (board, due, version, began) VALUES ($1, $2, $3, $4)
  ON CONFLICT (board, due) DO NOTHING RETURNING id`;

/** Takes up a sheet that was left in the middle, of the board as it is now. $1 now, $2 begun before which moment */
export const TAKE_LEFT_SHEET = `UPDATE board_sheets AS s SET began = $1, tries = s.tries + 1, version = b.version FROM boards AS b
  WHERE b.id = s.board AND s.id = (
    SELECT l.id FROM board_sheets l JOIN boards o ON o.id = l.board JOIN users u ON u.name = o.owner
     WHERE l.made IS NULL AND l.began < $2 AND o.removed IS NULL AND NOT u.disabled
     ORDER BY l.began LIMIT 1 FOR UPDATE OF l SKIP LOCKED)
  RETURNING s.id, s.board, s.due, s.tries, b.owner, b.document`;

/** $1 id, $2 when it was made, $3 cards, $4 failed, $5 what is wrong or null, $6 the page packed or null */
export const END_SHEET = `UPDATE board_sheets SET made = $2, cards = $3, failed = $4, problem = $5, page = $6
  WHERE id = $1 AND made IS NULL`;

/** Those that are kept no longer. $1 board, $2 so many are kept */
export const LET_SHEETS_GO =
  'DELETE FROM board_sheets WHERE board = $1 AND id NOT IN (SELECT id FROM board_sheets WHERE board = $1 ORDER BY due DESC LIMIT $2)';

/** $1 board */
export const SHEETS_OF_BOARD = `SELECT s.id::int, s.due, s.version, s.made, s.cards, s.failed, s.problem, s.page IS NOT NULL AS page,
    (SELECT coalesce(jsonb_agg(jsonb_build_object('to', d.action ->> 'to', 'state', d.state, 'said', d.said) ORDER BY d.id), '[]')
       FROM deliveries d WHERE d.sheet = s.id) AS mailed
  FROM board_sheets s WHERE s.board = $1 ORDER BY s.due DESC LIMIT 100`;

/** $1 board */
export const DUE_OF_BOARD = 'SELECT due FROM boards WHERE id = $1';

/** $1 board, $2 sheet */
export const PAGE_OF_SHEET =
  'SELECT due, page FROM board_sheets WHERE board = $1 AND id = $2 AND page IS NOT NULL';

/** $1 sheet, $2 what is to be done */
export const ADD_SHEET_DELIVERY = 'INSERT INTO deliveries (sheet, action) VALUES ($1, $2)';
