/** Records of one reason: its code, and its words up to where it quotes the record. */
export const GROUP = `(code || ' ' || split_part(reason, ':', 1))`;

export const READ_GROUPS = `WITH own AS (SELECT *, ${GROUP} AS "group" FROM set_aside WHERE source = $1)
  SELECT "group", min(code) AS code, (array_agg(reason ORDER BY id DESC))[1] AS reason, count(*)::int AS records,
        min(received) AS first, max(received) AS last,
        (SELECT array_agg(left(e.raw, 4000)) FROM (SELECT raw FROM own AS x WHERE x."group" = own."group" ORDER BY id DESC LIMIT $2) AS e) AS examples,
        sum(count(*)) OVER ()::int AS total
   FROM own GROUP BY "group" ORDER BY count(*) DESC, "group" LIMIT $3`;

export const NEWEST_ASIDE = 'SELECT coalesce(max(id), 0) AS id FROM set_aside WHERE source = $1';

export const RECORDS_ASIDE = `SELECT id, raw, received, mark FROM set_aside
    WHERE source = $1 AND id > $2 AND id <= $3 AND ($4::text IS NULL OR ${GROUP} = $4) ORDER BY id LIMIT $5`;

export const DISCARD_GROUP = `DELETE FROM set_aside WHERE source = $1 AND ${GROUP} = $2`;

export const NOTE_DISCARDED =
  'INSERT INTO discarded_aside (source, "group", records, because, by) VALUES ($1, $2, $3, $4, $5)';
