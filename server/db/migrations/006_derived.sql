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
  operation text COLLATE "C" NOT NULL,
  events int NOT NULL
);
CREATE INDEX operation_hours_hour ON operation_hours USING brin (hour);

-- Who was seen with what: a pair of values of an event, when first, when last, and how often.
CREATE TABLE sightings (
  pair text COLLATE "C" NOT NULL,
  one text COLLATE "C" NOT NULL,
  other text COLLATE "C" NOT NULL,
  first timestamptz NOT NULL,
  last timestamptz NOT NULL,
  events bigint NOT NULL,
  PRIMARY KEY (pair, one, other)
);
CREATE INDEX sightings_other ON sightings (pair, other);

-- A batch is counted in the sightings once it is rolled; until then its events are looked at directly. The stretch of
-- time its events lie in finds them without an index on the batch.
ALTER TABLE batches
  ADD COLUMN first_event timestamptz,
  ADD COLUMN last_event timestamptz,
  ADD COLUMN rolled boolean NOT NULL DEFAULT false;
CREATE INDEX batches_unrolled ON batches (id) WHERE NOT rolled;

-- How late records come, in half powers of two of seconds, for the lag of each source without reading events.
CREATE TABLE lag_hours (
  hour timestamptz NOT NULL,
  source text COLLATE "C" NOT NULL,
  -- The lag lies in [2^((step-1)/2), 2^(step/2)) seconds; step 0 is below one second.
  step smallint NOT NULL,
  events int NOT NULL
);
CREATE INDEX lag_hours_hour ON lag_hours USING brin (hour);

-- How long a source's events are kept, and since which day they still are; null keeps all of them.
ALTER TABLE sources
  ADD COLUMN retention_days int CHECK (retention_days BETWEEN 1 AND 3650),
  ADD COLUMN held_from date;

-- Whose syslog messages belong to the source; null when it takes none.
ALTER TABLE sources ADD COLUMN syslog jsonb;

-- Records set aside that somebody threw away, and why; the records themselves are gone.
CREATE TABLE discarded_aside (
  id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
  source text NOT NULL REFERENCES sources (name),
  "group" text NOT NULL,
  records int NOT NULL,
  because text NOT NULL,
  by text NOT NULL,
  at timestamptz NOT NULL DEFAULT now()
);
CREATE INDEX set_aside_group ON set_aside (source, code, split_part(reason, ':', 1));

-- Lists: what they are for, and rows that hold only until a moment.
ALTER TABLE lists ADD COLUMN description text NOT NULL DEFAULT '';
ALTER TABLE list_rows ADD COLUMN expires timestamptz;
CREATE OR REPLACE VIEW wick.list_keys AS
  SELECT list, folded, network, pattern FROM list_rows WHERE expires IS NULL OR expires > now();
