-- Rules: one text may hold several documents of the open Sigma format, which stand and fall together.
CREATE TABLE rules (
  id uuid PRIMARY KEY DEFAULT gen_random_uuid(),
  title text NOT NULL,
  level text NOT NULL CHECK (level IN ('informational', 'low', 'medium', 'high', 'critical')),
  text text NOT NULL,
  version int NOT NULL DEFAULT 1,
  created timestamptz NOT NULL DEFAULT now(),
  updated timestamptz NOT NULL DEFAULT now(),
  -- A draft until first switched on; what runs is the version that was switched on, whatever was kept since.
  state text NOT NULL DEFAULT 'draft' CHECK (state IN ('draft', 'on', 'off')),
  live_version int,
  -- Read off the text whenever it is kept.
  type text NOT NULL DEFAULT 'detection' CHECK (type IN ('detection', 'correlation', 'hunt', 'filter')),
  on_match text NOT NULL DEFAULT 'alert' CHECK (on_match IN ('alert', 'mark', 'count')),
  owner text,
  -- The file it came in, which it goes out in again.
  file text,
  tags text[] NOT NULL DEFAULT '{}',
  -- Why a rule was switched off by itself: it failed while matching. Null for all others.
  suspended jsonb,
  CHECK ((state = 'on') = (live_version IS NOT NULL))
);

CREATE TABLE rule_versions (
  rule uuid NOT NULL REFERENCES rules (id) ON DELETE CASCADE,
  version int NOT NULL,
  text text NOT NULL,
  author text NOT NULL,
  created timestamptz NOT NULL DEFAULT now(),
  why text NOT NULL DEFAULT '',
  PRIMARY KEY (rule, version)
);

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

-- How often rules matched, by the day the events happened: partial counts, summed up by a job.
CREATE TABLE rule_days (
  day timestamptz NOT NULL,
  rule uuid NOT NULL REFERENCES rules (id) ON DELETE CASCADE,
  events bigint NOT NULL
);
CREATE INDEX rule_days_rule ON rule_days (rule, day);

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

-- Matches that a correlation still counts, by group. A hit is spent once it has completed a window.
CREATE TABLE correlation_hits (
  seq bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
  rule uuid NOT NULL REFERENCES rules (id) ON DELETE CASCADE,
  -- The correlation's document within the text.
  document int NOT NULL,
  group_key text COLLATE "C" NOT NULL,
  "time" timestamptz NOT NULL,
  event_id uuid NOT NULL,
  -- Correlations reckon with which rule matched and with a value of the event; an event may meet several of their rules.
  referred int NOT NULL DEFAULT 0,
  value text,
  -- What a correlation counts is known by the place of the rule among those it names.
  added timestamptz NOT NULL DEFAULT now(),
  -- The events of a correlation that completed, for what rests on it: [{"id", "time" in microseconds}]; else null.
  events jsonb
);
CREATE INDEX correlation_hits_open ON correlation_hits (rule, document, group_key, "time");

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
CREATE UNIQUE INDEX log_sources_once ON log_sources (COALESCE(category, ''), COALESCE(product, ''), COALESCE(service, ''), kinds, sources);

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
