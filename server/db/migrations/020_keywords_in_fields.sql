-- Keywords are searched in the message and all fields; the line as it came in also has their names and its own signs.
DROP FUNCTION wick.leaves(text, text, jsonb);
CREATE FUNCTION wick.leaves(message text, original jsonb) RETURNS SETOF text LANGUAGE sql IMMUTABLE PARALLEL SAFE AS $$
  SELECT message UNION ALL
  (WITH RECURSIVE parts(v) AS (
     SELECT original
     UNION ALL
     SELECT inner_part.value FROM parts AS p CROSS JOIN LATERAL (
       SELECT e.value FROM jsonb_each(CASE jsonb_typeof(p.v) WHEN 'object' THEN p.v ELSE '{}' END) AS e
       UNION ALL
       SELECT a.value FROM jsonb_array_elements(CASE jsonb_typeof(p.v) WHEN 'array' THEN p.v ELSE '[]' END) AS a(value)
     ) AS inner_part)
   SELECT wick.any_text(v) FROM parts WHERE jsonb_typeof(v) NOT IN ('object', 'array'))
$$;
