-- The conditions of rules over stored events: values as rules see them.

-- A value as text tests see it; objects are no text.
CREATE FUNCTION wick.rule_text(v jsonb) RETURNS text LANGUAGE sql IMMUTABLE PARALLEL SAFE RETURN
  CASE WHEN jsonb_typeof(v) <> 'object' THEN wick.any_text(v) END;

-- The elements of a list, or the value itself, null too.
CREATE FUNCTION wick.elements(v jsonb) RETURNS SETOF jsonb LANGUAGE plpgsql IMMUTABLE PARALLEL SAFE ROWS 2 AS $$
BEGIN
  IF jsonb_typeof(v) = 'array' THEN
    RETURN QUERY SELECT NULLIF(e.value, 'null'::jsonb) FROM jsonb_array_elements(v) AS e(value);
  ELSE
    RETURN NEXT v;
  END IF;
END $$;

-- All texts of an event in which keywords are searched, objects and lists opened.
CREATE FUNCTION wick.leaves(message text, raw text, original jsonb) RETURNS SETOF text LANGUAGE sql IMMUTABLE PARALLEL SAFE AS $$
  SELECT message UNION ALL SELECT raw UNION ALL
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

-- A time as records write it: ISO 8601, or seconds, milliseconds or microseconds since 1970 by their size.
CREATE FUNCTION wick.any_time(v jsonb) RETURNS timestamptz LANGUAGE plpgsql IMMUTABLE PARALLEL SAFE AS $$
DECLARE
  t timestamptz := wick.instant(wick.any_string(v));
  n float8;
BEGIN
  IF t IS NOT NULL THEN RETURN t; END IF;
  n := wick.any_read_number(v);
  IF n IS NULL OR n < 0 OR n > 253402300799999999 THEN RETURN NULL; END IF;
  RETURN 'epoch'::timestamptz + (round((CASE WHEN n < 1e11 THEN n * 1e6 WHEN n < 1e14 THEN n * 1e3 ELSE n END)::numeric)::text || ' microseconds')::interval;
END $$;

-- A part of a time in UTC: minute, hour, day of the month, ISO week, month, year.
CREATE FUNCTION wick.time_part(v jsonb, part text) RETURNS jsonb LANGUAGE sql IMMUTABLE PARALLEL SAFE RETURN
  to_jsonb(date_part(part, wick.any_time(v) AT TIME ZONE 'UTC')::int);

-- Rules: draft until first switched on; what runs is the version that was switched on, whatever was kept since.
ALTER TABLE rules
  ADD COLUMN state text NOT NULL DEFAULT 'draft' CHECK (state IN ('draft', 'on', 'off')),
  ADD COLUMN live_version int,
  -- Read off the text whenever it is kept.
  ADD COLUMN type text NOT NULL DEFAULT 'detection' CHECK (type IN ('detection', 'correlation', 'hunt', 'filter')),
  ADD COLUMN does text NOT NULL DEFAULT 'alert' CHECK (does IN ('alert', 'mark', 'count')),
  ADD COLUMN owner text,
  -- The file it came in, which it goes out in again.
  ADD COLUMN file text,
  ADD COLUMN tags text[] NOT NULL DEFAULT '{}';
UPDATE rules SET state = CASE WHEN enabled THEN 'on' ELSE 'off' END, live_version = CASE WHEN enabled THEN version END;
ALTER TABLE rules DROP COLUMN enabled, ADD CHECK ((state = 'on') = (live_version IS NOT NULL));
ALTER TABLE rule_versions ADD COLUMN why text NOT NULL DEFAULT '';

-- Replays that were looked at, by what was replayed: only what was is switched on.
CREATE TABLE rule_replays (
  text_hash bytea PRIMARY KEY,
  at timestamptz NOT NULL DEFAULT now(),
  who text NOT NULL,
  since timestamptz NOT NULL,
  until timestamptz NOT NULL,
  complete boolean NOT NULL,
  matches int NOT NULL,
  alerts int NOT NULL
);

-- Within its quiet an alert gathers matches of its key, settled or not.
ALTER TABLE alerts ADD COLUMN key text COLLATE "C";
UPDATE alerts SET key = subject;
ALTER TABLE alerts ALTER COLUMN key SET NOT NULL;
DROP INDEX alerts_open;
CREATE UNIQUE INDEX alerts_open ON alerts (rule, document, key) WHERE state <> 'settled';
CREATE INDEX alerts_latest ON alerts (rule, document, key, first_event DESC);

CREATE INDEX alert_events_event ON alert_events (event_id);

-- Events that rules mark without an alert.
CREATE TABLE rule_marks (
  rule uuid NOT NULL REFERENCES rules (id) ON DELETE CASCADE,
  document int NOT NULL,
  event_id uuid NOT NULL,
  event_time timestamptz NOT NULL,
  subject text COLLATE "C" NOT NULL,
  PRIMARY KEY (event_id, rule, document)
);
CREATE INDEX rule_marks_latest ON rule_marks (rule, event_time DESC);

