-- Correlations reckon with which rule matched and with a value of the event; an event may meet several of their rules.
ALTER TABLE correlation_hits ADD COLUMN referred int NOT NULL DEFAULT 0, ADD COLUMN value text;
ALTER TABLE correlation_hits DROP CONSTRAINT correlation_hits_rule_document_group_key_event_id_key;
ALTER TABLE correlation_hits ADD UNIQUE (rule, document, group_key, event_id, referred);
