-- Pairs of the few batches that are not counted into the sightings yet, mostly none. Where there are none, nothing is
-- planned; where there are, their times stand in the statement, so that the other days are left alone before they are
-- even looked at. A view cannot do either, and planning a statement over each day that is held takes longer than
-- answering it. It sees what the statement sees that asks it (PostgreSQL manual, "Function Volatility Categories").
CREATE FUNCTION wick.uncounted_pairs()
RETURNS TABLE (pair sighting_pair, day date, one text, other text, first timestamptz, last timestamptz, events bigint)
LANGUAGE plpgsql STABLE PARALLEL RESTRICTED ROWS 100 AS $$
DECLARE
  ids bigint[];
  earliest timestamptz;
  latest timestamptz;
BEGIN
  SELECT array_agg(b.id), min(b.first_event), max(b.last_event) INTO ids, earliest, latest FROM batches b WHERE NOT b.rolled;
  -- Of batches without events there is nothing to find.
  IF earliest IS NULL THEN
    RETURN;
  END IF;
  RETURN QUERY EXECUTE format(
    'SELECT p.pair, ("time" AT TIME ZONE ''UTC'')::date, p.one, p.other, min("time"), max("time"), count(*)
       FROM events e CROSS JOIN LATERAL wick.pairs_of(e."user", e.src_ip, e.host, e.application, e.operation, e.dst_ip, e.dst_port,
              e.user_id, e.target_user, e.target_id, e.src_host, e.dst_host, e.country, e.account, e.resource, e.resource_type) AS p
      WHERE e.batch = ANY($1) AND e."time" >= %L::timestamptz AND e."time" <= %L::timestamptz
      GROUP BY 1, 2, 3, 4', earliest, latest) USING ids;
END
$$;

CREATE OR REPLACE VIEW wick.pair_days AS
  SELECT pair, day, one, other, first, last, events FROM sightings WHERE day > '-infinity'
  UNION ALL
  SELECT pair, day, one COLLATE "C", other COLLATE "C", first, last, events FROM wick.uncounted_pairs();

-- Names by how they begin, and by any three characters within them. Only what a name is, never when it was seen: that
-- changes all day, and would be written here too.
CREATE EXTENSION IF NOT EXISTS pg_trgm;
CREATE INDEX subjects_begins ON subjects (kind, lower(name));
CREATE INDEX subjects_within ON subjects USING gin (lower(name) gin_trgm_ops);
