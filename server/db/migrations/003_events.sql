-- Events: one row a record, in a partition a day of `time`. Columns hold what the recipe understood, `original`
-- all of the source's own fields, `raw` the record as it came.
CREATE TYPE event_kind AS ENUM ('signin', 'account', 'rights', 'acting', 'process', 'software', 'network', 'dns', 'web', 'cloud', 'object', 'query', 'finding', 'log', 'system');

CREATE TYPE event_outcome AS ENUM ('success', 'failure', 'blocked', 'allowed', 'unknown');

CREATE TYPE event_severity AS ENUM ('informational', 'low', 'medium', 'high', 'critical');

CREATE TABLE events (
  id uuid NOT NULL,
  "time" timestamptz NOT NULL,
  received timestamptz NOT NULL,
  source text COLLATE "C" NOT NULL,
  kind event_kind NOT NULL,
  operation text COLLATE "C",
  outcome event_outcome,
  reason text COLLATE "C",
  severity event_severity,
  event_code text COLLATE "C",
  status_code text COLLATE "C",
  message text COLLATE "C",
  finding text COLLATE "C",
  tags text[],
  "user" text COLLATE "C",
  user_id text COLLATE "C",
  user_type text COLLATE "C",
  acting_as text COLLATE "C",
  target_user text COLLATE "C",
  target_id text COLLATE "C",
  group_name text COLLATE "C",
  application text COLLATE "C",
  user_agent text COLLATE "C",
  session text COLLATE "C",
  src_ip inet,
  src_port int,
  src_host text COLLATE "C",
  country text COLLATE "C",
  city text COLLATE "C",
  lat float8,
  lon float8,
  asn bigint,
  as_name text COLLATE "C",
  via_ips inet[],
  os text COLLATE "C",
  host text COLLATE "C",
  dst_ip inet,
  dst_port int,
  dst_host text COLLATE "C",
  dst_country text COLLATE "C",
  protocol text COLLATE "C",
  interface text COLLATE "C",
  direction text COLLATE "C",
  bytes_in bigint,
  bytes_out bigint,
  packets bigint,
  records bigint,
  duration_ms float8,
  process text COLLATE "C",
  process_path text COLLATE "C",
  process_id text COLLATE "C",
  parent_process text COLLATE "C",
  command_line text COLLATE "C",
  elevation text COLLATE "C",
  logon_type text COLLATE "C",
  service text COLLATE "C",
  hashes text[],
  account text COLLATE "C",
  region text COLLATE "C",
  resource text COLLATE "C",
  resource_type text COLLATE "C",
  resource_group text COLLATE "C",
  changes jsonb,
  entity text COLLATE "C",
  query_text text COLLATE "C",
  original jsonb NOT NULL,
  raw text COLLATE "C" NOT NULL,
  recipe_version int NOT NULL,
  batch bigint NOT NULL,
  -- What a search for a text must look at besides the raw record: values that do not stand there as they are. Null for
  -- events stored before, which are searched value by value.
  search_extra text COLLATE "C"
) PARTITION BY RANGE ("time");
-- Whoever rolls batches finds their events by this; batches come in order, so that it grows at its end only.
CREATE INDEX events_batch ON events (batch);
CREATE INDEX events_host ON events (host, "time") WHERE host IS NOT NULL;
CREATE INDEX events_src_ip ON events (src_ip, "time") WHERE src_ip IS NOT NULL;
-- Small and never in the way of intake: finds the blocks of a stretch of time.
CREATE INDEX events_time ON events USING brin ("time");
-- Subjects are looked up by name over weeks; only rows that name one are indexed.
CREATE INDEX events_user ON events ("user", "time") WHERE "user" IS NOT NULL;

-- A day is made as a table of its own and then attached, which waits for nobody: making it as a partition at once would
-- wait for every hunt that reads events at that moment, and hold up all intake behind it.
CREATE FUNCTION make_event_day(day date) RETURNS void LANGUAGE plpgsql AS $$
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

-- Events as the hunt language sees them: its own types, one a column.
CREATE VIEW wick.events AS SELECT
  replace(id::text, '-', '') COLLATE "C" AS id, "time", received, source, kind::text COLLATE "C" AS kind,
  operation, outcome::text COLLATE "C" AS outcome, reason, severity::text COLLATE "C" AS severity, event_code,
  status_code, message, finding, tags, "user", user_id, user_type, acting_as, target_user, target_id,
  group_name, application, user_agent, session, src_ip, src_port::float8 AS src_port, src_host, country, city,
  lat, lon, asn::float8 AS asn, as_name, via_ips, os, host, dst_ip, dst_port::float8 AS dst_port, dst_host,
  dst_country, protocol, interface, direction, bytes_in::float8 AS bytes_in, bytes_out::float8 AS bytes_out,
  packets::float8 AS packets, records::float8 AS records, duration_ms, process, process_path, process_id,
  parent_process, command_line, elevation, logon_type, service, hashes, account, region, resource,
  resource_type, resource_group, changes, entity, query_text, original, raw, search_extra
FROM public.events;
