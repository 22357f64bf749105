import { LIST_COLUMNS } from './columns-sql.js';

export const READ_LISTS = 'SELECT name, match FROM lists WHERE name = ANY($1)';

export const READ_LIST_ROWS =
  'SELECT list, key, cells, expires FROM list_rows WHERE list = ANY($1) AND (expires IS NULL OR expires > now()) ORDER BY list, position';

export const ADD_LIST_ROWS = `INSERT INTO list_rows (list, position, key, folded, network, pattern, expires, cells)
  SELECT $1, r.position, r.key, r.folded, r.network, r.pattern, r.expires, r.cells
  FROM jsonb_to_recordset($2) AS r(position int, key text, folded text, network inet, pattern text, expires timestamptz, cells jsonb)`;

export const CHANGE_LISTS = 'UPDATE lists SET updated = now() WHERE name = $1';

export const READ_LIST_ROWS_TO_ADD_ROWS =
  'SELECT coalesce(max(position), -1) + 1 AS next FROM list_rows WHERE list = $1';

export const REMOVE_LIST_ROWS = 'DELETE FROM list_rows WHERE list = $1 AND folded = ANY($2::text[])';

export const READ_LIST_ROWS_TO_PAGE = `SELECT k AS column FROM (SELECT cells FROM list_rows WHERE list = $1 ORDER BY position LIMIT 1000) AS c, jsonb_object_keys(c.cells) AS k
    GROUP BY k ORDER BY count(*) DESC, k`;

export const READ_LIST_ROWS_TO_PAGE_2 = `SELECT position, cells, expires, (count(*) OVER ())::int AS found FROM list_rows
    WHERE list = $1 AND strpos(lower(cells::text), lower($2)) > 0 ORDER BY position OFFSET $3 LIMIT $4`;

export const ADD_LISTS = `INSERT INTO lists (name, match, key_column, description) VALUES ($1, $2, $3, coalesce($4, ''))
   ON CONFLICT (name) DO UPDATE SET match = $2, key_column = $3, description = coalesce($4, lists.description)`;

export const REMOVE_LIST_ROWS_TO_PUT = 'DELETE FROM list_rows WHERE list = $1';

export const READ_LISTS_TO_REPLACE_ROWS = 'SELECT match, key_column AS key FROM lists WHERE name = $1';

export const READ_LIST_ROWS_TO_IMPORT = 'SELECT count(*)::int AS rows FROM list_rows WHERE list = $1';

export const HOLD_LISTS = 'SELECT match, key_column AS key FROM lists WHERE name = $1 FOR UPDATE';

export const REMOVE_LIST_ROWS_TO_CHANGE_ROWS =
  'DELETE FROM list_rows WHERE list = $1 AND position = ANY($2::int[])';

export const REMOVE_LISTS = 'DELETE FROM lists WHERE name = $1';

export const REMOVE_PULLS = `DELETE FROM pulls WHERE "into" = 'list' AND name = $1`;

// A recipe uses a list in its newest version; a rule names it between percent signs.
export const SUMMARIES = `
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
