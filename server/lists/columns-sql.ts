/** The columns of a list `l`, its key first and then by name, as its first thousand rows have them; without expiry. */
export const LIST_COLUMNS = `ARRAY(SELECT l.key_column UNION ALL
    (SELECT DISTINCT k FROM (SELECT cells FROM list_rows WHERE list = l.name ORDER BY position LIMIT 1000) AS c, jsonb_object_keys(c.cells) AS k
      WHERE k NOT IN (l.key_column, 'expires') ORDER BY 1))`;