-- How often rules matched, by the day the events happened: partial counts, summed up by a job.
CREATE TABLE rule_days (
  day timestamptz NOT NULL,
  rule uuid NOT NULL REFERENCES rules (id) ON DELETE CASCADE,
  events int8 NOT NULL
);
CREATE INDEX rule_days_rule ON rule_days (rule, day);

-- What a correlation counts is known by the place of the rule among those it names.
ALTER TABLE correlation_hits ADD COLUMN added timestamptz NOT NULL DEFAULT now();

-- Hunts that are rules: when they are due, and what they found.
CREATE TABLE hunt_rules (
  rule uuid NOT NULL REFERENCES rules (id) ON DELETE CASCADE,
  document int NOT NULL,
  due timestamptz NOT NULL,
  last_value float8,
  PRIMARY KEY (rule, document)
);
CREATE TABLE hunt_runs (
  id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
  rule uuid NOT NULL REFERENCES rules (id) ON DELETE CASCADE,
  document int NOT NULL,
  version int NOT NULL,
  due timestamptz NOT NULL,
  began timestamptz NOT NULL,
  milliseconds int NOT NULL,
  measured float8,
  told int NOT NULL,
  failure text
);
CREATE INDEX hunt_runs_latest ON hunt_runs (rule, due DESC);
-- Rows that were told already; windows of one rule overlap.
CREATE TABLE hunt_rows_told (
  rule uuid NOT NULL REFERENCES rules (id) ON DELETE CASCADE,
  document int NOT NULL,
  row_hash bytea NOT NULL,
  told timestamptz NOT NULL,
  PRIMARY KEY (rule, document, row_hash)
);

-- What a log source of the open format means here.
CREATE TABLE log_sources (
  id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
  category text,
  product text,
  service text,
  kinds text[] NOT NULL DEFAULT '{}',
  sources text[] NOT NULL DEFAULT '{}',
  fields jsonb NOT NULL DEFAULT '{}',
  note text NOT NULL DEFAULT '',
  updated timestamptz NOT NULL DEFAULT now(),
  CHECK (num_nonnulls(category, product, service) > 0)
);
CREATE UNIQUE INDEX log_sources_once ON log_sources (coalesce(category, ''), coalesce(product, ''), coalesce(service, ''), kinds, sources);
INSERT INTO log_sources (category, kinds, fields, note) VALUES
  ('authentication', '{signin}', '{"User": "user", "TargetUserName": "user", "IpAddress": "src_ip", "SourceIp": "src_ip", "WorkstationName": "src_host", "LogonType": "logon_type", "ComputerName": "host"}', 'sign-ins, whoever tells of them'),
  ('process_creation', '{process}', '{"Image": "process_path", "CommandLine": "command_line", "ParentImage": "parent_process", "User": "user", "ProcessId": "process_id", "Hashes": "hashes", "ComputerName": "host", "IntegrityLevel": "elevation"}', 'programs that start'),
  ('network_connection', '{network}', '{"SourceIp": "src_ip", "SourcePort": "src_port", "DestinationIp": "dst_ip", "DestinationPort": "dst_port", "DestinationHostname": "dst_host", "Protocol": "protocol", "Image": "process_path", "User": "user"}', 'flows between hosts'),
  ('firewall', '{network}', '{"src_ip": "src_ip", "dst_ip": "dst_ip", "src_port": "src_port", "dst_port": "dst_port", "action": "outcome"}', 'flows and what firewalls decide'),
  ('dns', '{dns}', '{"query": "dst_host", "QueryName": "dst_host", "answer": "dst_ip"}', 'names asked for'),
  ('dns_query', '{dns}', '{"QueryName": "dst_host", "Image": "process_path"}', 'names asked for by programs'),
  ('webserver', '{web}', '{"c-ip": "src_ip", "cs-uri-query": "resource", "cs-uri-stem": "resource", "cs-user-agent": "user_agent", "sc-status": "status_code", "cs-method": "operation"}', 'requests to web applications'),
  ('proxy', '{web}', '{"c-uri": "resource", "c-useragent": "user_agent", "sc-status": "status_code", "cs-username": "user", "cs-host": "dst_host"}', 'requests by way of a proxy'),
  ('antivirus', '{finding}', '{"Signature": "finding", "Filename": "resource", "ComputerName": "host"}', 'what protection programs found'),
  ('cloud', '{cloud,rights,account}', '{"eventName": "operation", "sourceIPAddress": "src_ip", "userName": "user", "resourceType": "resource_type"}', 'changes to clouds'),
  ('database', '{query}', '{"query": "query_text", "user": "user"}', 'reads from applications and databases');
