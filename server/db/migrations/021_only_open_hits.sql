-- What completed a window is done with. A record is stored once, with its hits, so that none can be there twice.
DELETE FROM correlation_hits WHERE spent;
DROP INDEX correlation_hits_open;
ALTER TABLE correlation_hits
  DROP COLUMN spent,
  DROP CONSTRAINT correlation_hits_rule_document_group_key_event_id_referred_key;
CREATE INDEX correlation_hits_open ON correlation_hits (rule, document, group_key, "time");
-- The events of a correlation that completed, for what rests on it: [{"id", "time" in microseconds}]; else null.
ALTER TABLE correlation_hits ADD COLUMN events jsonb;
