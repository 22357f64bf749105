import { LIST_COLUMNS } from './columns-sql.js';

export const LISTS_TO_LOOK_UP = 'SELECT name, match FROM lists WHERE name = ANY($1)';

export const ROWS_TO_LOOK_UP =
  'SELECT list, key, cells, expires FROM list_rows WHERE list = ANY($1) AND (expires IS NULL OR expires > now()) ORDER BY list, position';

export const ADD_ROWS = `INSERT INTO list_rows (list, position, key, folded, network, pattern, expires, cells)
  SELECT $1, r.position, r.key, r.folded, r.network, r.pattern, r.expires, r.cells
  FROM jsonb_to_recordset($2) AS r(position int, key text, folded text, network inet, pattern text, expires timestamptz, cells jsonb)`;

export const TOUCH_LIST = 'UPDATE lists SET updated = now() WHERE name = $1';

export const NEXT_POSITION = 'SELECT coalesce(max(position), -1) + 1 AS next FROM list_rows WHERE list = $1';

export const REMOVE_ROWS_OF_KEYS = 'DELETE FROM list_rows WHERE list = $1 AND folded = ANY($2::text[])';

export const COLUMNS_OF_LIST = `SELECT k AS column FROM (SELECT cells FROM list_rows WHERE list = $1 ORDER BY position LIMIT 1000) AS c, jsonb_object_keys(c.cells) AS k
    GROUP BY k ORDER BY count(*) DESC, k`;

export const FIND_ROWS = `SELECT position, cells, expires, (count(*) OVER ())::int AS found FROM list_rows
    WHERE list = $1 AND strpos(lower(cells::text), lower($2)) > 0 ORDER BY position OFFSET $3 LIMIT $4`;

export const PUT_LIST = `INSERT INTO lists (name, match, key_column, description) VALUES ($1, $2, $3, coalesce($4, ''))
   ON CONFLICT (name) DO UPDATE SET match = $2, key_column = $3, description = coalesce($4, lists.description)`;

/** A list where there is none of its name; rows of one that is there stay. */
export const MAKE_LIST = `INSERT INTO lists (name, match, key_column, description) VALUES ($1, $2, $3, coalesce($4, ''))
   ON CONFLICT (name) DO NOTHING`;

export const REMOVE_ALL_ROWS = 'DELETE FROM list_rows WHERE list = $1';

export const KEY_OF_LIST = 'SELECT match, key_column AS key FROM lists WHERE name = $1';

export const COUNT_ROWS = 'SELECT count(*)::int AS rows FROM list_rows WHERE list = $1';

export const HOLD_LIST = 'SELECT match, key_column AS key FROM lists WHERE name = $1 FOR UPDATE';

export const REMOVE_ROWS = 'DELETE FROM list_rows WHERE list = $1 AND position = ANY($2::int[])';

export const REMOVE_LIST = 'DELETE FROM lists WHERE name = $1';

export const REMOVE_PULL_OF_LIST = `DELETE FROM pulls WHERE "into" = 'list' AND name = $1`;

// A recipe uses a list in its newest version; a rule names it between percent signs.
export const LIST_SUMMARIES = `
  SELECT l.name, l.description, l.match, l.key_column, l.updated, r.rows, r.expired, r.bytes, ${LIST_COLUMNS} AS columns,
         coalesce((SELECT json_agg(u ORDER BY u.what, u.name) FROM (
           SELECT 'recipe' AS what, n.name FROM (SELECT DISTINCT ON (name) name, document FROM recipes ORDER BY name, version DESC) AS n
            WHERE n.document::jsonb @> jsonb_build_object('lookups', jsonb_build_array(jsonb_build_object('list', l.name)))
           UNION ALL
           SELECT 'rule', title FROM rules WHERE strpos(text, '%' || l.name || '%') > 0
         ) AS u), '[]') AS used_by
    FROM lists l
    CROSS JOIN LATERAL (
      SELECT count(*)::int AS rows, (count(*) FILTER (WHERE expires <= now()))::int AS expired,
             coalesce(sum(length(cells::text)), 0)::int AS bytes
        FROM list_rows WHERE list = l.name
    ) AS r`;
