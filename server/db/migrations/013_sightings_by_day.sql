-- Sightings are kept by the day, so that "new in the last day against the 90 before" is answered from them whatever the
-- window: one row a day and pair. What was seen on days that are no longer held stays under the day -infinity, without
-- a count.

-- The pairs of values whose sightings are kept, of one event; a pair only counts where both of its values are there.
CREATE FUNCTION wick.pairs_of("user" text, src_ip inet, host text, application text, operation text, dst_ip inet, dst_port int)
RETURNS TABLE (pair text, one text, other text) LANGUAGE sql IMMUTABLE PARALLEL SAFE AS $$
  SELECT p.pair, p.one, p.other FROM (VALUES
    ('user and address', "user", host(src_ip)),
    ('user and host', "user", host),
    ('user and application', "user", application),
    ('user and operation', "user", operation),
    ('host and destination', host(src_ip), host(dst_ip)),
    ('address and port', host(dst_ip), dst_port::text)) AS p(pair, one, other)
  WHERE p.one IS NOT NULL AND p.other IS NOT NULL
$$;

DROP TABLE sightings;
CREATE TABLE sightings (
  pair text COLLATE "C" NOT NULL,
  day date NOT NULL,
  one text COLLATE "C" NOT NULL,
  other text COLLATE "C" NOT NULL,
  first timestamptz NOT NULL,
  last timestamptz NOT NULL,
  events bigint NOT NULL,
  PRIMARY KEY (pair, day, one, other)
);
INSERT INTO sightings
  SELECT p.pair, ("time" AT TIME ZONE 'UTC')::date, p.one, p.other, min("time"), max("time"), count(*)
    FROM events e CROSS JOIN LATERAL wick.pairs_of(e."user", e.src_ip, e.host, e.application, e.operation, e.dst_ip, e.dst_port) AS p
   WHERE NOT EXISTS (SELECT 1 FROM batches b WHERE b.id = e.batch AND NOT b.rolled)
   GROUP BY 1, 2, 3, 4;

-- Every pair of every day up to this moment: what is rolled, and the few batches that are not. The times let whole
-- partitions be left out.
CREATE VIEW wick.pair_days AS
  SELECT pair, day, one, other, first, last, events FROM sightings WHERE day > '-infinity'
  UNION ALL
  SELECT p.pair COLLATE "C", ("time" AT TIME ZONE 'UTC')::date, p.one COLLATE "C", p.other COLLATE "C", min("time"), max("time"), count(*)
    FROM events e CROSS JOIN LATERAL wick.pairs_of(e."user", e.src_ip, e.host, e.application, e.operation, e.dst_ip, e.dst_port) AS p
   WHERE e.batch = ANY(ARRAY(SELECT id FROM batches WHERE NOT rolled))
     AND e."time" >= (SELECT min(first_event) FROM batches WHERE NOT rolled)
     AND e."time" <= (SELECT max(last_event) FROM batches WHERE NOT rolled)
   GROUP BY 1, 2, 3, 4;

-- Whoever rolls batches finds their events by this; batches come in order, so that it grows at its end only.
CREATE INDEX events_batch ON events (batch);

-- A zero has no sign: what is divided or multiplied to one below zero is 0, as in memory.
CREATE OR REPLACE FUNCTION wick.multiply(a float8, b float8) RETURNS float8 LANGUAGE sql IMMUTABLE PARALLEL SAFE RETURN
  CASE WHEN abs(a) < 1e150 AND abs(b) < 1e150 AND (abs(a) > 1e-150 OR a = 0) AND (abs(b) > 1e-150 OR b = 0) THEN a * b + 0
       ELSE wick.float(wick.decimal(a) * wick.decimal(b)) END;
CREATE OR REPLACE FUNCTION wick.divide(a float8, b float8) RETURNS float8 LANGUAGE sql IMMUTABLE PARALLEL SAFE RETURN
  CASE WHEN b = 0 THEN NULL
       WHEN abs(a) < 1e150 AND abs(b) < 1e150 AND (abs(a) > 1e-150 OR a = 0) AND abs(b) > 1e-150 THEN a / b + 0
       ELSE wick.float(wick.decimal(a) / wick.decimal(b)) END;
