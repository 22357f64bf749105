-- What is derived from events: counts by the hour, written with the events themselves, and first sightings of pairs,
-- rolled forward behind them.

-- Partial counts, one row a batch and key; a reader sums them. Times are those of the events, so that late ones
-- land in the hour they belong to.
CREATE TABLE event_hours (
  hour timestamptz NOT NULL,
  source text COLLATE "C" NOT NULL,
  kind event_kind NOT NULL,
  outcome event_outcome,
  events int NOT NULL
);
CREATE INDEX event_hours_hour ON event_hours USING brin (hour);

CREATE TABLE operation_hours (
  hour timestamptz NOT NULL,
  source text COLLATE "C" NOT NULL,
  operation text COLLATE "C",
  events int NOT NULL
);
CREATE INDEX operation_hours_hour ON operation_hours USING brin (hour);

-- How late records come, in half powers of two of seconds, for the lag of each source without reading events.
CREATE TABLE lag_hours (
  hour timestamptz NOT NULL,
  source text COLLATE "C" NOT NULL,
  -- The lag lies in [2^((step-1)/2), 2^(step/2)) seconds; step 0 is below one second.
  step smallint NOT NULL,
  events int NOT NULL
);
CREATE INDEX lag_hours_hour ON lag_hours USING brin (hour);

-- Events of each user by the day, like the counts by the hour: partial counts, one row a batch and key.
CREATE TABLE user_days (
  day timestamptz NOT NULL,
  source text COLLATE "C" NOT NULL,
  "user" text COLLATE "C",
  events int NOT NULL
);
CREATE INDEX user_days_day ON user_days USING brin (day);

-- Which values of an event are kept together; a number a row instead of its name.
CREATE TYPE sighting_pair AS ENUM ('user and address', 'user and host', 'user and application', 'user and operation', 'host and destination', 'address and port');

-- Sightings are kept by the day, so that "new in the last day against the 90 before" is answered from them whatever the
-- window: one row a day and pair. What was seen on days that are no longer held stays under the day -infinity, without
-- a count.
CREATE TABLE sightings (
  pair sighting_pair NOT NULL,
  day date NOT NULL,
  one text COLLATE "C" NOT NULL,
  other text COLLATE "C" NOT NULL,
  first timestamptz NOT NULL,
  last timestamptz NOT NULL,
  events bigint NOT NULL,
  PRIMARY KEY (pair, day, one, other)
);

-- The pairs of values whose sightings are kept, of one event; a pair only counts where both of its values are there.
CREATE FUNCTION wick.pairs_of("user" text, src_ip inet, host text, application text, operation text, dst_ip inet, dst_port int)
RETURNS TABLE (pair sighting_pair, one text, other text) LANGUAGE sql IMMUTABLE PARALLEL SAFE AS $$
  SELECT p.pair::sighting_pair, p.one, p.other FROM (VALUES
    ('user and address', "user", host(src_ip)),
    ('user and host', "user", host),
    ('user and application', "user", application),
    ('user and operation', "user", operation),
    ('host and destination', host(src_ip), host(dst_ip)),
    ('address and port', host(dst_ip), dst_port::text)) AS p(pair, one, other)
  WHERE p.one IS NOT NULL AND p.other IS NOT NULL
$$;

-- What hunts may be answered from instead of events: rows of a stretch of time and how many events they stand for. A
-- count may be negative; only sums mean anything. Events without a value are what is left of all of them.
CREATE VIEW wick.kind_counts AS
  SELECT hour AS "time", source, kind::text COLLATE "C" AS kind, outcome::text COLLATE "C" AS outcome, events FROM event_hours;

CREATE VIEW wick.operation_counts AS
  SELECT hour AS "time", source, operation, events FROM operation_hours;

CREATE VIEW wick.user_counts AS
  SELECT day AS "time", source, "user", events FROM user_days;

-- Every pair of every day up to this moment: what is rolled, and the few batches that are not. The times let whole
-- partitions be left out.
CREATE VIEW wick.pair_days AS
  SELECT pair, day, one, other, first, last, events FROM sightings WHERE day > '-infinity'
  UNION ALL
  SELECT p.pair, ("time" AT TIME ZONE 'UTC')::date, p.one COLLATE "C", p.other COLLATE "C", min("time"), max("time"), count(*)
    FROM events e CROSS JOIN LATERAL wick.pairs_of(e."user", e.src_ip, e.host, e.application, e.operation, e.dst_ip, e.dst_port) AS p
   WHERE e.batch = ANY(ARRAY(SELECT id FROM batches WHERE NOT rolled))
     AND e."time" >= (SELECT min(first_event) FROM batches WHERE NOT rolled)
     AND e."time" <= (SELECT max(last_event) FROM batches WHERE NOT rolled)
   GROUP BY 1, 2, 3, 4;
