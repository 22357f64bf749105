-- A day is made as a table of its own and then attached, which waits for nobody: making it as a partition at once would
-- wait for every hunt that reads events at that moment, and hold up all intake behind it.
CREATE OR REPLACE FUNCTION make_event_day(day date) RETURNS void LANGUAGE plpgsql AS $$
DECLARE
  name text := 'events_' || to_char(day, 'YYYYMMDD');
BEGIN
  IF to_regclass(name) IS NOT NULL THEN RETURN; END IF;
  -- One maker at a time: two senders may bring the first record of a day together.
  LOCK TABLE events IN SHARE UPDATE EXCLUSIVE MODE;
  IF to_regclass(name) IS NOT NULL THEN RETURN; END IF;
  EXECUTE format('CREATE TABLE %I (LIKE events INCLUDING DEFAULTS)', name);
  EXECUTE format('CREATE UNIQUE INDEX %I ON %I (id)', name || '_id', name);
  EXECUTE format('ALTER TABLE events ATTACH PARTITION %I FOR VALUES FROM (%L) TO (%L)',
    name, day::timestamp AT TIME ZONE 'UTC', (day + 1)::timestamp AT TIME ZONE 'UTC');
END $$;
