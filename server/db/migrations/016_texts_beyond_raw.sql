-- What a search for a text must look at besides the raw record: values that do not stand there as they are. Null for
-- events stored before, which are searched value by value.
ALTER TABLE events ADD COLUMN beyond text COLLATE "C";
CREATE OR REPLACE VIEW wick.events AS SELECT
  replace(id::text, '-', '') COLLATE "C" AS id, "time", received, source, kind::text COLLATE "C" AS kind,
  operation, outcome::text COLLATE "C" AS outcome, reason, severity::text COLLATE "C" AS severity, event_code,
  status_code, message, finding, tags, "user", user_id, user_type, acting_as, target_user, target_id,
  group_name, application, user_agent, session, src_ip, src_port::float8 AS src_port, src_host, country, city,
  lat, lon, asn::float8 AS asn, as_name, via_ips, os, host, dst_ip, dst_port::float8 AS dst_port, dst_host,
  dst_country, protocol, interface, direction, bytes_in::float8 AS bytes_in, bytes_out::float8 AS bytes_out,
  packets::float8 AS packets, records::float8 AS records, duration_ms, process, process_path, process_id,
  parent_process, command_line, elevation, logon_type, service, hashes, account, region, resource,
  resource_type, resource_group, changes, entity, query_text, original, raw, beyond
FROM public.events;
