-- Subjects: every name that was ever seen of one, and what a person says about which names belong together.

-- The pairs of values whose sightings are kept, of one event; a pair only counts where both of its values are there. A
-- path of a web request is no resource of its own: only what lies in an account, or says what sort of resource it is.
CREATE FUNCTION wick.pairs_of("user" text, src_ip inet, host text, application text, operation text, dst_ip inet, dst_port int,
  user_id text, target_user text, target_id text, src_host text, dst_host text, country text, account text, resource text, resource_type text)
RETURNS TABLE (pair sighting_pair, one text, other text) LANGUAGE sql IMMUTABLE PARALLEL SAFE AS $$
  SELECT p.pair, p.one, p.other FROM (VALUES
    ('user and address'::sighting_pair, "user", host(src_ip)),
    ('user and host'::sighting_pair, "user", host),
    ('user and application'::sighting_pair, "user", application),
    ('user and operation'::sighting_pair, "user", operation),
    ('host and destination'::sighting_pair, host(src_ip), host(dst_ip)),
    ('address and port'::sighting_pair, host(dst_ip), dst_port::text),
    ('user and country'::sighting_pair, "user", country),
    ('user and account'::sighting_pair, "user", account),
    ('user and resource'::sighting_pair, "user", CASE WHEN account IS NOT NULL OR resource_type IS NOT NULL THEN resource END),
    ('user and id'::sighting_pair, "user", user_id),
    ('user and id'::sighting_pair, target_user, target_id),
    ('host and address'::sighting_pair, src_host, host(src_ip)),
    ('host and address'::sighting_pair, dst_host, host(dst_ip)),
    ('host and operation'::sighting_pair, host, operation),
    ('address and operation'::sighting_pair, host(src_ip), operation),
    ('account and operation'::sighting_pair, account, operation),
    ('resource and operation'::sighting_pair, CASE WHEN account IS NOT NULL OR resource_type IS NOT NULL THEN resource END, operation),
    ('application and operation'::sighting_pair, application, operation),
    ('target and operation'::sighting_pair, target_user, operation)) AS p(pair, one, other)
  WHERE p.one IS NOT NULL AND p.other IS NOT NULL
$$;

CREATE OR REPLACE VIEW wick.pair_days AS
  SELECT pair, day, one, other, first, last, events FROM sightings WHERE day > '-infinity'
  UNION ALL
  SELECT p.pair, ("time" AT TIME ZONE 'UTC')::date, p.one COLLATE "C", p.other COLLATE "C", min("time"), max("time"), count(*)
    FROM events e CROSS JOIN LATERAL wick.pairs_of(e."user", e.src_ip, e.host, e.application, e.operation, e.dst_ip, e.dst_port,
           e.user_id, e.target_user, e.target_id, e.src_host, e.dst_host, e.country, e.account, e.resource, e.resource_type) AS p
   WHERE e.batch = ANY(ARRAY(SELECT id FROM batches WHERE NOT rolled))
     AND e."time" >= (SELECT min(first_event) FROM batches WHERE NOT rolled)
     AND e."time" <= (SELECT max(last_event) FROM batches WHERE NOT rolled)
   GROUP BY 1, 2, 3, 4;
DROP FUNCTION wick.pairs_of(text, inet, text, text, text, inet, int);

-- A pair by what stands on its other side: who else came from this address, which host had it.
CREATE INDEX sightings_other ON sightings (pair, other);

CREATE TYPE subject_kind AS ENUM ('user', 'host', 'address', 'account', 'resource', 'application');

-- Every name that events gave a subject, with when it was first and last seen; kept after the events are let go.
CREATE TABLE subjects (
  kind subject_kind NOT NULL,
  name text COLLATE "C" NOT NULL,
  first timestamptz NOT NULL,
  last timestamptz NOT NULL,
  PRIMARY KEY (kind, name)
) WITH (fillfactor = 70);

-- What a person joined or split, with the reason; the newest word on two names holds.
CREATE TABLE subject_joins (
  kind subject_kind NOT NULL,
  name text COLLATE "C" NOT NULL,
  other text COLLATE "C" NOT NULL,
  joined boolean NOT NULL,
  reason text NOT NULL CHECK (reason <> ''),
  by text NOT NULL REFERENCES users (name),
  at timestamptz NOT NULL DEFAULT now(),
  PRIMARY KEY (kind, name, other)
);
CREATE INDEX subject_joins_other ON subject_joins (kind, other);

ALTER TABLE changes DROP CONSTRAINT changes_kind_check,
  ADD CONSTRAINT changes_kind_check CHECK (kind IN ('rule', 'log source', 'list', 'destination', 'source', 'person', 'subject'));

-- Events that came before this are counted once; rolled ones only, the others will be.
INSERT INTO sightings (pair, day, one, other, first, last, events)
  SELECT p.pair, ("time" AT TIME ZONE 'UTC')::date, p.one COLLATE "C", p.other COLLATE "C", min("time"), max("time"), count(*)
    FROM events e CROSS JOIN LATERAL wick.pairs_of(e."user", e.src_ip, e.host, e.application, e.operation, e.dst_ip, e.dst_port,
           e.user_id, e.target_user, e.target_id, e.src_host, e.dst_host, e.country, e.account, e.resource, e.resource_type) AS p
   WHERE NOT EXISTS (SELECT 1 FROM batches b WHERE b.id = e.batch AND NOT b.rolled)
   GROUP BY 1, 2, 3, 4
  ON CONFLICT DO NOTHING;
INSERT INTO subjects (kind, name, first, last)
  SELECT kind, name, min(first), max(last) FROM (
    SELECT (CASE pair WHEN 'host and address' THEN 'host' WHEN 'host and operation' THEN 'host'
              WHEN 'address and operation' THEN 'address' WHEN 'address and port' THEN 'address' WHEN 'host and destination' THEN 'address'
              WHEN 'account and operation' THEN 'account' WHEN 'resource and operation' THEN 'resource'
              WHEN 'application and operation' THEN 'application' ELSE 'user' END)::subject_kind AS kind, one AS name, first, last FROM sightings
    UNION ALL
    SELECT (CASE pair WHEN 'user and host' THEN 'host' ELSE 'address' END)::subject_kind, other, first, last FROM sightings
     WHERE pair IN ('user and host', 'user and address', 'host and destination', 'host and address')) AS named
   GROUP BY 1, 2;

-- Subjects are looked for in every role. Few events have these columns, so that intake hardly feels it.
CREATE INDEX events_target_user ON events (target_user, "time") WHERE target_user IS NOT NULL;
CREATE INDEX events_acting_as ON events (acting_as, "time") WHERE acting_as IS NOT NULL;
CREATE INDEX events_user_id ON events (user_id, "time") WHERE user_id IS NOT NULL;
CREATE INDEX events_target_id ON events (target_id, "time") WHERE target_id IS NOT NULL;
CREATE INDEX events_src_host ON events (src_host, "time") WHERE src_host IS NOT NULL;
CREATE INDEX events_dst_host ON events (dst_host, "time") WHERE dst_host IS NOT NULL;
CREATE INDEX events_dst_ip ON events (dst_ip, "time") WHERE dst_ip IS NOT NULL;
CREATE INDEX events_via_ips ON events USING gin (via_ips) WHERE via_ips IS NOT NULL;
CREATE INDEX events_resource ON events (resource, "time") WHERE resource IS NOT NULL AND account IS NOT NULL;
